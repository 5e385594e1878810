import { randomUUID } from 'node:crypto';
import { type Expected, type Ids, is } from './looks-of-everybody.ts';

const byAdministrators = (done: number) => is(done, 404, 404, 404, 404, 401);
/** Somebody who is signed in is nobody to them: they ask for the credentials of a platform. */
const ofPlatforms = is(401, 401, 401, 401, 401, 401);
const headers = { 'X-Experience-API-Version': '1.0.3' };
const unknown = () => ({ params: { platformId: 999_999 } });
const body = { name: 'Another platform', allCourses: false, courses: [] };

const line = { row: 2, person: 'nobody-here', course: 'VHF radio', activity: null, finished: true, day: null, score: null };

/** Routes of course platforms their statements, and results of files as everybody. */
export const platformRows = {
  checkFeed: [{ given: () => ({}), expected: is(200, 404, 404, 404, 404, 401) }],
  platforms: [{ given: () => ({}), expected: byAdministrators(200) }],
  makePlatform: [{ given: () => ({ body }), expected: byAdministrators(200) }],
  editPlatform: [{ given: () => ({ ...unknown(), body }), expected: byAdministrators(404) }],
  platformPassword: [{ given: unknown, expected: byAdministrators(404) }],
  endPlatform: [{ given: unknown, expected: byAdministrators(404) }],
  checkResults: [{ given: () => ({ body: { rows: [line] } }), expected: byAdministrators(200) }],
  takeResults: [{ given: () => ({ body: { name: 'Old results', rows: [line] } }), expected: byAdministrators(200) }],
  resultFiles: [{ given: () => ({}), expected: byAdministrators(200) }],
  takeBackResults: [{ given: () => ({ params: { fileId: 999_999 } }), expected: byAdministrators(404) }],
  statementsAbout: [{ given: () => ({}), expected: is(200, 200, 200, 200, 200, 200) }],
  sendStatements: [{ given: () => ({ headers, body: [] }), expected: ofPlatforms }],
  putStatement: [{ given: () => ({ headers, query: { statementId: randomUUID() }, body: {} }), expected: ofPlatforms }],
  readStatement: [{ given: () => ({ headers, query: { statementId: randomUUID() } }), expected: ofPlatforms }],
} satisfies Record<string, { given: (ids: Ids) => object; expected: Expected }[]>;
