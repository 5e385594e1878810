import { routes, type RouteName } from '@gate-roster/contract';
import { randomUUID } from 'node:crypto';
import { everybodyIn } from './testing/everybody-in.ts';
import { messageRows } from './testing/message-rows.ts';
import { progressRows } from './testing/progress-rows.ts';
import { platformRows } from './testing/platform-rows.ts';
import { workRows } from './testing/work-rows.ts';
import { gullhaven } from './testing/outside-changes.ts';
import {
  accountAct,
  accounts,
  everybody,
  type Expected,
  type Ids,
  inBranch,
  is,
  looks,
  rename,
  type Who,
} from './testing/looks-of-everybody.ts';
import { peopleOfGullhaven } from './testing/people-of-gullhaven.ts';
import { type Client, execute, type Site, startSite } from './testing/site.ts';

/*
 * Every route of the contract as everybody: administrator, head, helper and auditor of Gullhaven, head of another branch, learner, nobody.
 * It reads the route table, so a new route without a row here fails.
 */

const inSpan = () => ({ params: { groupId: gullhaven, courseId: 1 }, query: { firstDay: '2030-01-01', lastDay: '2030-01-02' } });

const rows: Record<RouteName, { given: (ids: Ids) => object; expected: Expected }[]> = {
  health: [{ given: () => ({}), expected: is(200, 200, 200, 200, 200, 200) }],
  ready: [{ given: () => ({}), expected: is(200, 200, 200, 200, 200, 200) }],
  live: [{ given: () => ({}), expected: is(200, 200, 200, 200, 200, 401) }],
  site: [{ given: () => ({}), expected: is(200, 200, 200, 200, 200, 200) }],
  beginSite: [
    {
      given: () => ({
        body: { organisation: 'X', givenName: 'Y', familyName: 'Z', signInName: 'w', password: 'long enough it is', timeZone: 'UTC' },
      }),
      expected: is(409, 409, 409, 409, 409, 409),
    },
  ],
  me: [{ given: () => ({}), expected: is(200, 200, 200, 200, 200, 401) }],
  signIn: [{ given: () => ({ body: { signInName: randomUUID(), password: 'x' } }), expected: is(401, 401, 401, 401, 401, 401) }],
  changePassword: [{ given: () => ({ body: { current: 'x', next: 'long enough it is' } }), expected: is(422, 422, 422, 422, 422, 401) }],
  tree: [{ given: () => ({}), expected: is(200, 200, 200, 200, 404, 401) }],
  treeProgress: [{ given: () => ({}), expected: is(200, 200, 200, 200, 404, 401) }],
  group: [
    { given: () => ({ params: { groupId: gullhaven } }), expected: inBranch },
    { given: () => ({ params: { groupId: 2 } }), expected: is(200, 404, 404, 404, 404, 401) },
    { given: () => ({ params: { groupId: 999_999 } }), expected: is(404, 404, 404, 404, 404, 401) },
  ],
  groupPeople: [{ given: () => ({ params: { groupId: gullhaven } }), expected: inBranch }],
  groupPeopleFile: [{ given: () => ({ params: { groupId: gullhaven } }), expected: is(200, 200, 404, 404, 404, 401, 200) }],
  person: [
    { given: ({ member }) => ({ params: { personId: member } }), expected: inBranch },
    { given: ({ elsewhere }) => ({ params: { personId: elsewhere } }), expected: is(200, 404, 404, 200, 404, 401) },
  ],
  branchTags: [{ given: () => ({ params: { groupId: gullhaven } }), expected: inBranch }],
  filterNames: [{ given: () => ({ params: { groupId: gullhaven } }), expected: inBranch }],
  find: [{ given: () => ({ query: { q: 'a' } }), expected: is(200, 200, 200, 200, 404, 401) }],
  accessGrid: [{ given: () => ({ params: { groupId: gullhaven } }), expected: inBranch }],
  comingUp: [{ given: () => ({ params: { groupId: gullhaven } }), expected: inBranch }],
  comingPeople: [{ given: () => ({ params: { groupId: gullhaven }, query: { day: '2030-01-01', kind: 'due' } }), expected: inBranch }],
  courses: [{ given: () => ({ params: { groupId: gullhaven } }), expected: inBranch }],
  coursesFile: [{ given: () => ({ params: { groupId: gullhaven } }), expected: is(200, 200, 404, 404, 404, 401, 200) }],
  course: [{ given: () => ({ params: { groupId: gullhaven, courseId: 1 } }), expected: inBranch }],
  courseSet: [{ given: () => ({ params: { groupId: gullhaven, courseSetId: 1 } }), expected: inBranch }],
  look: looks,
  seats: [{ given: () => ({ params: { groupId: gullhaven } }), expected: inBranch }],
  seatPeople: [{ given: () => ({ params: { groupId: gullhaven }, query: { list: 'in line' } }), expected: inBranch }],
  lookPeople: [
    { given: () => ({ body: { change: rename, list: 'gains', courseId: null, after: null } }), expected: is(200, 200, 404, 404, 404, 401) },
  ],
  apply: [
    { given: () => ({ body: { change: rename, digest: 'another', requestId: randomUUID() } }), expected: is(409, 409, 404, 404, 404, 401) },
  ],
  log: [
    { given: () => ({}), expected: is(200, 200, 200, 200, 404, 401) },
    { given: () => ({ query: { groupId: gullhaven } }), expected: inBranch },
  ],
  myCourses: [{ given: () => ({}), expected: is(200, 200, 200, 200, 200, 401) }],
  // The auditor learns in another station, where this course is open.
  launch: [{ given: () => ({ params: { courseId: 4 } }), expected: is(404, 404, 404, 404, 200, 401, 200) }],
  report: [{ given: () => ({ body: [] }), expected: is(400, 400, 400, 400, 400, 400) }],
  outline: [{ given: () => ({ params: { launchId: randomUUID() } }), expected: is(401, 401, 401, 401, 401, 401) }],
  myInvitations: [{ given: () => ({}), expected: is(200, 200, 200, 200, 200, 401) }],
  acceptMine: [
    { given: () => ({ params: { invitationId: 999_999 }, body: { requestId: randomUUID() } }), expected: is(410, 410, 410, 410, 410, 401) },
  ],
  chosenNumbers: [{ given: () => ({ body: everybodyIn(gullhaven) }), expected: inBranch }],
  personFile: accountAct(200),
  oneTimeSignIn: accountAct(200),
  endSessions: [
    { given: accounts.own, expected: is(204, 204, 404, 404, 404, 401) },
    { given: accounts.shared, expected: is(204, 404, 404, 404, 404, 401) },
  ],
  // To the address on file, so for anybody whom one helps to sign in.
  // Whom the sender does not help gets none, and that is all that is said.
  sendSignIns: [{ given: ({ addressed }) => ({ body: { personIds: [addressed] } }), expected: is(200, 200, 200, 200, 404, 401) }],
  sendSignIn: [
    { given: ({ addressed }) => ({ params: { personId: addressed } }), expected: is(204, 204, 204, 404, 404, 401, 404) },
    { given: accounts.elsewhere, expected: is(204, 404, 404, 204, 404, 401) },
  ],
  hangingOn: [
    { given: accounts.own, expected: inBranch },
    { given: accounts.elsewhere, expected: is(200, 404, 404, 200, 404, 401) },
  ],
  lists: [{ given: () => ({}), expected: is(200, 200, 200, 200, 404, 401) }],
  makeList: [{ given: () => ({ body: { name: 'Mine', personIds: [1] } }), expected: is(200, 200, 200, 200, 404, 401) }],
  leaveList: [{ given: () => ({ params: { listId: 999_999 }, body: { personIds: [1] } }), expected: is(404, 404, 404, 404, 404, 401) }],
  dropList: [{ given: () => ({ params: { listId: 999_999 } }), expected: is(404, 404, 404, 404, 404, 401) }],
  upload: [{ given: () => ({ body: { fileName: 'x.txt', base64: 'aGVsbG8=' } }), expected: is(200, 200, 404, 200, 404, 401) }],
  groupPicture: [{ given: () => ({ params: { groupId: gullhaven } }), expected: is(404, 404, 404, 404, 404, 401) }],
  handoutFile: [{ given: () => ({ params: { groupId: gullhaven, handoutId: 999_999 } }), expected: is(404, 404, 404, 404, 404, 401) }],
  missing: [{ given: () => ({}), expected: is(200, 404, 404, 404, 404, 401) }],
  seeAs: [{ given: () => ({ body: { personId: 999_999 } }), expected: is(404, 404, 404, 404, 404, 401) }],
  stopSeeing: [{ given: () => ({}), expected: is(200, 200, 200, 200, 200, 401) }],
  ...(Object.fromEntries(
    (['oneTime', 'useOneTime', 'invitationOf', 'acceptInvitation'] as const).map((name) => [
      name,
      [
        {
          given: () => ({
            body: {
              ...(name === 'useOneTime' ? { key: { token: 'x'.repeat(32) } } : { token: 'x'.repeat(32) }),
              ...(name === 'useOneTime'
                ? { password: null }
                : name === 'acceptInvitation'
                  ? { password: null, givenName: '', familyName: '', requestId: randomUUID() }
                  : {}),
            },
          }),
          expected: is(410, 410, 410, 410, 410, 410),
        },
      ],
    ]),
  ) as Record<'oneTime' | 'useOneTime' | 'invitationOf' | 'acceptInvitation', { given: () => object; expected: Expected }[]>),
  forgot: [{ given: () => ({ body: { signInName: 'nobody@nowhere.example' } }), expected: is(204, 204, 204, 204, 204, 204) }],
  ...(Object.fromEntries(
    (['addressLink', 'confirmAddress', 'refuseAddress'] as const).map((name) => [
      name,
      [
        {
          given: () => ({ body: { token: 'x'.repeat(32), ...(name === 'confirmAddress' ? { password: 'long enough it is' } : {}) } }),
          expected: is(410, 410, 410, 410, 410, 410),
        },
      ],
    ]),
  ) as Record<'addressLink' | 'confirmAddress' | 'refuseAddress', { given: () => object; expected: Expected }[]>),
  joinAddress: [
    { given: () => ({ body: { token: 'x'.repeat(32), requestId: randomUUID() } }), expected: is(410, 410, 410, 410, 410, 401) },
  ],
  myAccount: [{ given: () => ({}), expected: is(200, 200, 200, 200, 200, 401) }],
  undoJoin: [{ given: ({ foreignChange }) => ({ params: { changeId: foreignChange } }), expected: is(404, 404, 404, 404, 404, 401) }],
  changeAddress: [{ given: () => ({ body: { address: 'a@b.example', current: 'x' } }), expected: is(422, 422, 422, 422, 422, 401) }],
  rosterKnown: [
    {
      given: () => ({ params: { groupId: gullhaven }, body: { emails: [], idNumbers: [], signInNames: [] } }),
      expected: is(200, 200, 404, 404, 404, 401),
    },
  ],
  putRosterPart: [
    {
      given: () => ({ params: { fileId: randomUUID(), part: 0 }, body: { rows: [{ row: 1, cells: { fullName: 'A B' } }] } }),
      expected: is(204, 204, 404, 204, 404, 401),
    },
  ],
  keptMappings: [{ given: () => ({}), expected: is(200, 200, 200, 200, 404, 401) }],
  keepMapping: [
    {
      given: () => ({ body: { name: 'Mine', headersKey: 'name', columns: ['fullName'], dateOrder: null } }),
      expected: is(204, 204, 204, 204, 404, 401),
    },
  ],
  dropMapping: [{ given: () => ({ params: { mappingId: 999_999 } }), expected: is(404, 404, 404, 404, 404, 401) }],
  keepMends: [
    {
      given: () => ({ body: { mends: [{ field: 'group', was: 'gulhaven', becomes: 'Gullhaven' }] } }),
      expected: is(204, 204, 204, 204, 404, 401),
    },
  ],
  startJob: [
    {
      given: () => ({ body: { change: rename, digest: 'x', requestId: randomUUID() } }),
      expected: is(200, 200, 200, 200, 404, 401),
    },
  ],
  job: [{ given: () => ({ params: { jobId: randomUUID() } }), expected: is(404, 404, 404, 404, 404, 401) }],
  stopJob: [{ given: () => ({ params: { jobId: randomUUID() } }), expected: is(404, 404, 404, 404, 404, 401) }],
  // Cards are made only for people whose account is the reader's to act on; of the others it is counted that there are some.
  cardsAhead: [{ given: ({ wholly }) => ({ body: { personIds: [wholly] } }), expected: is(200, 200, 200, 200, 404, 401) }],
  makeCards: [{ given: ({ elsewhere }) => ({ body: { personIds: [elsewhere] } }), expected: is(200, 200, 200, 200, 404, 401) }],
  cardFile: [
    {
      given: () => ({ body: { cards: [{ token: 'x'.repeat(32), word: 'CCCC-CCCC' }], paper: 'A4', onPage: 8 } }),
      expected: is(404, 404, 404, 404, 404, 401),
    },
  ],
  helpFind: [{ given: () => ({ query: { q: 'a' } }), expected: is(200, 200, 200, 200, 404, 401) }],
  helpRecent: [{ given: () => ({}), expected: is(200, 200, 200, 200, 404, 401) }],
  helpPerson: [
    { given: accounts.own, expected: is(200, 200, 200, 404, 404, 401, 404) },
    { given: accounts.elsewhere, expected: is(200, 404, 404, 200, 404, 401) },
  ],
  letInNow: accountAct(200),
  changePeople: [{ given: ({ foreignChange }) => ({ params: { changeId: foreignChange } }), expected: is(200, 200, 200, 200, 404, 401) }],
  // The demo world's first code opens Inshore crew of Gullhaven; the third one Penmarrow, the seventh Middle Sound.
  joinLook: [
    { given: () => ({ body: { code: 'gk7mtqx4ra' } }), expected: is(200, 200, 200, 200, 200, 200) },
    { given: () => ({ body: { code: 'CCCCCCCCCC' } }), expected: is(410, 410, 410, 410, 410, 410) },
  ],
  joinConfirm: [{ given: () => ({ body: { code: 'CCCCCCCCCC', email: 'a@b.example' } }), expected: is(410, 410, 410, 410, 410, 410) }],
  join: [
    {
      given: () => ({
        body: {
          requestId: randomUUID(),
          code: 'CCCCCCCCCC',
          password: 'long enough it is',
          given: { givenName: 'A', familyName: 'B', email: '', idNumber: '', answers: {} },
        },
      }),
      expected: is(410, 410, 410, 410, 410, 410),
    },
  ],
  joinAsMyself: [
    { given: () => ({ body: { code: 'CCCCCCCCCC', answers: {}, requestId: randomUUID() } }), expected: is(410, 410, 410, 410, 410, 401) },
  ],
  codes: [
    { given: () => ({ params: { groupId: gullhaven } }), expected: inBranch },
    { given: () => ({ params: { groupId: 11 } }), expected: is(200, 404, 404, 404, 404, 401) },
  ],
  codeUses: [
    { given: () => ({ params: { codeId: 1 } }), expected: inBranch },
    { given: () => ({ params: { codeId: 7 } }), expected: is(200, 404, 404, 200, 404, 401) },
  ],
  codeUsesFile: [{ given: () => ({ params: { codeId: 1 } }), expected: is(200, 200, 404, 404, 404, 401, 200) }],
  door: [
    { given: () => ({ params: { codeId: 1 } }), expected: inBranch },
    { given: () => ({ params: { codeId: 3 } }), expected: is(200, 404, 404, 404, 404, 401) },
  ],
  requests: [{ given: () => ({ params: { groupId: gullhaven } }), expected: is(200, 200, 200, 404, 404, 401, 404) }],
  waiting: [{ given: () => ({}), expected: is(200, 200, 200, 200, 404, 401) }],
  entryFigures: [{ given: () => ({ params: { groupId: gullhaven } }), expected: inBranch }],
  invitations: [{ given: () => ({ params: { groupId: gullhaven } }), expected: is(200, 200, 404, 404, 404, 401) }],
  letters: [{ given: () => ({ params: { groupId: gullhaven } }), expected: is(200, 200, 404, 404, 404, 401) }],
  courseRequests: [{ given: () => ({ params: { groupId: gullhaven } }), expected: is(200, 200, 404, 404, 404, 401) }],
  myCourseRequests: [{ given: () => ({}), expected: is(200, 200, 200, 200, 200, 401) }],
  askForCourse: [
    { given: () => ({ body: { courseId: 1, words: null, requestId: randomUUID() } }), expected: is(404, 404, 404, 404, 404, 401) },
  ],
  takeBackCourseRequest: [
    { given: () => ({ body: { courseId: 1, requestId: randomUUID() } }), expected: is(404, 404, 404, 404, 404, 401) },
  ],
  accessWhy: [{ given: () => ({ params: { groupId: gullhaven, courseId: 1 } }), expected: inBranch }],
  personStandings: [
    { given: ({ wholly }) => ({ params: { personId: wholly }, query: { day: '2030-01-01' } }), expected: inBranch },
    {
      given: ({ elsewhere }) => ({ params: { personId: elsewhere }, query: { day: '2030-01-01' } }),
      expected: is(200, 404, 404, 200, 404, 401),
    },
  ],
  personCourses: [
    { given: ({ wholly }) => ({ params: { personId: wholly }, query: { day: '2026-01-01' } }), expected: inBranch },
    {
      given: ({ elsewhere }) => ({ params: { personId: elsewhere }, query: { day: '2030-01-01' } }),
      expected: is(200, 404, 404, 200, 404, 401),
    },
  ],
  courseOnDay: [{ given: () => ({ params: { groupId: gullhaven, courseId: 1 }, query: { day: '2030-01-01' } }), expected: inBranch }],
  couldGetIn: [{ given: inSpan, expected: inBranch }],
  couldGetInFile: [{ given: inSpan, expected: is(200, 200, 404, 404, 404, 401, 200) }],
  ...messageRows,
  ...platformRows,
  ...progressRows,
  ...workRows,
  myRequests: [{ given: () => ({}), expected: is(200, 200, 200, 200, 200, 401) }],
  signOut: [{ given: () => ({}), expected: is(204, 204, 204, 204, 204, 401) }],
};

