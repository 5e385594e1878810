import { randomUUID } from 'node:crypto';
import { certificateRows } from './certificate-rows.ts';
import { orderRows } from './order-rows.ts';
import { viewRows } from './view-rows.ts';
import { type Expected, type Ids, inBranch, is, nowhere } from './looks-of-everybody.ts';
import { gullhaven } from './outside-changes.ts';

const inScope = () => ({ params: { groupId: gullhaven } });
/** Read and marked by who holds the power to mark: the head, not the helper. */
const byMarkers = is(200, 200, 404, 404, 404, 401);
const ownWork = { words: 'Mine', link: null, skillIds: [], handIn: false };

/** Routes of work that is handed in, and of certificates, as everybody. */
export const workRows = {
  handedIn: [{ given: inScope, expected: byMarkers }],
  workSheet: [
    { given: ({ version }) => ({ params: { versionId: version } }), expected: byMarkers },
    { given: ({ versionElsewhere }) => ({ params: { versionId: versionElsewhere } }), expected: is(200, 404, 404, 200, 404, 401) },
  ],
  claimWork: [
    { given: ({ version }) => ({ params: { versionId: version }, body: { take: false } }), expected: byMarkers },
    {
      given: ({ versionElsewhere }) => ({ params: { versionId: versionElsewhere }, body: { take: false } }),
      expected: is(200, 404, 404, 200, 404, 401),
    },
  ],
  workFile: [{ given: () => ({ params: { key: `1-99999999-${'k'.repeat(43)}` } }), expected: is(404, 404, 404, 404, 404, 404) }],
  skillsOffered: [{ given: inScope, expected: inBranch }],
  skillPeople: [{ given: () => ({ params: { groupId: gullhaven, skillId: 1 } }), expected: inBranch }],
  activityFile: [{ given: () => ({ params: { activityId: 1 } }), expected: nowhere }],
  myWhy: [{ given: () => ({ params: { courseId: 999_999 } }), expected: nowhere }],
  myWork: [{ given: () => ({ params: { courseId: 999_999 } }), expected: nowhere }],
  saveWork: [{ given: () => ({ params: { activityId: 999_999 }, body: ownWork }), expected: nowhere }],
  addWorkFile: [{ given: () => ({ params: { activityId: 999_999 }, body: { fileName: 'a.txt', base64: 'YQ==' } }), expected: nowhere }],
  removeWorkFile: [{ given: () => ({ params: { fileId: 999_999 } }), expected: nowhere }],
  takeBackWork: [{ given: () => ({ params: { activityId: 999_999 } }), expected: nowhere }],
  tickActivity: [{ given: () => ({ params: { activityId: 999_999 }, body: { finished: true } }), expected: nowhere }],
  mySkills: [{ given: () => ({}), expected: is(200, 200, 200, 200, 200, 401) }],
  sourceWork: [
    {
      given: () => ({ body: { id: randomUUID(), launchId: randomUUID(), activityId: 1, words: 'Mine', link: null } }),
      expected: is(401, 401, 401, 401, 401, 401),
    },
  ],
  ...certificateRows,
  ...orderRows,
  ...viewRows,
} satisfies Record<string, { given: (ids: Ids) => object; expected: Expected }[]>;
