import { randomUUID } from 'node:crypto';
import { draft } from '../testing/outside-changes.ts';
import { type Client, execute, makeClient, type Site, startSite } from '../testing/site.ts';

/* Statements as an outside platform sends them, xAPI 1.0.3. */

const verb = (name: string) => ({ id: `http://adlnet.gov/expapi/verbs/${name}` });
const hour = 3_600_000;
/** VHF radio. */
const course = 3;

let site: Site;
let mirela: Client;
let bao: Client;
let outside: Client;
let credentials: string;
let activities: { id: number; unit: number; scored: boolean }[];
const query = <T extends object>(text: string): Promise<T[]> => execute<T>(site.databaseUrl, text);
beforeAll(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
  bao = await site.as('bao');
  outside = makeClient(site.url);
  credentials = await newPlatform([course]);
  activities = await query(
    `select a.id::int, a.unit_id::int as unit, a.scored from activity_now a join unit_now u on u.id = a.unit_id where a.course_id = ${course} and a.finished_by = 'player' order by u.position, a.position`,
  );
});
afterAll(() => site.stop());

async function newPlatform(courses: number[], allCourses = false): Promise<string> {
  const { key, password } = await mirela.call('makePlatform', { body: { name: `Platform ${randomUUID()}`, allCourses, courses } });
  return `Basic ${Buffer.from(`${key}:${password}`).toString('base64')}`;
}

const headers = (by = credentials) => ({ authorization: by, 'x-experience-api-version': '1.0.3' });
const account = (name = 'bao') => ({ account: { homePage: site.url, name } });
const statement = (name: string, place: number, more: object = {}) => ({
  id: randomUUID(),
  actor: account(),
  verb: verb(name),
  object: { id: `${site.url}/activities/${activities[place]?.id}` },
  timestamp: new Date().toISOString(),
  ...more,
});
const voiding = (of: string) => ({
  id: randomUUID(),
  actor: account(),
  verb: verb('voided'),
  object: { objectType: 'StatementRef', id: of },
});
const post = (body: unknown, by = credentials) => outside.send('sendStatements', { body, headers: headers(by) });
const put = (body: { id: string }) => outside.send('putStatement', { query: { statementId: body.id }, body, headers: headers() });
const get = (named: object, by = credentials) => outside.send('readStatement', { query: named, headers: headers(by) });
const mine = async () => (await bao.call('myCourses', {})).courses.find(({ id }) => id === course);
const problemOf = async (answer: Response): Promise<[number, string | undefined]> => {
  const { where } = (await answer.json()) as { where?: { place: string }[] };
  return [answer.status, where?.[0]?.place];
};

test('one, many and by PUT: each counts once, in whatever order they come, and is given back as it was', async () => {
  const one = statement('progressed', 0);
  const answer = await post(one);
  expect([answer.status, answer.headers.get('x-experience-api-version'), await answer.json()]).toEqual([200, '1.0.3', [one.id]]);
  expect(await mine()).toMatchObject({ status: 'under way', score: null });
  const rest = activities.map(({ scored }, place) =>
    statement('passed', place, { result: { success: true, ...(scored ? { score: { raw: 3, max: 4 } } : {}) } }),
  );
  const [last, ...many] = rest.reverse();
  expect(await (await post(many)).json()).toEqual(many.map(({ id }) => id));
  expect(await mine()).toMatchObject({ status: 'under way' });
  for (const _ of [1, 2]) expect((await put(last ?? one)).status).toBe(204);
  expect(await mine()).toMatchObject({ status: 'done', score: 75 });
  expect((await post([...many, one])).status).toBe(200);
  const [tries] = await query<{ n: number }>(
    `select sum(tries)::int as n from activity_result r join enrolment e on e.id = r.enrolment_id where e.course_id = ${course} and e.person_id = (select person_id from personal_now where sign_in_name = 'bao')`,
  );
  expect(tries?.n).toBe(rest.length + 1);
  const given = await get({ statementId: one.id });
  expect(given.headers.get('x-experience-api-consistent-through')).not.toBeNull();
  expect(await given.json()).toMatchObject({ ...one, version: '1.0.3', authority: { objectType: 'Agent' } });
});

test('another statement under a known id is refused with all that came beside it; the same in another order of its parts is not', async () => {
  const first = statement('scored', 0, { result: { score: { scaled: 0.2 }, response: 'Seven knots' } });
  const { id, ...parts } = first;
  expect((await post(first)).status).toBe(200);
  expect((await post({ ...Object.fromEntries(Object.entries(parts).reverse()), id })).status).toBe(200);
  const beside = statement('scored', 0);
  for (const other of [
    { ...first, verb: verb('passed') },
    { ...first, result: { score: { scaled: 0.3 } } },
    { ...first, actor: account('ottoline') },
  ])
    expect((await post([beside, other])).status).toBe(409);
  expect((await get({ statementId: beside.id })).status).toBe(404);
  expect((await post([beside, beside])).status).toBe(400);
});

