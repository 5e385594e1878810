import { type Change, type ChangeKind, plainValues, type RuleValues, type SplitPart } from '@gate-roster/contract';
import { plainCode } from '../entry/plain-code.ts';
import { execute, type Site } from './site.ts';

export const gullhaven = 3;
export const crew = 7;
/** A group of another branch. */
export const elsewhere = 12;

/** A statement that opens a course without more. */
export const draft = {
  courseId: 1,
  effect: 'open' as const,
  withSubgroups: true,
  firm: false,
  firstDay: null,
  lastDay: null,
  units: null,
  due: null,
};
export const plainMessage = { ...plainValues, title: 'Wind warning', body: 'No boats out on Thursday.' };
export const toGroup = (groupId: number) => ({ to: 'groups' as const, groupIds: [groupId], withSubgroups: true });

/** A change of each kind that reaches outside the branch of Gullhaven’s head. A kind without one does not compile. */
/** A rule that tags whoever comes into a group. */
export const plainRule = (groupId: number): RuleValues => ({
  name: 'Who comes is new',
  when: { when: 'enters', groupId },
  filter: [],
  then: [{ act: 'tag', name: 'new' }],
});

export const plainCertificate = {
  courseId: 1,
  courseSetId: null,
  title: 'Done',
  words: '{name} has finished {course}.',
  logoId: null,
  showsScore: true,
  byItself: false,
};

/** Parts of a split that leave one course and take another off. */
export const plainParts = (personIds: number[]): SplitPart[] =>
  [1, 2].map((key) => ({
    key,
    name: `Part ${key}`,
    leaderId: null,
    isOn: true,
    allowance: { mode: key === 1 ? ('only' as const) : ('none' as const), courses: [{ courseId: key, units: null }] },
    link: null,
    words: '',
    personIds: personIds.filter((_, index) => index % 2 === key - 1),
  }));

export const plainClose = (groupId: number) => ({
  kind: 'close-period' as const,
  groupId,
  lastDay: '2020-01-01',
  codes: true,
  invitations: true,
  asking: { word: null },
  rules: true,
  reminders: true,
  splits: true,
  seats: false,
  people: { do: 'stay' as const },
});
/** Everybody goes to the copy of the group they are in. */
export const plainNext = (groupId: number, parentId: number, branch: readonly number[], name = 'Next') => ({
  kind: 'make-next-period' as const,
  groupId,
  parentId,
  name,
  shift: { years: 1 },
  copies: { courses: true, leaders: true, codes: true, limits: true },
  moves: branch.map((fromId) => ({ fromId, toCopyOf: fromId })),
});

