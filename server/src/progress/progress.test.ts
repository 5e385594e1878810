import { completion, dueDay, type Tally } from '@gate-roster/core';
import { randomUUID } from 'node:crypto';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';
import { sign } from '../http/signature.ts';

let site: Site;
let mirela: Client;
beforeAll(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
});
afterAll(() => site.stop());

const query = <T extends object>(text: string): Promise<T[]> => execute<T>(site.databaseUrl, text);

/**
 * A second computation of the report, person by person from the truth alone: memberships, grants as the demo
 * has them (nearest on the path wins, whole courses or parts), and enrolments. Shares no code with the first.
 */
async function secondComputation(today: string): Promise<(groupId: number, courseId: number) => Partial<Tally>> {
  const parents = new Map(
    (
      await query<{ id: number; parent: number | null }>(
        `select group_id::int as id, parent_id::int as parent from group_version where until_at is null`,
      )
    ).map(({ id, parent }) => [id, parent]),
  );
  const up = (id: number | null): number[] => (id === null ? [] : [id, ...up(parents.get(id) ?? null)]);
  const members = await query<{
    person: number;
    group: number;
    since: string;
  }>(`select m.person_id::int as person, m.group_id::int as group, coalesce(m.first_day, (m.from_at at time zone 'Atlantic/Faroe')::date)::text as since from membership m join person_state s on s.person_id = m.person_id and s.until_at is null
    where m.until_at is null and s.state = 'active' and coalesce(m.first_day <= '${today}', true) and coalesce(m.last_day >= '${today}', true)`);
  const grants = await query<{
    group: number;
    course: number;
    effect: string;
    firm: boolean;
    starts: string | null;
    day: string | null;
    days: number | null;
    least: number | null;
    made: string;
    paid: boolean;
  }>(`select group_id::int as group, course_id::int as course, effect, firm, first_day::text as starts,
    due_day::text as day, due_days as days, due_least_days as least, (from_at at time zone 'Atlantic/Faroe')::date::text as made, licences is not null as paid from access_grant where until_at is null`);
  const work = new Map(
    (
      await query<{ person: number; course: number; status: string; score: number | null; exempt: boolean; opened: string | null }>(
        `select person_id::int as person, course_id::int as course, status, score, exempt, round_opened_day::text as opened from enrolment where is_current`,
      )
    ).map((row) => [`${row.person}/${row.course}`, row]),
  );
  const inLine = new Set(
    (
      await query<{ person: number; course: number }>(
        `select person_id::int as person, course_id::int as course from seat_line where until_at is null`,
      )
    ).map(({ person, course }) => `${person}/${course}`),
  );
  const gotSeat = new Map(
    (
      await query<{ person: number; course: number; day: string }>(
        `select s.person_id::int as person, l.course_id::int as course, (s.got_at at time zone 'Atlantic/Faroe')::date::text as day
         from seat s join licence_version l on l.licence_id = s.licence_id where s.until_at is null and l.until_at is null`,
      )
    ).map(({ person, course, day }) => [`${person}/${course}`, day]),
  );
  const groupsOf = new Map<number, { group: number; since: string }[]>();
  for (const { person, ...held } of members) groupsOf.set(person, [...(groupsOf.get(person) ?? []), held]);

  return (groupId, courseId) => {
    const tally = { all: 0, done: 0, underWay: 0, exempt: 0, overdue: 0 };
    for (const [person, held] of groupsOf) {
      if (!held.some(({ group }) => up(group).includes(groupId))) continue;
      const spoken = (group: number) =>
        grants.filter((each) => each.group === group && each.course === courseId && (each.starts ?? today) <= today);
      const firm = held.some(({ group }) =>
        up(group).some((at) => spoken(at).some(({ effect, firm: isFirm }) => isFirm && effect === 'block')),
      );
      const ways = held.flatMap(({ group, since }) => {
        const at = up(group).find((each) => spoken(each).length > 0);
        const said = at === undefined ? [] : spoken(at);
        // One could begin when the statement first reached any of the person's groups; the demo has no memberships that are over.
        const reached = held.filter(({ group: other }) => at !== undefined && up(other).includes(at)).map((each) => each.since);
        const began = reached.sort()[0] ?? since;
        return said.length > 0 && !said.some(({ effect }) => effect === 'block') ? [{ since: began, grant: said[0] }] : [];
      });
      const isOpen = ways.length > 0 && !firm;
      const done = work.get(`${person}/${courseId}`);
      if (!isOpen && (!done || (done.status === 'not begun' && !done.exempt))) continue;
      tally.all++;
      if (done?.exempt) tally.exempt++;
      else if (done?.status === 'done') tally.done++;
      else if (done?.status === 'under way') tally.underWay++;
      if (!isOpen || done?.exempt || done?.status === 'done' || inLine.has(`${person}/${courseId}`)) continue;
      const due = dueDay(
        ways.map(({ since, grant }) => {
          const seat = grant?.paid ? (gotSeat.get(`${person}/${courseId}`) ?? since) : since;
          const couldBegin = [since, seat, grant?.starts ?? grant?.made ?? since].sort().at(-1) ?? since;
          const at = grant?.day ? { day: grant.day } : grant?.days != null ? { days: grant.days } : null;
          return { rule: at && { at, leastDays: grant?.least ?? null, firm: false }, couldBegin, roundOpened: done?.opened ?? null };
        }),
      );
      if (due !== null && due < today) tally.overdue++;
    }
    return tally;
  };
}

