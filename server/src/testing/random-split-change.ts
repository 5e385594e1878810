import type { Maker } from './random-course-change.ts';
import { plainParts } from './outside-changes.ts';

/** Random changes to splits; some run for two hours. */
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
} satisfies { [K in 'set-split' | 'start-split' | 'stop-split' | 'delete-split']: Maker<K>[] };
