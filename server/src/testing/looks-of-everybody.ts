import { crew, draft, gullhaven, plainMessage, plainClose, plainNext, plainParts, plainRule, toGroup } from './outside-changes.ts';

/* What a look at a change answers to administrator, head, helper and auditor of Gullhaven, head of another branch, learner, nobody. */

export type Who = 'administrator' | 'head' | 'helper' | 'auditor' | 'other' | 'learner' | 'nobody';
export const everybody: Who[] = ['administrator', 'head', 'helper', 'auditor', 'other', 'learner', 'nobody'];
export type Expected = Record<Who, number>;
/** The auditor of Gullhaven is answered like its helper, unless said otherwise. */
export const is = (
  administrator: number,
  head: number,
  helper: number,
  other: number,
  learner: number,
  nobody: number,
  auditor = helper,
): Expected => ({ administrator, head, helper, auditor, other, learner, nobody });
/** There is no such thing. */
export const nowhere = is(404, 404, 404, 404, 404, 401);
/** Read by everybody who leads there. */
export const inBranch = is(200, 200, 200, 404, 404, 401);

const change = (kind: object) => ({ body: { change: kind } });
export const rename = { kind: 'edit-group', groupId: gullhaven, values: { name: 'Gullhaven harbour' } };
export type Ids = Record<string, number>;

export const accounts = {
  own: (ids: Ids) => ({ params: { personId: ids['wholly'] } }),
  shared: (ids: Ids) => ({ params: { personId: ids['inTwo'] } }),
  powerful: (ids: Ids) => ({ params: { personId: ids['leading'] } }),
  elsewhere: (ids: Ids) => ({ params: { personId: ids['elsewhere'] } }),
};
/** Acts on the account itself: open to a leader only for people wholly in their branch, and who have no power. */
export const accountAct = (done: number) => [
  { given: accounts.own, expected: is(done, done, 404, 404, 404, 401) },
  { given: accounts.shared, expected: is(done, 404, 404, 404, 404, 401) },
  { given: accounts.powerful, expected: is(done, 404, 404, 404, 404, 401) },
  { given: accounts.elsewhere, expected: is(done, 404, 404, done, 404, 401) },
];

