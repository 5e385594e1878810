import { addDays } from '@gate-roster/core';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';
import { randomUUID } from 'node:crypto';

/* A learner asks for a course that is open on request; leaders of their branch answer. */
const gullhaven = 3;
let site: Site;
let bao: Client;
let ottoline: Client;
let mirela: Client;
let course = 0;
const today = new Date().toISOString().slice(0, 10);

beforeEach(async () => {
  site = await startSite();
  [bao, ottoline, mirela] = [await site.as('bao'), await site.as('ottoline'), await site.as('mirela')];
  course = (await bao.call('myCourseRequests', {})).courses[0]?.id ?? 0;
  expect(course).toBeGreaterThan(0);
});
afterEach(() => site.stop());

const ask = (words: string | null = null, requestId = randomUUID()) =>
  bao.send('askForCourse', { body: { courseId: course, words, requestId } });
const waiting = async (who: Client = ottoline) => {
  const { requests } = await who.call('courseRequests', { params: { groupId: gullhaven } });
  return requests.find(({ courseId, words }) => courseId === course && words === 'Please');
};
const decide = async (who: Client, decision: 'open' | 'turn away', lastDay: string | null = null, word: string | null = null) =>
  who.apply({ kind: 'decide-course-requests', requestIds: [(await waiting())?.id ?? 0], decision, lastDay, word });
const own = async () => (await bao.call('myCourses', {})).courses.find(({ id }) => id === course);

test('a leader opens it until a day, although it is open nowhere above them; undone, it is asked for again', async () => {
  const before = (await ottoline.call('waiting', {})).people;
  expect((await ask('Please')).status).toBe(200);
  expect((await ask('Please')).status).toBe(200);
  expect((await ottoline.call('waiting', {})).people).toBe(before + 1);
  const mine = await bao.call('myCourseRequests', {});
  expect(mine.requests.map(({ courseId, state }) => ({ courseId, state }))).toEqual([{ courseId: course, state: 'asking' }]);
  expect(mine.courses.map(({ id }) => id)).not.toContain(course);

  const lastDay = addDays(today, 30);
  const { changeId } = await decide(ottoline, 'open', lastDay);
  expect(await own()).toMatchObject({ open: true });
  const [grant] = await execute<{ last_day: string; by_request: boolean; maker_branch_id: number }>(
    site.databaseUrl,
    `select last_day::text, by_request, maker_branch_id from access_grant where course_id = ${course} and person_id is not null and until_at is null`,
  );
  expect(grant).toEqual({ last_day: lastDay, by_request: true, maker_branch_id: gullhaven });
  expect(await waiting()).toBeUndefined();

  await ottoline.apply({ kind: 'undo', changeId });
  expect(await own()).toBeUndefined();
  expect(await waiting()).toMatchObject({ words: 'Please' });
});

test('the yes of a leader rests on the terms: no longer on request, it opens nothing', async () => {
  await ask('Please');
  await decide(ottoline, 'open');
  await mirela.apply({ kind: 'edit-course', courseId: course, values: { terms: 'group' } });
  expect((await own())?.open ?? false).toBe(false);
});

test('refused with a word, it can be asked for again; withdrawn, nobody decides', async () => {
  await ask('Please');
  await decide(ottoline, 'turn away', null, 'After the winter.');
  expect((await bao.call('myCourseRequests', {})).requests).toMatchObject([{ state: 'turned away', word: 'After the winter.' }]);
  await ask('Please');
  expect(await waiting()).toBeDefined();
  await bao.call('takeBackCourseRequest', { body: { courseId: course, requestId: randomUUID() } });
  expect(await waiting()).toBeUndefined();
  expect((await bao.call('myCourseRequests', {})).requests).toEqual([]);
});

test('what is blocked for them, or open already, cannot be asked for', async () => {
  await mirela.apply({
    kind: 'grant-access',
    end: [],
    begin: [
      {
        groupId: gullhaven,
        courseId: course,
        effect: 'block',
        withSubgroups: true,
        firm: true,
        firstDay: null,
        lastDay: null,
        units: null,
        due: null,
      },
    ],
  });
  expect((await bao.call('myCourseRequests', {})).courses.map(({ id }) => id)).not.toContain(course);
  expect((await ask()).status).toBe(404);
});

test('the same request sent again is one; a last day in the past stands in the way', async () => {
  const requestId = randomUUID();
  await ask('Please', requestId);
  await bao.call('takeBackCourseRequest', { body: { courseId: course, requestId: randomUUID() } });
  expect((await ask('Please', requestId)).status).toBe(200);
  expect(await waiting()).toBeUndefined();
  await ask('Please');
  const look = await ottoline.call('look', {
    body: {
      change: {
        kind: 'decide-course-requests',
        requestIds: [(await waiting())?.id ?? 0],
        decision: 'open',
        lastDay: addDays(today, -1),
        word: null,
      },
    },
  });
  expect(look.conflicts).toMatchObject([{ code: 'day is past', blocks: true }]);
});
