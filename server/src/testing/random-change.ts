import type { Change, ChangeKind, Exception } from '@gate-roster/contract';
import { draft } from './outside-changes.ts';
import { plainCode } from '../entry/plain-code.ts';
import { courseMakers, courseOf, type Maker } from './random-course-change.ts';
import { messageMakers } from './random-message-change.ts';
import { splitMakers } from './random-split-change.ts';
import { workMakers } from './random-work-change.ts';
import type { World } from './world-now.ts';

/* Random changes to tree, people, leaders, tags, access and seats, for tests over the whole change path. */

/** Samples of every kind but undo, which undoes the others. A kind without one does not compile. */
const makers: { [K in Exclude<ChangeKind, 'undo'>]: Maker<K>[] } = {
  'make-groups': [
    (pick, w, n) => ({
      kind: 'make-groups',
      parentId: pick(w.parents),
      groups: [
        {
          name: `New ${n}`,
          within: null,
          like: pick(w.groups),
          leaders: [{ who: { personId: pick(w.people) }, powers: ['seeProgress'], firstDay: null, lastDay: null }],
        },
        { name: `Below ${n}`, within: 0, like: null, leaders: [] },
      ],
    }),
  ],
  'make-client': [
    (pick, w, n) => ({
      kind: 'make-client',
      parentId: pick(w.parents),
      name: `Client ${n}`,
      firstDay: null,
      lastDay: n % 3 === 0 ? '2999-01-01' : null,
      leader:
        n % 2 === 0
          ? {
              who: { givenName: 'Ola', familyName: `Nr ${n}`, email: `ola.${n}@client.example` },
              powers: ['managePeople'],
              firstDay: null,
              lastDay: null,
            }
          : null,
      opens: [{ courseId: courseOf(w, n).id }, ...(n % 5 === 0 ? [{ courseSetId: pick(w.sets) }] : [])],
      seats: n % 4 === 0 ? { how: 'own', seats: n } : { how: 'none' },
      code: n % 3 === 0,
    }),
  ],
  'move-groups': [(pick, w) => ({ kind: 'move-groups', groupIds: [pick(w.groups), pick(w.groups)], intoId: pick(w.parents) })],
  'delete-groups': [
    (pick, w) => ({ kind: 'delete-groups', groupIds: [pick(w.groups)], subgroups: 'move up' }),
    (pick, w) => ({ kind: 'delete-groups', groupIds: [pick(w.groups)], subgroups: 'go too' }),
  ],
  'set-group-state': [
    (pick, w) => ({ kind: 'set-group-state', groupIds: [pick(w.groups)], state: 'archived' }),
    (pick, w) => ({ kind: 'set-group-state', groupIds: w.groups, state: 'active' }),
  ],
  'edit-group': [
    (pick, w, n) => ({
      kind: 'edit-group',
      groupId: pick(w.groups),
      values: { name: `Renamed ${n}`, lastDay: n % 2 ? '2020-01-01' : null },
    }),
  ],
  'add-members': [
    (pick, w) => ({
      kind: 'add-members',
      groupId: pick(w.groups),
      personIds: [...new Set([pick(w.people), pick(w.people)])],
      firstDay: null,
      lastDay: null,
    }),
  ],
  'move-members': [
    (pick, w) => ({ kind: 'move-members', fromId: pick(w.groups), intoId: pick(w.groups), personIds: w.people.slice(0, 50) }),
  ],
  'tag-people': [
    (pick, w, n) => ({
      kind: 'tag-people',
      groupId: 1,
      personIds: [pick(w.people), pick(w.people)],
      add: [`Tag ${n}`],
      remove: [pick(w.tags)],
    }),
  ],
  'merge-tags': [(pick, w) => ({ kind: 'merge-tags', tagId: pick(w.tags), gone: [pick(w.tags)] })],
  'set-person-state': [
    (pick, w) => ({ kind: 'set-person-state', personIds: [pick(w.people)], state: 'paused', firstDay: null, lastDay: null }),
    (pick, w, n) => ({
      kind: 'set-person-state',
      personIds: [...new Set([pick(w.people), pick(w.people)])],
      state: n % 2 ? 'active' : 'ended',
      firstDay: null,
      lastDay: null,
    }),
  ],
  'merge-people': [(pick, w) => ({ kind: 'merge-people', personId: pick(w.people), goneId: pick(w.people) })],
  'edit-person': [(pick, w) => ({ kind: 'edit-person', personId: pick(w.people), values: { givenName: 'Other', email: null } })],
  'make-code': [(pick, w) => ({ kind: 'make-code', values: { ...plainCode, groupIds: [pick(w.groups), pick(w.groups)] } })],
  'edit-code': [
    (pick, w, n) => ({
      kind: 'edit-code',
      codeId: pick(w.codes),
      values: { paused: n % 2 === 0, note: `Note ${n}` },
      replace: n % 3 === 0,
    }),
  ],
  'delete-code': [(pick, w) => ({ kind: 'delete-code', codeId: pick(w.codes) })],
  'decide-course-requests': [
    (pick, w, n) => ({
      kind: 'decide-course-requests',
      requestIds: [pick(w.courseRequests)],
      decision: n % 3 === 0 ? 'turn away' : 'open',
      lastDay: n % 2 === 0 ? '2999-01-01' : null,
      word: null,
    }),
  ],
  'decide-requests': [
    (pick, w, n) => ({
      kind: 'decide-requests',
      requestIds: [pick(w.requests)],
      decision: n % 3 === 0 ? 'turn away' : 'let in',
      asPerson: n % 5 === 0 ? pick(w.people) : null,
      word: null,
    }),
  ],
  'invite-people': [
    (pick, w, n) => ({
      kind: 'invite-people',
      groupIds: [pick(w.groups)],
      people: [{ givenName: 'Random', familyName: `Guest${n}`, email: `guest${n}@random.example` }],
      words: null,
    }),
  ],
  // Of a day that has passed: it acts at once or never, so that nothing happens between two looks.
  'set-rule': [
    (pick, w, n) => {
      const groupId = pick(w.groups);
      return {
        kind: 'set-rule',
        ruleId: n % 3 === 0 ? pick(w.rules) : null,
        groupId,
        values: {
          name: `Rule ${n}`,
          when: { when: 'day', day: '2020-01-01' },
          filter: [],
          asksFirst: n % 7 === 0,
          then: n % 2 === 0 ? [{ act: 'tag', name: `ruled ${n % 3}` }] : [{ act: 'put in', groupId: pick(w.groups) }],
        },
        state: n % 5 === 0 ? 'off' : 'those it fits too',
      };
    },
  ],
  'answer-rule': [(pick, w, n) => ({ kind: 'answer-rule', ruleId: pick(w.rules), personIds: w.asked, acts: n % 2 === 0 })],
  'end-rule': [(pick, w) => ({ kind: 'end-rule', ruleId: pick(w.rules) })],
  'bring-in-roster': [
    (pick, w, n) => ({
      kind: 'bring-in-roster',
      into: pick(w.groups),
      fileName: 'random.csv',
      hasGroupColumn: true,
      dateOrder: 'dayFirst',
      newGroups: [`Filed ${n} > Below`],
      rows: [
        { row: 2, cells: { fullName: `Filed ${n}`, idNumber: `F-${n}`, group: `Filed ${n} > Below`, tags: `Tag ${n}` } },
        { row: 3, cells: { fullName: `Leading ${n}`, email: `leading${n}@random.example`, group: `Filed ${n}`, role: 'leader' } },
      ],
    }),
  ],
  'grant-access': [
    (pick, w) => ({
      kind: 'grant-access',
      end: [],
      begin: [
        {
          groupId: pick(w.groups),
          courseId: 1 + (pick(w.people) % 12),
          effect: pick(w.people) % 3 === 0 ? 'block' : 'open',
          withSubgroups: true,
          firm: false,
          firstDay: null,
          lastDay: null,
          units: null,
          due: null,
        },
      ],
    }),
    (pick, w, n) => ({
      kind: 'grant-access',
      end: [],
      begin: [
        {
          groupId: pick(w.groups),
          courseId: 1 + (n % 12),
          effect: 'open',
          withSubgroups: true,
          firm: false,
          firstDay: null,
          lastDay: null,
          units: null,
          due: { at: { days: 3 }, leastDays: null, firm: false },
          payers: { licences: [], others: true },
        },
      ],
    }),
    (pick, w, n) => ({
      kind: 'grant-access',
      end: [],
      begin: [{ ...draft, groupId: pick(w.groups), courseId: null, courseSetId: pick(w.sets), effect: n % 3 === 0 ? 'block' : 'open' }],
    }),
    (pick, w) => ({ kind: 'grant-access', end: [pick(w.grants), pick(w.grants)], begin: [] }),
    // In part: who has finished what is left is done by it.
    (pick, w, n) => ({
      kind: 'grant-access',
      end: [],
      begin: [
        {
          groupId: pick(w.groups),
          courseId: 1 + (n % 12),
          effect: 'open',
          withSubgroups: n % 4 > 0,
          firm: false,
          firstDay: null,
          lastDay: null,
          units: [w.firstUnits[n % 12] ?? 0],
          due: null,
        },
      ],
    }),
  ],
  'except-people': (
    [
      () => ({ what: 'open', firstDay: null, lastDay: null, units: null, due: { at: { days: 20 }, leastDays: null, firm: false } }),
      () => ({ what: 'block', firstDay: null, lastDay: null }),
      () => ({ what: 'more time', day: '2030-01-01' }),
      () => ({ what: 'exempt', reason: 'Away at sea' }),
      () => ({ what: 'done elsewhere', day: '2026-01-05', reason: null, proof: null }),
      () => ({ what: 'none' }),
    ] as const satisfies readonly (() => Exception)[]
  ).map((exception): Maker<'except-people'> => (pick, w, n) => ({
    kind: 'except-people',
    groupId: 1,
    personIds: [...new Set([pick(w.people), pick(w.people), pick(w.people)])],
    courseId: 1 + (n % 12),
    exception: exception(),
  })),
  'make-licence': [
    (pick, w, n) => ({
      kind: 'make-licence',
      values: {
        name: `Licence ${n}`,
        seats: n % 40,
        about: { courseSet: 1 + (n % 3) },
        homeId: pick(w.parents),
        firstDay: null,
        lastDay: null,
        onLeaving: (['comes back', 'comes back if not begun', 'stays used'] as const)[n % 3] ?? 'comes back',
        byHand: n % 4 === 0,
      },
    }),
  ],
  'edit-licence': [
    (pick, w, n) => ({ kind: 'edit-licence', licenceId: pick(w.licences), values: { seats: n % 150, byHand: n % 5 === 0 } }),
  ],
  'take-back-seats': [
    (pick, w, n) => ({
      kind: 'take-back-seats',
      licenceId: pick(w.licences),
      groupId: pick(w.parents),
      personIds: null,
      idleDays: 1 + (n % 60),
    }),
  ],
  'arrange-line': [
    (pick, w, n) => ({
      kind: 'arrange-line',
      licenceId: pick(w.licences),
      groupId: pick(w.parents),
      personIds: w.inLine.slice(-2),
      how: n % 2 === 0 ? 'first' : 'swap',
    }),
  ],
  'give-up-places': [
    (pick, w) => ({ kind: 'give-up-places', licenceId: pick(w.licences), groupId: pick(w.parents), personIds: w.inLine.slice(0, 2) }),
  ],
  'move-seats': [
    (pick, w) => ({
      kind: 'move-seats',
      licenceId: pick(w.licences),
      toLicenceId: pick(w.licences),
      groupId: pick(w.parents),
      personIds: w.seated,
    }),
  ],
  'give-seats': [
    (pick, w) => ({ kind: 'give-seats', licenceId: pick(w.licences), groupId: pick(w.parents), personIds: [...w.inLine, ...w.gaveUp] }),
  ],
  'order-seats': [
    (pick, w, n) => ({ kind: 'order-seats', licenceId: pick(w.licences), groupId: pick(w.groups), seats: 1 + (n % 20), word: null }),
  ],
  'order-renewal': [(pick, w) => ({ kind: 'order-renewal', licenceId: pick(w.licences), word: null })],
  'decide-order': [(pick, w, n) => ({ kind: 'decide-order', orderId: pick(w.openOrders), approve: n % 2 === 0, word: null })],
  'give-up-order': [(pick, w) => ({ kind: 'give-up-order', orderId: pick(w.openOrders) })],
  // Of an order that is not paid there is nothing to credit; what a credit does is measured beside payments.
  'credit-order': [(pick, w) => ({ kind: 'credit-order', orderId: pick(w.openOrders), seats: 1, word: null })],
  'limit-seats': [
    (pick, w, n) => ({ kind: 'limit-seats', licenceId: pick(w.licences), limits: [{ groupId: pick(w.groups), most: n % 30 }] }),
  ],
  'remove-members': [(pick, w) => ({ kind: 'remove-members', groupId: pick(w.groups), personIds: w.people.slice(0, 60) })],
  'erase-person': [(pick, w) => ({ kind: 'erase-person', personId: pick(w.people) })],
  'edit-tag': [(pick, w, n) => ({ kind: 'edit-tag', tagId: pick(w.tags), name: `Tag renamed ${n}`, colour: n % 2 ? 'kelp' : null })],
  'set-leaders': [
    (pick, w) => ({
      kind: 'set-leaders',
      groupId: pick(w.groups),
      begin: [{ who: { personId: pick(w.people) }, powers: ['seeProgress', 'decideEntry'], firstDay: null, lastDay: null }],
      end: [],
    }),
  ],
  'hand-over': [
    (pick, w) => {
      const at = w.leads[pick(w.leads.map((_, index) => index))];
      return {
        kind: 'hand-over',
        fromId: at?.person ?? 0,
        lines: [{ what: 'leads', groupId: at?.group ?? 0, toId: pick(w.people) }],
        cover: null,
      };
    },
  ],
  'take-back-invitation': [(pick, w) => ({ kind: 'take-back-invitation', invitationId: pick(w.invitations) })],
  'send-invitations-again': [(pick, w) => ({ kind: 'send-invitations-again', invitationIds: [pick(w.invitations)] })],
  ...courseMakers,
  ...workMakers,
  ...messageMakers,
  ...splitMakers,
};
const all: readonly Maker<ChangeKind>[] = Object.values(makers).flat() as Maker<ChangeKind>[];

/** One of all kinds of change, about things that are there. */
export function randomChange(draw: () => number, world: World, { withErase = false } = {}): Change | undefined {
  const pick = (list: readonly number[]): number => list[draw() % list.length] ?? 0;
  const change = all[draw() % all.length]?.(pick, world, draw());
  return change?.kind === 'erase-person' && !withErase ? undefined : change;
}
