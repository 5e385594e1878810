import { addDays } from '@gate-roster/core';
import { turnDay } from './day-turn.ts';
import { type Client, execute, type Site, startSite } from './testing/site.ts';

let site: Site;
let mirela: Client;
let clock = new Date();
beforeEach(async () => {
  clock = new Date();
  site = await startSite({ now: () => clock });
  mirela = await site.as('mirela');
});
afterEach(() => site.stop());

const shoreCrew = 7;
const counted = async (): Promise<number> => (await mirela.call('group', { params: { groupId: shoreCrew } })).people.counted;
const forward = async (days: number): Promise<boolean> => {
  clock = new Date(clock.getTime() + days * 86_400_000);
  await execute(
    site.databaseUrl,
    `update session set expire = 'infinity', sess = jsonb_set(sess, '{cookie,expires}', '"2099-01-01T00:00:00.000Z"')`,
  );
  return turnDay(site.deps.db, clock);
};

test('somebody who begins in three days is counted from that day to the last, and has courses by the day alone', async () => {
  const { today } = await mirela.call('me', {});
  const before = await counted();
  const rows = [{ row: 1, cells: { fullName: 'Soon Here', firstDay: addDays(today, 3), lastDay: addDays(today, 5) } }];
  await mirela.apply({ kind: 'bring-in-roster', into: shoreCrew, fileName: null, hasGroupColumn: false, dateOrder: 'yearFirst', rows });
  const [{ id } = { id: 0 }] = await execute<{ id: number }>(site.databaseUrl, `select max(id)::int as id from person`);
  const hasCourse = async () => (await mirela.call('person', { params: { personId: id } })).courses.some(({ open }) => open);
  const windowsOpen = async (day: string) =>
    (
      await execute<{ n: number }>(
        site.databaseUrl,
        `select count(*)::int as n from entitlement where person_id = ${id} and first_day <= $1 and last_day >= $1`,
        [day],
      )
    )[0]?.n ?? 0;
  expect([await counted(), await hasCourse()]).toEqual([before, false]);
  // The windows are there already: access needs no turn of the day.
  expect(
    [await windowsOpen(addDays(today, 2)), await windowsOpen(addDays(today, 5)), await windowsOpen(addDays(today, 6))].map(
      (count) => count > 0,
    ),
  ).toEqual([false, true, false]);
  const sheet = await mirela.call('group', { params: { groupId: shoreCrew } });
  expect(sheet.people.notCounted.find(({ reason }) => reason === 'begins later')?.people).toBeGreaterThanOrEqual(1);

  expect(await forward(3)).toBe(true);
  const [{ n: others } = { n: 0 }] = await execute<{ n: number }>(
    site.databaseUrl,
    `select count(*)::int as n from person p join membership_set_group g on g.set_id = p.set_id where p.counted and g.group_id = ${shoreCrew} and p.id <> ${id}`,
  );
  expect([await counted(), await hasCourse()]).toEqual([others + 1, true]);
  await forward(3);
  expect(await hasCourse()).toBe(false);
  expect((await execute<{ counted: boolean }>(site.databaseUrl, `select counted from person where id = ${id}`))[0]?.counted).toBe(false);
});

test('a day turns once, whoever tries', async () => {
  clock = new Date(clock.getTime() + 86_400_000);
  const turns = await Promise.all([1, 2, 3].map(() => turnDay(site.deps.db, clock)));
  expect(turns.filter(Boolean)).toHaveLength(1);
});

test('a course opens on its first day and closes after its last, without anything being written', async () => {
  const { today } = await mirela.call('me', {});
  await mirela.apply({
    kind: 'grant-access',
    end: [],
    begin: [
      {
        groupId: shoreCrew,
        courseId: 12,
        effect: 'open',
        withSubgroups: true,
        firm: false,
        firstDay: addDays(today, 1),
        lastDay: addDays(today, 1),
        units: null,
        due: null,
      },
    ],
  });
  /** Enrolments of the crew in the course, as the report has them on the day of the clock. */
  const enrolments = async (): Promise<number> => {
    const report = await mirela.call('progress', { params: { groupId: shoreCrew } });
    return report.rows[0]?.cells[report.courses.findIndex(({ id }) => id === 12)]?.all ?? 0;
  };
  const before = await enrolments();
  clock = new Date(clock.getTime() + 86_400_000);
  const during = await enrolments();
  clock = new Date(clock.getTime() + 86_400_000);
  expect([during, await enrolments()]).toEqual([await counted(), before]);
  expect(during).toBeGreaterThan(before);
});