type Outside = (
  ids: { certificate: string } & Record<
    'person' | 'split' | 'code' | 'change' | 'order' | 'request' | 'courseRequest' | 'licence' | 'message' | 'rule' | 'version',
    number
  >,
) => Change;
export const outside: Record<ChangeKind, Outside> = {
  'bring-in-roster': () => ({
    kind: 'bring-in-roster',
    into: elsewhere,
    fileName: null,
    hasGroupColumn: false,
    dateOrder: 'dayFirst',
    rows: [{ row: 1, cells: { fullName: 'A B' } }],
  }),
  'grant-access': () => ({ kind: 'grant-access', begin: [{ ...draft, groupId: elsewhere }], end: [] }),
  'except-people': ({ person }) => ({
    kind: 'except-people',
    groupId: crew,
    personIds: [person],
    courseId: 1,
    exception: { what: 'exempt', reason: null },
  }),
  'decide-course-requests': ({ courseRequest }) => ({
    kind: 'decide-course-requests',
    requestIds: [courseRequest],
    decision: 'open',
    lastDay: null,
    word: null,
  }),
  'add-members': ({ person }) => ({ kind: 'add-members', groupId: crew, personIds: [person], firstDay: null, lastDay: null }),
  'remove-members': ({ person }) => ({ kind: 'remove-members', groupId: crew, personIds: [person] }),
  'move-members': ({ person }) => ({ kind: 'move-members', fromId: crew, intoId: elsewhere, personIds: [person] }),
  'make-groups': () => ({ kind: 'make-groups', parentId: crew, groups: [{ name: 'Copy', within: null, like: elsewhere, leaders: [] }] }),
  'make-client': () => ({
    kind: 'make-client',
    parentId: elsewhere,
    name: 'Mine',
    firstDay: null,
    lastDay: null,
    leader: null,
    opens: [],
    seats: { how: 'none' },
    code: true,
  }),
  'edit-group': () => ({ kind: 'edit-group', groupId: elsewhere, values: { name: 'Mine' } }),
  'move-groups': () => ({ kind: 'move-groups', groupIds: [elsewhere], intoId: gullhaven }),
  'set-group-state': () => ({ kind: 'set-group-state', groupIds: [elsewhere], state: 'archived' }),
  'delete-groups': () => ({ kind: 'delete-groups', groupIds: [elsewhere], subgroups: 'go too' }),
  'tag-people': ({ person }) => ({ kind: 'tag-people', personIds: [person], groupId: crew, add: ['Mine'], remove: [] }),
  'edit-tag': () => ({ kind: 'edit-tag', tagId: 1, name: 'Mine', colour: null }),
  'merge-tags': () => ({ kind: 'merge-tags', tagId: 1, gone: [2] }),
  'edit-person': ({ person }) => ({ kind: 'edit-person', personId: person, values: { email: 'mine@x.example' } }),
  'set-person-state': ({ person }) => ({ kind: 'set-person-state', personIds: [person], state: 'ended', firstDay: null, lastDay: null }),
  'merge-people': ({ person }) => ({ kind: 'merge-people', personId: person, goneId: person + 1 }),
  'erase-person': ({ person }) => ({ kind: 'erase-person', personId: person }),
  'set-leaders': () => ({ kind: 'set-leaders', groupId: elsewhere, begin: [], end: [] }),
  'hand-over': ({ person }) => ({
    kind: 'hand-over',
    fromId: person,
    lines: [{ what: 'leads', groupId: elsewhere, toId: null }],
    cover: null,
  }),
  'take-back-invitation': () => ({ kind: 'take-back-invitation', invitationId: 999_999 }),
  'invite-people': () => ({
    kind: 'invite-people',
    groupIds: [elsewhere],
    people: [{ givenName: 'A', familyName: 'B', email: 'a@b.example' }],
    words: null,
  }),
  'send-invitations-again': () => ({ kind: 'send-invitations-again', invitationIds: [999_999] }),
  'make-code': () => ({ kind: 'make-code', values: { ...plainCode, groupIds: [crew, elsewhere] } }),
  'edit-code': ({ code }) => ({ kind: 'edit-code', codeId: code, values: { paused: true }, replace: false }),
  'delete-code': ({ code }) => ({ kind: 'delete-code', codeId: code }),
  'decide-requests': ({ request }) => ({ kind: 'decide-requests', requestIds: [request], decision: 'let in', asPerson: null, word: null }),
  'show-members': () => ({ kind: 'show-members', groupId: elsewhere, kinds: ['new course'] }),
  'set-reminder': () => ({
    kind: 'set-reminder',
    groupId: elsewhere,
    courseId: null,
    occasion: 'before due',
    values: { days: 5, text: null, alsoPassed: true },
  }),
  'send-message': () => ({ kind: 'send-message', groupId: elsewhere, audience: toGroup(elsewhere), values: plainMessage }),
  'withdraw-message': ({ message }) => ({ kind: 'withdraw-message', messageId: message }),
  'set-rule': () => ({ kind: 'set-rule', ruleId: null, groupId: elsewhere, values: plainRule(elsewhere), state: 'those it fits too' }),
  'close-period': () => plainClose(elsewhere),
  'make-next-period': () => plainNext(elsewhere, crew, [elsewhere]),
  'set-split': ({ person }) => ({ kind: 'set-split', splitId: null, groupId: elsewhere, name: 'Mine', parts: plainParts([person]) }),
  'start-split': ({ split }) => ({ kind: 'start-split', splitId: split, until: new Date(Date.now() + 3_600_000).toISOString() }),
  'stop-split': ({ split }) => ({ kind: 'stop-split', splitId: split }),
  'delete-split': ({ split }) => ({ kind: 'delete-split', splitId: split }),
  'answer-rule': ({ rule, person }) => ({ kind: 'answer-rule', ruleId: rule, personIds: [person], acts: true }),
  'end-rule': ({ rule }) => ({ kind: 'end-rule', ruleId: rule }),
  'mark-work': ({ version }) => ({
    kind: 'mark-work',
    marks: [{ versionId: version, verdict: 'sent back', score: null, points: null, skillIds: [], comment: 'Mine', corrects: null }],
  }),
  'set-certificate': () => ({ kind: 'set-certificate', formId: null, groupId: elsewhere, values: plainCertificate }),
  'end-certificate': () => ({ kind: 'end-certificate', formId: 2 }),
  'give-certificates': ({ person }) => ({ kind: 'give-certificates', formId: 1, personIds: [person] }),
  'withdraw-certificates': ({ certificate }) => ({ kind: 'withdraw-certificates', numbers: [certificate], replace: false }),
  'set-skills': () => ({ kind: 'set-skills', courseId: 1, skills: [{ id: null, name: 'Mine' }] }),
  'set-letter-look': () => ({ kind: 'set-letter-look', groupId: elsewhere, look: { senderName: 'Mine', logoId: null } }),
  'edit-letter': () => ({ kind: 'edit-letter', groupId: elsewhere, letter: 'let in', text: { subject: 'A', body: 'B' } }),
  'make-courses': () => ({
    kind: 'make-courses',
    courses: [{ name: 'Mine', units: [{ name: 'U', activities: ['A'] }] }],
    homeId: elsewhere,
  }),
  'edit-course': () => ({ kind: 'edit-course', courseId: 1, values: { terms: 'everyone' } }),
  'take-feed': () => ({ kind: 'take-feed', feedId: 1, take: ['rope-1'], archive: [] }),
  'make-course-set': () => ({ kind: 'make-course-set', name: 'Mine', holds: { courses: [1], sets: [] } }),
  'edit-course-set': () => ({
    kind: 'edit-course-set',
    courseSetId: 1,
    add: { courses: [7], sets: [] },
    takeOut: { courses: [], sets: [] },
  }),
  'delete-course-set': () => ({ kind: 'delete-course-set', courseSetId: 1 }),
  'make-licence': () => ({
    kind: 'make-licence',
    values: {
      name: 'L',
      seats: 1,
      about: { course: 1 },
      homeId: crew,
      firstDay: null,
      lastDay: null,
      onLeaving: 'comes back',
      byHand: false,
    },
  }),
  'edit-licence': ({ licence }) => ({ kind: 'edit-licence', licenceId: licence, values: { seats: 999 } }),
  'limit-seats': ({ licence }) => ({ kind: 'limit-seats', licenceId: licence, limits: [{ groupId: elsewhere, most: 1 }] }),
  'take-back-seats': ({ licence }) => ({ kind: 'take-back-seats', licenceId: licence, groupId: elsewhere, personIds: null, idleDays: 1 }),
  'arrange-line': ({ licence, person }) => ({
    kind: 'arrange-line',
    licenceId: licence,
    groupId: elsewhere,
    personIds: [person],
    how: 'first',
  }),
  'give-up-places': ({ licence, person }) => ({ kind: 'give-up-places', licenceId: licence, groupId: elsewhere, personIds: [person] }),
  'move-seats': ({ licence, person }) => ({
    kind: 'move-seats',
    licenceId: licence,
    toLicenceId: 2,
    groupId: elsewhere,
    personIds: [person],
  }),
  'give-seats': ({ licence, person }) => ({ kind: 'give-seats', licenceId: licence, groupId: elsewhere, personIds: [person] }),
  'order-seats': ({ licence }) => ({ kind: 'order-seats', licenceId: licence, groupId: elsewhere, seats: 1, word: null }),
  'order-renewal': ({ licence }) => ({ kind: 'order-renewal', licenceId: licence, word: null }),
  'decide-order': ({ order }) => ({ kind: 'decide-order', orderId: order, approve: true, word: null }),
  'give-up-order': ({ order }) => ({ kind: 'give-up-order', orderId: order }),
  'credit-order': ({ order }) => ({ kind: 'credit-order', orderId: order, seats: 1, word: null }),
  undo: ({ change }) => ({ kind: 'undo', changeId: change }),
};