test('voided takes back what it names, before or after it came; it is then given back only by that name', async () => {
  const before = await mine();
  expect(before?.status).toBe('done');
  const tries = await query<{ id: string }>(
    `select r.id from report r join enrolment e on e.id = r.enrolment_id join personal_now n on n.person_id = e.person_id and n.sign_in_name = 'bao' where r.activity_id = ${activities[1]?.id} and r.finished`,
  );
  const voids = tries.map(({ id }) => voiding(id));
  expect((await post(voids, await newPlatform([course]))).status).toBe(200);
  expect(await mine()).toEqual(before);
  expect((await post(voids)).status).toBe(200);
  expect(await mine()).toMatchObject({ status: 'under way' });
  const [named = ''] = tries.map(({ id }) => id);
  expect([(await get({ statementId: named })).status, (await get({ voidedStatementId: named })).status]).toEqual([404, 200]);
  const later = statement('completed', 1);
  expect((await post([voiding(later.id)])).status).toBe(200);
  expect((await post(later)).status).toBe(200);
  expect(await mine()).toMatchObject({ status: 'under way' });
  // The platform itself may say it; a void of a void does nothing.
  const [key = ''] = Buffer.from(credentials.slice(6), 'base64').toString().split(':');
  expect((await post({ ...voiding(voids[0]?.id ?? ''), actor: account(key) })).status).toBe(200);
  expect(await mine()).toMatchObject({ status: 'under way' });
  expect((await post(statement('completed', 1))).status).toBe(200);
  expect(await mine()).toMatchObject({ status: 'done' });
});

test('what was open at its own moment counts, however late it comes; what was not is kept and said so', async () => {
  const [crewCourse] = await query<{ course: number; activity: number; person: string }>(`
    select x.course_id::int as course, a.id::int as activity, n.sign_in_name as person from entitlement x join person p on p.set_id = x.set_id and not p.own_windows and p.counted
    join personal_now n on n.person_id = p.id and n.sign_in_name is not null join activity_now a on a.unit_id = x.units[1] and a.finished_by = 'player'
    join membership m on m.person_id = p.id and m.until_at is null and m.group_id = 4
    where not x.needs_seat and x.first_day is null and x.last_day is null and not exists (select 1 from enrolment e where e.person_id = p.id and e.course_id = x.course_id)
      and (select terms from course_now c where c.id = x.course_id) = 'group' order by p.id, x.course_id limit 1`);
  if (!crewCourse) throw new Error('nobody');
  const by = await newPlatform([], true);
  const at = (moment: Date, more: object = {}) => ({
    id: randomUUID(),
    actor: account(crewCourse.person),
    verb: verb('scored'),
    object: { id: `${site.url}/activities/${crewCourse.activity}` },
    result: { score: { scaled: 0.5 } },
    timestamp: moment.toISOString(),
    ...more,
  });
  const open = new Date();
  await mirela.apply({
    kind: 'grant-access',
    end: [],
    begin: [{ ...draft, groupId: 4, courseId: crewCourse.course, effect: 'block', firm: true }],
  });
  const closed = new Date();
  const counted = async () =>
    (
      await query<{ n: number }>(
        `select count(*)::int as n from report r join personal_now n on n.person_id = r.person_id where n.sign_in_name = '${crewCourse.person}' and r.enrolment_id is not null`,
      )
    )[0]?.n;
  const before = (await counted()) ?? 0;
  const now = await post([at(closed), at(new Date(Date.now() + 24 * hour))], by);
  expect([now.status, now.headers.get('x-not-counted'), await counted()]).toEqual([200, '2', before]);
  const late = at(open);
  expect((await post(late, by)).headers.get('x-not-counted')).toBeNull();
  expect(await counted()).toBe(before + 1);
  expect((await get({ statementId: late.id }, by)).status).toBe(200);
  const [platform] = (await mirela.call('platforms', {})).platforms.filter(({ notCounted }) => notCounted === 2);
  expect(platform?.statements).toBe(3);
});

test('a mailbox finds the person who has confirmed it; nobody, an unconfirmed one and another account’s address are refused, and nothing is kept', async () => {
  await query(
    `update personal set email = 'bao@boats.example', confirmed_email = 'bao@boats.example' where until_at is null and sign_in_name = 'bao'`,
  );
  await query(
    `update personal set email = 'open@boats.example', confirmed_email = null where until_at is null and sign_in_name = 'ottoline'`,
  );
  expect((await post(statement('scored', 0, { actor: { mbox: 'mailto:Bao@boats.example' } }))).status).toBe(200);
  const refused = [
    { mbox: 'mailto:open@boats.example' },
    { mbox: 'mailto:nobody@boats.example' },
    { account: { homePage: 'https://elsewhere.example', name: 'bao' } },
    { openid: 'https://elsewhere.example/bao' },
  ];
  const beside = statement('scored', 0);
  for (const actor of refused)
    expect(await problemOf(await post([beside, statement('scored', 0, { actor })]))).toEqual([400, 'body.1.actor']);
  expect((await get({ statementId: beside.id })).status).toBe(404);
});