test('every cell of the report is what a second, independent computation gives, each learner once per branch', async () => {
  const { today } = await mirela.call('me', {});
  const expected = await secondComputation(today);
  let compared = 0;
  for (const groupId of [1, 2, 3, 17, 38]) {
    const report = await mirela.call('progress', { params: { groupId } });
    for (const row of report.rows) {
      for (const [index, { id: courseId }] of report.courses.entries()) {
        const cell = row.cells[index];
        const {
          scoreSum: _sum,
          scored: _scored,
          ...counts
        } = cell ?? { all: 0, done: 0, underWay: 0, exempt: 0, overdue: 0, scoreSum: 0, scored: 0 };
        expect({ group: row.name, courseId, ...counts }).toEqual({ group: row.name, courseId, ...expected(row.id, courseId) });
        compared++;
      }
    }
    const sum = report.rows[0]?.cells.reduce((total, cell) => total + (cell?.all ?? 0), 0);
    expect(report.total.all).toBe(sum);
  }
  expect(compared).toBeGreaterThan(300);
});

test('the CSV has the numbers of the screen, and no cell that a spreadsheet would run', async () => {
  await mirela.apply({ kind: 'edit-group', groupId: 10, values: { name: '=HYPERLINK(1)' } });
  const report = await mirela.call('progress', { params: { groupId: 3 } });
  const file = await mirela.call('progressFile', { params: { groupId: 3 } });
  const lines = file
    .trim()
    .split('\r\n')
    .map((line) => line.split(','));
  const total = lines.find(([name, , , course]) => name === 'Gullhaven' && course === 'All courses');
  expect(total?.slice(4, 11).map(Number)).toEqual([
    report.total.all,
    report.total.exempt,
    report.total.done,
    report.total.underWay,
    report.total.all - report.total.exempt - report.total.done - report.total.underWay,
    report.total.overdue,
    Math.round((completion(report.total) ?? 0) * 100),
  ]);
  expect(file).toContain("'=HYPERLINK(1)");
  expect(file).not.toMatch(/(^|,)"?=/mu);
});

test('people who begin later or are paused are not counted, and the sheet says how many and why', async () => {
  const sheet = await mirela.call('group', { params: { groupId: 1 } });
  const { total } = await mirela.call('groupPeople', { params: { groupId: 1 }, query: { counted: 'no', limit: 1 } });
  expect(sheet.people.notCounted.map(({ reason }) => reason).sort()).toEqual(['begins later', 'paused']);
  expect(sheet.people.notCounted.reduce((sum, { people }) => sum + people, 0)).toBe(total);
  const [members] = await query<{ n: number }>(`select count(distinct person_id)::int as n from membership where until_at is null`);
  expect(sheet.people.counted + total).toBe(members?.n);
});

test('a list pages through everybody once, in the order of names', async () => {
  const seen: number[] = [];
  const names: string[] = [];
  for (let after: string | undefined; ;) {
    const page = await mirela.call('groupPeople', { params: { groupId: 2 }, query: { limit: 83, ...(after ? { after } : {}) } });
    seen.push(...page.people.map(({ id }) => id));
    names.push(...page.people.map(({ familyName }) => familyName));
    if (page.next === null) break;
    after = page.next;
  }
  const { total } = await mirela.call('groupPeople', { params: { groupId: 2 } });
  expect([seen.length, new Set(seen).size]).toEqual([total, total]);
  expect(names).toEqual([...names].sort(new Intl.Collator('und', { ignorePunctuation: true }).compare));
});

describe('reports of a source', () => {
  let bao: Client;
  let launch: string;
  let secret: string;
  beforeAll(async () => {
    bao = await site.as('bao');
    launch = (await bao.call('launch', { params: { courseId: 3 } })).address.split('#')[1] ?? '';
    secret = (await query<{ secret: string }>(`select secret from source where key = 'player'`))[0]?.secret ?? '';
  });
  const activities = (courseId: number) =>
    query<{ id: number; scored: boolean }>(
      `select a.id::int, a.scored from activity_now a join unit_now u on u.id = a.unit_id where u.course_id = ${courseId} order by a.id`,
    );
  const statement = (activityId: number, scaled?: number, id = randomUUID()) => ({
    id,
    actor: { account: { homePage: site.url, name: launch } },
    verb: { id: 'http://adlnet.gov/expapi/verbs/completed' },
    object: { id: `${site.url}/activities/${activityId}` },
    result: { completion: true, ...(scaled === undefined ? {} : { score: { scaled } }) },
    timestamp: new Date().toISOString(),
  });
  async function send(
    content: unknown,
    {
      key = 'player',
      by = secret,
      time = new Date().toISOString(),
      from = bao,
    }: { key?: string; by?: string; time?: string; from?: Client } = {},
  ): Promise<Response> {
    const body = JSON.stringify(content);
    return from.send('report', {
      body,
      headers: {
        'x-source': key,
        'x-time': time,
        'x-signature': sign(by, { method: 'POST', path: '/api/v1/source/statements', time, body }),
      },
    });
  }
  const mine = async () => (await bao.call('myCourses', {})).courses.find(({ id }) => id === 3);

  test('move a learner from not begun over under way to done, once each', async () => {
    const list = await activities(3);
    expect(await mine()).toMatchObject({ status: 'not begun', unitsDone: 0 });
    const first = statement(list[0]?.id ?? 0);
    expect(await (await send([first])).json()).toEqual({ taken: 1 });
    expect(await (await send([first])).json()).toEqual({ taken: 0 });
    expect(await mine()).toMatchObject({ status: 'under way', score: null });
    await send(list.slice(1).map(({ id, scored }) => statement(id, scored ? 0.75 : undefined)));
    expect(await mine()).toMatchObject({ status: 'done', score: 75, unitsDone: 4 });
    // A worse later try takes nothing away.
    await send([statement(list[1]?.id ?? 0, 0.1)]);
    expect(await mine()).toMatchObject({ status: 'done', score: 75 });
  });

  test('are taken back by their source alone, once: what they made done is done no more, unless another try did it too', async () => {
    const list = await activities(3);
    const tried = list[1]?.id ?? 0;
    const tries = await query<{ id: string; score: number | null }>(
      `select r.id, r.score from report r where r.activity_id = ${tried} and r.result_file_id is null and not exists (select 1 from report_void v where v.report_id = r.id) order by r.score desc nulls last`,
    );
    expect(tries).toHaveLength(2);
    const [better, worse] = tries;
    const voiding = (of: string | undefined): object => ({
      id: randomUUID(),
      verb: { id: 'http://adlnet.gov/expapi/verbs/voided' },
      object: { objectType: 'StatementRef', id: of },
    });
    await execute(site.databaseUrl, `insert into source (key, secret, name) values ('third', 'third-secret', 'Third')`);
    const before = await mine();
    expect((await send([voiding(better?.id)], { key: 'third', by: 'third-secret' })).status).toBe(200);
    expect(await mine()).toEqual(before);
    expect(await (await send([voiding(better?.id)])).json()).toEqual({ taken: 1 });
    expect(await mine()).toMatchObject({ status: 'done', unitsDone: 4 });
    expect((await mine())?.score).toBeLessThan(before?.score ?? 0);
    expect(await (await send([voiding(better?.id), voiding(worse?.id)])).json()).toEqual({ taken: 1 });
    expect(await mine()).toMatchObject({ status: 'under way', unitsDone: 3 });
    // Back again, for what follows.
    await send([statement(tried, 0.75)]);
    expect(await mine()).toMatchObject({ status: 'done', score: 75 });
  });

  test('are refused without the source’s own fresh signature, whoever is signed in', async () => {
    const [activity] = await activities(3);
    const content = [statement(activity?.id ?? 0)];
    const refused = [
      await bao.send('report', { body: content }),
      await send(content, { by: 'guessed' }),
      await send(content, { key: 'nobody' }),
      await send(content, { time: new Date(Date.now() - 6 * 60_000).toISOString() }),
      await send(content, { by: 'guessed', from: mirela }),
    ];
    expect(refused.map(({ status }) => status)).toEqual([401, 401, 401, 401, 401]);
  });

  test('count only for the launch’s own course, while the launch lasts', async () => {
    const [elsewhere] = await activities(1);
    expect((await send([statement(elsewhere?.id ?? 0)])).status).toBe(404);
    await execute(site.databaseUrl, `insert into source (key, secret, name) values ('other', 'other-secret', 'Other')`);
    const [own] = await activities(3);
    expect((await send([statement(own?.id ?? 0)], { key: 'other', by: 'other-secret' })).status).toBe(404);
    await execute(site.databaseUrl, `update launch set ends_at = now() - interval '1 minute'`);
    expect((await send([statement(own?.id ?? 0)])).status).toBe(404);
  });
});
