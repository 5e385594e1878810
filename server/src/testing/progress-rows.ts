import { randomUUID } from 'node:crypto';
import { type Expected, type Ids, inBranch, is } from './looks-of-everybody.ts';
import { gullhaven } from './outside-changes.ts';

const tenDaysAgo = new Date(Date.now() - 10 * 86_400_000).toISOString().slice(0, 10);

/** Routes of progress as everybody. */
export const progressRows = {
  progress: [{ given: () => ({ params: { groupId: gullhaven } }), expected: inBranch }],
  progressAbove: [{ given: () => ({ params: { groupId: gullhaven } }), expected: inBranch }],
  lookedAtProgress: [{ given: () => ({}), expected: is(200, 200, 200, 200, 404, 401) }],
  progressBetween: [{ given: () => ({ params: { groupId: gullhaven }, query: { from: tenDaysAgo } }), expected: inBranch }],
  historySince: [{ given: () => ({}), expected: { ...inBranch, other: 200 } }],
  progressNews: [{ given: () => ({ params: { groupId: gullhaven } }), expected: inBranch }],
  progressLearners: [{ given: () => ({ params: { groupId: gullhaven } }), expected: inBranch }],
  progressInside: [{ given: () => ({ params: { groupId: gullhaven } }), expected: inBranch }],
  progressJson: [
    { given: () => ({ params: { groupId: gullhaven }, query: { view: 'learners' } }), expected: is(200, 200, 404, 404, 404, 401, 200) },
  ],
  progressPdf: [
    { given: () => ({ params: { groupId: gullhaven }, query: { view: 'groups' } }), expected: is(200, 200, 404, 404, 404, 401, 200) },
  ],
  startFile: [
    {
      given: () => ({
        params: { groupId: gullhaven },
        body: { file: 'progressLearnersFile', query: { subgroups: 'yes' }, requestId: randomUUID() },
      }),
      expected: is(200, 200, 404, 404, 404, 401, 200),
    },
    {
      given: () => ({
        params: { groupId: gullhaven },
        body: { file: 'progressLearnersFile', query: { day: 'yesterday' }, requestId: randomUUID() },
      }),
      expected: is(400, 400, 404, 404, 404, 401, 400),
    },
  ],
  madeFile: [{ given: () => ({ params: { jobId: randomUUID() } }), expected: is(404, 404, 404, 404, 404, 401) }],
  progressInsideFile: [{ given: () => ({ params: { groupId: gullhaven } }), expected: is(200, 200, 404, 404, 404, 401, 200) }],
  progressLearnersFile: [{ given: () => ({ params: { groupId: gullhaven } }), expected: is(200, 200, 404, 404, 404, 401, 200) }],
  progressSideBySide: [
    { given: () => ({ params: { groupId: gullhaven }, query: { groups: '7,8' } }), expected: inBranch },
    { given: () => ({ params: { groupId: gullhaven }, query: { groups: '7,12' } }), expected: is(200, 404, 404, 404, 404, 401) },
  ],
  progressWorkbook: [
    { given: () => ({ params: { groupId: gullhaven }, query: { view: 'groups' } }), expected: is(200, 200, 404, 404, 404, 401, 200) },
  ],
  progressFile: [{ given: () => ({ params: { groupId: gullhaven } }), expected: is(200, 200, 404, 404, 404, 401, 200) }],
  progressPeople: [{ given: () => ({ params: { groupId: gullhaven }, query: { courseId: 1 } }), expected: inBranch }],
} satisfies Record<string, { given: (ids: Ids) => object; expected: Expected }[]>;