let site: Site;
const clients = {} as Record<Who, Client>;
const ids: Ids = {};

beforeAll(async () => {
  site = await startSite();
  const leaderOf = async (group: string): Promise<string> => {
    const [found] = await execute<{ name: string }>(
      site.databaseUrl,
      `select n.sign_in_name as name from leadership l join personal_now n on n.person_id = l.person_id join group_now g on g.id = l.group_id where g.name = $1 order by array_length(l.powers, 1) limit 1`,
      [group],
    );
    return found?.name ?? '';
  };
  Object.assign(clients, {
    administrator: await site.as('mirela'),
    head: await site.as('ottoline'),
    helper: await site.letIn(await leaderOf('Gullhaven')),
    other: await site.letIn(await leaderOf('Middle Sound')),
    learner: await site.as('bao'),
    nobody: await site.as(null),
  });
  await execute(
    site.databaseUrl,
    `insert into leadership (person_id, group_id, powers) select min(person_id), ${gullhaven}, '{seeProgress,export}' from membership where group_id = 20 and until_at is null and person_id not in (select person_id from leadership)`,
  );
  const [auditor] = await execute<{ name: string }>(
    site.databaseUrl,
    `select n.sign_in_name as name from personal_now n join leadership l on l.person_id = n.person_id and l.powers = '{seeProgress,export}'`,
  );
  clients.auditor = await site.letIn(auditor?.name ?? '');
  Object.assign(ids, await peopleOfGullhaven(site));
  for (const [name, id] of Object.entries(ids)) if (id === 0) throw new Error(`nobody is ${name}`);
  const foreign = await clients.administrator.apply({ kind: 'edit-group', groupId: 38, values: { name: 'Partner boats' } });
  ids['foreignChange'] = foreign.changeId;
});
afterAll(() => site.stop());

test('the table has a row for every route', () => {
  expect(Object.keys(rows).sort()).toEqual(Object.keys(routes).sort());
});

// Signing out comes last, since it ends the sessions that the others use.
const ordered = (Object.keys(rows) as RouteName[]).sort((a, b) => Number(a === 'signOut') - Number(b === 'signOut'));
describe.each(ordered)('%s', (name) => {
  test.each(rows[name].map((row, index) => [index, row] as const))(
    'answers everybody as they may (%i)',
    async (_index, { given, expected }) => {
      const found = {} as Expected;
      for (const who of everybody) {
        const answer = await clients[who].send(name, given(ids));
        found[who] = answer.status;
        if (answer.status >= 400) expect(answer.headers.get('content-type')).toContain('application/problem+json');
        await answer.body?.cancel();
      }
      expect(found).toEqual(expected);
    },
  );
});