/** Somebody and something outside the branch of Gullhaven’s head. */
export async function idsOutside(site: Site) {
  const [foreign] = await execute<{ number: string }>(site.databaseUrl, `select number from certificate where form_id = 2 limit 1`);
  const one = async (text: string): Promise<number> => Number((await execute<{ id: string }>(site.databaseUrl, text))[0]?.id ?? 0);
  const within = `(select group_id from group_branch where ancestor_id = ${gullhaven})`;
  return {
    person: await one(`select min(person_id) as id from membership where group_id = ${elsewhere} and until_at is null`),
    code: await one(`select code_id as id from join_code_version where until_at is null and group_id not in ${within} limit 1`),
    request: await one(`select row_id as id from join_request where until_at is null and group_id not in ${within} limit 1`),
    courseRequest: await one(
      `select row_id as id from course_request r where until_at is null and not exists (select 1 from membership m where m.person_id = r.person_id and m.until_at is null and m.group_id in ${within}) limit 1`,
    ),
    certificate: foreign?.number ?? 'AAAACCCCDDDD',
    licence: 1,
    order: await one(`select min(id) as id from seat_order where group_id not in ${within}`),
    split: await one(`select split_id as id from split_version where until_at is null and group_id not in ${within} limit 1`),
    rule: await one(`select rule_id as id from rule_version where until_at is null and group_id not in ${within} limit 1`),
    version: await one(
      `select v.id from work_version v join work w on w.id = v.work_id join enrolment e on e.id = w.enrolment_id where v.state = 'waiting' and not exists (select 1 from membership m where m.person_id = e.person_id and m.until_at is null and m.group_id in ${within}) limit 1`,
    ),
    message: await one(`select message_id as id from message_version where until_at is null and group_id not in ${within} limit 1`),
  };
}
