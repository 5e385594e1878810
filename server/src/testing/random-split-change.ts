import type { Maker } from './random-course-change.ts';
import { plainClose, plainNext, plainParts } from './outside-changes.ts';

/** Random changes to splits and periods; some splits run for two hours. */
export const splitMakers = {
  'set-split': [
    (pick, w, n) => {
      const { id, group } = w.splits[n % Math.max(1, w.splits.length)] ?? { id: null, group: pick(w.groups) };
      const isNew = n % 2 === 0 || id === null;
      const people = [...new Set([pick(w.people), pick(w.people), pick(w.people), pick(w.people)])];
      return {
        kind: 'set-split',
        splitId: isNew ? null : id,
        groupId: isNew ? pick(w.groups) : group,
        name: `Split ${n}`,
        parts: plainParts(people),
      };
    },
  ],
  'start-split': [
    (_, w, n) => ({
      kind: 'start-split',
      splitId: w.splits[n % w.splits.length]?.id ?? 0,
      until: new Date(Date.now() + 7_200_000).toISOString(),
    }),
  ],
  'stop-split': [(_, w, n) => ({ kind: 'stop-split', splitId: w.splits[n % w.splits.length]?.id ?? 0 })],
  'delete-split': [(_, w, n) => ({ kind: 'delete-split', splitId: w.splits[n % w.splits.length]?.id ?? 0 })],
  'close-period': [
    (pick, w, n) => {
      const groupId = pick(w.groups);
      return {
        ...plainClose(groupId),
        lastDay: n % 3 === 0 ? '2020-01-01' : n % 3 === 1 ? '2999-01-01' : null,
        seats: n % 6 === 0,
        people: n % 2 === 0 ? { do: 'end' } : n % 5 === 0 ? { do: 'move', intoId: pick(w.groups) } : { do: 'stay' },
      };
    },
  ],
  'make-next-period': [
    (pick, w, n) => {
      const groupId = pick(w.groups);
      const branch = w.branches.find(({ id }) => id === groupId)?.groups ?? [];
      const next = plainNext(groupId, pick(w.parents), branch, `Next ${n}`);
      // Some leave, and some go to the copy of the group above theirs.
      const moves = next.moves.map((move, index) =>
        index % 3 === 2 ? { ...move, toCopyOf: null } : index % 3 === 1 ? { ...move, toCopyOf: groupId } : move,
      );
      return { ...next, shift: n % 2 === 0 ? { years: 1 } : { days: 30 }, moves };
    },
  ],
} satisfies { [K in 'set-split' | 'start-split' | 'stop-split' | 'delete-split' | 'close-period' | 'make-next-period']: Maker<K>[] };