test('only for its own courses, only with its own password, only in the version that is spoken', async () => {
  const [other] = await query<{ id: number }>(
    `select min(id)::int as id from activity_now where course_id <> ${course} and finished_by = 'player'`,
  );
  const elsewhere = statement('passed', 0, { object: { id: `${site.url}/activities/${other?.id}` } });
  expect(await problemOf(await post(elsewhere))).toEqual([400, 'body.0.object']);
  const [key = '', password = ''] = Buffer.from(credentials.slice(6), 'base64').toString().split(':');
  const basic = (name: string, word: string) => `Basic ${Buffer.from(`${name}:${word}`).toString('base64')}`;
  for (const by of [
    '',
    'Basic',
    basic(key, 'guessed'),
    basic('player', ''),
    basic('payments', ''),
    basic(key, `${password} `),
    `Bearer ${password}`,
  ])
    expect((await post(statement('passed', 0), by)).status).toBe(401);
  expect((await outside.send('sendStatements', { body: statement('passed', 0), headers: { authorization: credentials } })).status).toBe(
    400,
  );
  const { platforms } = await mirela.call('platforms', {});
  const platformId = platforms.find((each) => each.key === key)?.id ?? 0;
  const next = await mirela.call('platformPassword', { params: { platformId } });
  expect((await post(statement('scored', 0))).status).toBe(401);
  credentials = basic(key, next.password);
  expect((await post(statement('scored', 0))).status).toBe(200);
});

test.each([
  ['no verb', { verb: undefined }],
  ['a score out of range', { result: { score: { scaled: 1.5 } } }],
  ['raw above max', { result: { score: { raw: 5, max: 4 } } }],
  ['null', { context: null }],
  ['a part that is none', { mood: 'good' }],
  ['two ways to say who', { actor: { mbox: 'mailto:bao@boats.example', openid: 'https://a.example' } }],
  ['no moment', { timestamp: 'yesterday' }],
  ['a text that is none', { result: { response: '\u0000' } }],
  ['no uuid', { id: '7' }],
])('is refused with its place: %s', async (_, more) => {
  const answer = await post(statement('scored', 0, more));
  const [status, place] = await problemOf(answer);
  expect([status, place?.startsWith('body')]).toEqual([400, true]);
});

test('erased, the person is a number; what else was said of them is gone, and the counts stay', async () => {
  const said = statement('scored', 0, {
    result: { response: 'I tied five knots', score: { scaled: 0.4 } },
    context: { instructor: { name: 'Ottoline', mbox: 'mailto:o@boats.example' } },
  });
  await post(said);
  const [person] = await query<{ id: number }>(`select person_id::int as id from personal_now where sign_in_name = 'bao'`);
  await mirela.apply({ kind: 'erase-person', personId: person?.id ?? 0 });
  const { actor, verb: what, result, context } = (await (await get({ statementId: said.id })).json()) as Record<string, unknown>;
  expect([actor, what, result, context]).toEqual([
    { objectType: 'Agent', account: { homePage: site.url, name: `learner ${person?.id}` } },
    said.verb,
    { score: { scaled: 0.4 } },
    {},
  ]);
  expect(await query(`select 1 from statement where said::text ~ 'knots|Ottoline|bao'`)).toEqual([]);
  expect((await post(statement('scored', 0))).status).toBe(400);
});

test('statements lie in the month in which they came; many at once, from many, neither lose nor double any', async () => {
  const people = await query<{ name: string }>(
    `select n.sign_in_name as name from person p join personal_now n on n.person_id = p.id where p.counted and n.sign_in_name is not null order by p.id limit 40`,
  );
  const list = people.flatMap(({ name }) => activities.map((_, place) => statement('completed', place, { actor: account(name) })));
  const batches = Array.from({ length: 6 }, (_, index) => [...list.slice(index * 20), ...list.slice(0, index * 20)]);
  const answers = await Promise.all(batches.map((batch) => post(batch)));
  expect(answers.map(({ status }) => status)).toEqual(batches.map(() => 200));
  const [kept] = await query<{ n: number; tries: number; months: number }>(`
    select count(*)::int as n, count(distinct r.id)::int as tries, count(distinct s.tableoid)::int as months from report r join statement s on s.source_id = r.source_id and s.id = r.id
    where r.id in (${list.map(({ id }) => `'${id}'`).join()})`);
  expect(kept).toEqual({ n: list.length, tries: list.length, months: 1 });
});