export const looks: { given: (ids: Ids) => object; expected: Expected }[] = [
  { given: () => change(rename), expected: is(200, 200, 404, 404, 404, 401) },
  {
    given: ({ member }) => change({ kind: 'remove-members', groupId: gullhaven, personIds: [member] }),
    expected: is(200, 200, 404, 404, 404, 401),
  },
  {
    given: ({ elsewhere }) => change({ kind: 'add-members', groupId: gullhaven, personIds: [elsewhere], firstDay: null, lastDay: null }),
    expected: is(200, 404, 404, 404, 404, 401),
  },
  {
    given: () =>
      change({
        kind: 'grant-access',
        end: [],
        begin: [{ ...draft, groupId: gullhaven, effect: 'block' }],
      }),
    expected: is(200, 200, 404, 404, 404, 401),
  },
  {
    given: () =>
      change({
        kind: 'bring-in-roster',
        into: gullhaven,
        fileName: null,
        hasGroupColumn: false,
        dateOrder: 'dayFirst',
        rows: [{ row: 1, cells: { fullName: 'New Person' } }],
      }),
    expected: is(200, 200, 404, 404, 404, 401),
  },
  ...[
    { kind: 'invite-people', groupIds: [crew], people: [{ givenName: 'A', familyName: 'B', email: 'a.b@new.example' }], words: null },
    { kind: 'send-message', groupId: gullhaven, audience: toGroup(crew), values: plainMessage },
    { kind: 'set-rule', ruleId: null, groupId: gullhaven, values: plainRule(crew), state: 'those it fits too' },
    { kind: 'end-rule', ruleId: 1 },
    plainClose(crew),
    plainNext(crew, gullhaven, [7], 'Shore crew, next'),
    { kind: 'set-split', splitId: 2, groupId: 4, name: 'Winter drill', parts: plainParts([]) },
    { kind: 'start-split', splitId: 2, until: '2999-01-01T00:00:00Z' },
    { kind: 'stop-split', splitId: 2 },
    { kind: 'delete-split', splitId: 2 },
    { kind: 'show-members', groupId: gullhaven, kinds: ['new handout'] },
    { kind: 'set-reminder', groupId: gullhaven, courseId: null, occasion: 'after due', values: { days: 6, text: null, alsoPassed: true } },
    { kind: 'edit-letter', groupId: gullhaven, letter: 'let in', text: { subject: 'You are in', body: 'Come in.' } },
    { kind: 'set-letter-look', groupId: gullhaven, look: { senderName: 'Gullhaven crew', logoId: null } },
    { kind: 'edit-code', codeId: 1, values: { paused: true }, replace: false },
    { kind: 'delete-code', codeId: 1 },
  ].map((kind) => ({ given: () => change(kind), expected: is(200, 200, 404, 404, 404, 401) })),
  {
    given: ({ request }) => change({ kind: 'decide-requests', requestIds: [request], decision: 'let in', asPerson: null, word: null }),
    expected: is(200, 200, 200, 404, 404, 401, 404),
  },
  {
    given: ({ courseRequest }) =>
      change({ kind: 'decide-course-requests', requestIds: [courseRequest], decision: 'open', lastDay: null, word: null }),
    expected: is(200, 200, 404, 404, 404, 401),
  },
  ...(
    [
      [{ leader: null, opens: [], seats: { how: 'none' }, code: true }, is(200, 200, 404, 404, 404, 401)],
      // A licence is the administrator's to make.
      [{ leader: null, opens: [{ courseId: 1 }], seats: { how: 'own', seats: 5 }, code: false }, is(200, 404, 404, 404, 404, 401)],
    ] as const
  ).map(([parts, expected]) => ({
    given: () => change({ kind: 'make-client', parentId: gullhaven, name: 'Ferry crew', firstDay: null, lastDay: null, ...parts }),
    expected,
  })),
  { given: ({ foreignChange }) => change({ kind: 'undo', changeId: foreignChange }), expected: is(200, 404, 404, 404, 404, 401) },
  ...[
    { kind: 'make-groups', parentId: gullhaven, groups: [{ name: 'New crew', within: null, like: null, leaders: [] }] },
    { kind: 'move-groups', groupIds: [crew], intoId: gullhaven },
    { kind: 'set-group-state', groupIds: [crew], state: 'archived' },
    { kind: 'delete-groups', groupIds: [crew], subgroups: 'go too' },
    { kind: 'set-leaders', groupId: crew, begin: [], end: [] },
  ].map((kind) => ({ given: () => change(kind), expected: is(200, 200, 404, 404, 404, 401) })),
  // A leader's own top hangs on what is not theirs; a place outside does not exist for them.
  {
    given: () => change({ kind: 'delete-groups', groupIds: [gullhaven], subgroups: 'go too' }),
    expected: is(200, 404, 404, 404, 404, 401),
  },
  { given: () => change({ kind: 'move-groups', groupIds: [crew], intoId: 2 }), expected: is(200, 404, 404, 404, 404, 401) },
  {
    given: ({ member }) => change({ kind: 'move-members', fromId: gullhaven, intoId: crew, personIds: [member] }),
    expected: is(200, 200, 404, 404, 404, 401),
  },
  {
    given: ({ member }) => change({ kind: 'tag-people', groupId: gullhaven, personIds: [member], add: ['Night shift'], remove: [] }),
    expected: is(200, 200, 404, 404, 404, 401),
  },
  { given: () => change({ kind: 'edit-tag', tagId: 1, name: 'Another', colour: null }), expected: is(200, 404, 404, 404, 404, 401) },
  { given: () => change({ kind: 'merge-tags', tagId: 1, gone: [2] }), expected: is(200, 404, 404, 404, 404, 401) },
  ...(
    [
      ['wholly', is(200, 200, 404, 404, 404, 401)],
      ['inTwo', is(200, 404, 404, 404, 404, 401)],
      ['leading', is(200, 404, 404, 404, 404, 401)],
      ['elsewhere', is(200, 404, 404, 200, 404, 401)],
    ] as const
  ).flatMap(([whose, expected]) => [
    { given: (ids: Ids) => change({ kind: 'edit-person', personId: ids[whose], values: { givenName: 'Other' } }), expected },
    {
      given: (ids: Ids) => change({ kind: 'set-person-state', personIds: [ids[whose]], state: 'paused', firstDay: null, lastDay: null }),
      expected,
    },
    { given: (ids: Ids) => change({ kind: 'erase-person', personId: ids[whose] }), expected },
  ]),
  {
    given: ({ wholly, second }) => change({ kind: 'merge-people', personId: wholly, goneId: second }),
    expected: is(200, 200, 404, 404, 404, 401),
  },
  {
    given: ({ wholly, inTwo }) => change({ kind: 'merge-people', personId: wholly, goneId: inTwo }),
    expected: is(200, 404, 404, 404, 404, 401),
  },
  {
    given: ({ leading }) =>
      change({ kind: 'hand-over', fromId: leading, lines: [{ what: 'leads', groupId: gullhaven, toId: null }], cover: null }),
    expected: is(200, 200, 404, 404, 404, 401),
  },
  { given: () => change({ kind: 'take-back-invitation', invitationId: 999_999 }), expected: is(404, 404, 404, 404, 404, 401) },
  ...(
    [
      [null, is(200, 404, 404, 404, 404, 401)],
      [gullhaven, is(200, 200, 404, 404, 404, 401)],
    ] as const
  ).map(([homeId, expected]) => ({
    given: () => change({ kind: 'make-courses', courses: [{ name: 'Ropes', units: [{ name: 'One', activities: ['Read'] }] }], homeId }),
    expected,
  })),
  ...(
    [
      ['wholly', is(200, 200, 404, 404, 404, 401)],
      ['inTwo', is(200, 200, 404, 404, 404, 401)],
      ['elsewhere', is(200, 404, 404, 404, 404, 401)],
    ] as const
  ).map(([whose, expected]) => ({
    given: (who: Ids) =>
      change({
        kind: 'except-people',
        groupId: gullhaven,
        personIds: [who[whose]],
        courseId: 1,
        exception: { what: 'block', firstDay: null, lastDay: null },
      }),
    expected,
  })),
  {
    given: () => change({ kind: 'take-feed', feedId: 1, take: ['rope-1'], archive: [] }),
    expected: is(200, 404, 404, 404, 404, 401),
  },
  {
    given: () => change({ kind: 'edit-course', courseId: 1, values: { terms: 'everyone' } }),
    expected: is(200, 404, 404, 404, 404, 401),
  },
  {
    given: () => change({ kind: 'make-course-set', name: 'Ropes', holds: { courses: [1], sets: [] } }),
    expected: is(200, 404, 404, 404, 404, 401),
  },
  {
    given: () => change({ kind: 'edit-course-set', courseSetId: 1, add: { courses: [7], sets: [] }, takeOut: { courses: [], sets: [] } }),
    expected: is(200, 404, 404, 404, 404, 401),
  },
  { given: () => change({ kind: 'delete-course-set', courseSetId: 1 }), expected: is(200, 404, 404, 404, 404, 401) },
  {
    given: () =>
      change({
        kind: 'make-licence',
        values: {
          name: 'Few',
          seats: 1,
          about: { course: 1 },
          homeId: gullhaven,
          firstDay: null,
          lastDay: null,
          onLeaving: 'comes back',
          byHand: false,
        },
      }),
    expected: is(200, 404, 404, 404, 404, 401),
  },
  { given: () => change({ kind: 'edit-licence', licenceId: 1, values: { seats: 1 } }), expected: is(200, 404, 404, 404, 404, 401) },
  {
    given: () => change({ kind: 'limit-seats', licenceId: 1, limits: [{ groupId: gullhaven, most: 1 }] }),
    expected: is(404, 404, 404, 404, 404, 401),
  },
  // The licence pays for partner crews alone.
  ...[gullhaven, 38].map((groupId) => ({
    given: () => change({ kind: 'take-back-seats', licenceId: 1, groupId, personIds: null, idleDays: 1 }),
    expected: is(groupId === 38 ? 200 : 404, 404, 404, 404, 404, 401),
  })),
  {
    given: ({ member }) => change({ kind: 'arrange-line', licenceId: 1, groupId: 38, personIds: [member ?? 0], how: 'first' }),
    expected: is(200, 404, 404, 404, 404, 401),
  },
  {
    given: ({ member }) => change({ kind: 'give-up-places', licenceId: 1, groupId: 38, personIds: [member ?? 0] }),
    expected: is(200, 404, 404, 404, 404, 401),
  },
  {
    given: ({ member }) => change({ kind: 'move-seats', licenceId: 1, toLicenceId: 2, groupId: 38, personIds: [member ?? 0] }),
    expected: is(200, 404, 404, 404, 404, 401),
  },
  {
    given: ({ member }) => change({ kind: 'give-seats', licenceId: 1, groupId: 38, personIds: [member ?? 0] }),
    expected: is(200, 404, 404, 404, 404, 401),
  },
];
