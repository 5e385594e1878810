import { addDays, type Day } from '@gate-roster/core';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/* Results from a file: checked line by line, brought in once, taken back. */

let site: Site;
let mirela: Client;
let bao: Client;
let today: Day;
const course = 3;
const query = <T extends object>(text: string): Promise<T[]> => execute<T>(site.databaseUrl, text);
beforeAll(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
  bao = await site.as('bao');
  today = (await mirela.call('me', {})).today;
});
afterAll(() => site.stop());

const line = (row: number, more: object = {}) => ({
  row,
  person: 'bao',
  course: 'VHF radio',
  activity: null,
  finished: true,
  day: null,
  score: 80,
  ...more,
});
const mine = async () => (await bao.call('myCourses', {})).courses.find(({ id }) => id === course);

test('each line is checked; those that cannot count are named with why', async () => {
  const [marked] = await query<{ course: string; activity: string }>(
    `select c.name as course, a.name as activity from activity_now a join course_now c on c.id = a.course_id where a.finished_by <> 'player' limit 1`,
  );
  const [numbered] = await query<{ id: string }>(
    `select id_number as id from personal_now where id_number is not null group by 1 having count(*) > 1 limit 1`,
  );
  const [closed] = await query<{ name: string }>(
    `select c.name from course_now c where c.terms <> 'everyone' and not exists (select 1 from entitlement x join person p on (p.own_windows and x.person_id = p.id) or (not p.own_windows and x.set_id = p.set_id)
      join personal_now n on n.person_id = p.id and n.sign_in_name = 'bao' where x.course_id = c.id) and exists (select 1 from activity_now a where a.course_id = c.id and a.finished_by = 'player') limit 1`,
  );
  const { counts, people, troubles } = await mirela.call('checkResults', {
    body: {
      rows: [
        line(2),
        line(3, { person: 'BAO', course: 'vhf RADIO' }),
        line(4, { person: 'nobody-here' }),
        line(5, { course: 'Knitting' }),
        line(6, { activity: 'Purling' }),
        line(7, { day: addDays(today, 1) }),
        line(8, { course: marked?.course, activity: marked?.activity }),
        line(9, { course: closed?.name }),
        ...(numbered ? [line(10, { person: numbered.id })] : []),
      ],
    },
  });
  expect([counts, people]).toEqual([2, 1]);
  expect(troubles).toEqual([
    { row: 4, code: 'nobody' },
    { row: 5, code: 'no such course' },
    { row: 6, code: 'no such activity' },
    { row: 7, code: 'day to come' },
    { row: 8, code: 'not by the player' },
    { row: 9, code: 'not open' },
    ...(numbered ? [{ row: 10, code: 'several people' }] : []),
  ]);
});

test('old results count though the course was not open then, once for each file; taken back they are gone, and no rule is fired', async () => {
  expect(await mine()).toMatchObject({ status: 'not begun' });
  const events = async () =>
    (await query<{ n: number }>(`select count(*)::int as n from rule_event where what = 'progress' and not is_quiet`))[0]?.n;
  const before = await events();
  const day = addDays(today, -700);
  const rows = [line(2, { day }), line(3, { person: 'nobody-here' })];
  const { fileId, counts } = await mirela.call('takeResults', { body: { name: 'old.csv', rows } });
  expect(counts).toBe(1);
  expect(await mine()).toMatchObject({ status: 'done', score: 80, doneDay: day });
  expect(await events()).toBe(before);
  // What the player says later is better, and stays when the file is taken back.
  const second = await mirela.call('takeResults', { body: { name: 'better.csv', rows: [line(2, { score: 95 })] } });
  expect(await mine()).toMatchObject({ status: 'done', score: 95, doneDay: day });
  await mirela.call('takeBackResults', { params: { fileId } });
  expect(await mine()).toMatchObject({ status: 'done', score: 95 });
  expect((await mirela.send('takeBackResults', { params: { fileId } })).status).toBe(404);
  await mirela.call('takeBackResults', { params: { fileId: second.fileId } });
  expect(await mine()).toMatchObject({ status: 'not begun', score: null });
  const { files } = await mirela.call('resultFiles', {});
  expect(files.slice(0, 2).map(({ name, rows: n, takenBackAt }) => [name, n, takenBackAt !== null])).toEqual([
    ['better.csv', 1, true],
    ['old.csv', 1, true],
  ]);
});
