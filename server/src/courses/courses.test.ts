import type { Change } from '@gate-roster/contract';
import { draft } from '../testing/outside-changes.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/* What can be done to courses and course sets, as those who do it and those whom it reaches see it. */

const [gullhaven, cadets, shoreCrew] = [3, 8, 7];
const [boatHandling1, searchPatterns, engineCare, boats] = [5, 7, 11, 2];
let site: Site;
let mirela: Client;
let ottoline: Client;
beforeEach(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
  ottoline = await site.as('ottoline');
});
afterEach(() => site.stop());

const isOpen = async (groupId: number, courseId: number): Promise<boolean> => {
  const { courses, rows } = await mirela.call('accessGrid', { params: { groupId } });
  const state = rows.find(({ id }) => id === groupId)?.cells[courses.findIndex(({ id }) => id === courseId)]?.state;
  return state === 'here' || state === 'above';
};
const editSet = (add: number[], takeOut: number[]): Change => ({
  kind: 'edit-course-set',
  courseSetId: boats,
  add: { courses: add, sets: [] },
  takeOut: { courses: takeOut, sets: [] },
});
const openSet = (groupId: number): Change => ({
  kind: 'grant-access',
  end: [],
  begin: [{ ...draft, groupId, courseId: null, courseSetId: boats }],
});

test('what comes into a set reaches those who have it from then on, what is taken out is lost to them but for another way', async () => {
  await mirela.apply(openSet(shoreCrew));
  expect(await isOpen(shoreCrew, searchPatterns)).toBe(true);
  const added = await mirela.call('look', { body: { change: editSet([engineCare], []) } });
  expect(added.gains.map(({ courseId }) => courseId)).toEqual([engineCare]);
  await mirela.apply(editSet([engineCare], []));
  expect(await isOpen(shoreCrew, engineCare)).toBe(true);
  // Boat handling 1 is open to all of Gullhaven, whatever the set holds.
  const out = await mirela.call('look', { body: { change: editSet([], [boatHandling1, searchPatterns]) } });
  expect(out.loses.map(({ courseId }) => courseId)).toEqual([searchPatterns]);
  expect(out.still.map(({ courseId }) => courseId)).toContain(boatHandling1);
  const { changeId } = await mirela.apply(editSet([], [boatHandling1, searchPatterns]));
  expect([await isOpen(shoreCrew, searchPatterns), await isOpen(shoreCrew, boatHandling1)]).toEqual([false, true]);
  await mirela.apply({ kind: 'undo', changeId });
  expect(await isOpen(shoreCrew, searchPatterns)).toBe(true);
});

test('a set that is named by a statement is not deleted, and one that would hold itself names the loop', async () => {
  await mirela.apply(openSet(shoreCrew));
  const gone = await mirela.call('look', { body: { change: { kind: 'delete-course-set', courseSetId: boats } } });
  expect(gone.conflicts).toMatchObject([{ code: 'set in use', blocks: true, count: 1 }]);
  const inner = { courses: [], sets: [boats] };
  await mirela.apply({ kind: 'edit-course-set', courseSetId: 1, add: inner, takeOut: { courses: [], sets: [] } });
  const loop = await mirela.call('look', {
    body: { change: { kind: 'edit-course-set', courseSetId: boats, add: { courses: [], sets: [1] }, takeOut: { courses: [], sets: [] } } },
  });
  expect(loop.conflicts).toMatchObject([{ code: 'set in itself', blocks: true, count: 2 }]);
  expect(new Set(loop.conflicts[0]?.about)).toEqual(new Set(['Basics', 'Boats and search']));
});

test('a leader who opens a set opens what is not blocked from above', async () => {
  // For the cadets Boat handling 1 is blocked by an administrator, and Night navigation firmly.
  await mirela.apply(openSet(gullhaven));
  const look = await ottoline.call('look', { body: { change: openSet(cadets) } });
  expect(look.conflicts.filter(({ blocks }) => blocks)).toEqual([]);
  await ottoline.apply(openSet(cadets));
  expect([await isOpen(cadets, searchPatterns), await isOpen(cadets, boatHandling1)]).toEqual([true, false]);
});

test('work in a unit that is taken out stays with the learner, and is there again when the unit is', async () => {
  const sheet = await mirela.call('course', { params: { groupId: 1, courseId: searchPatterns } });
  const results = () =>
    execute<{ n: number }>(
      site.databaseUrl,
      `select count(*)::int as n from activity_result r join enrolment e on e.id = r.enrolment_id where e.course_id = ${searchPatterns}`,
    );
  const before = [await results(), sheet.standing];
  const units = sheet.units.slice(0, -1);
  const { changeId } = await mirela.apply({ kind: 'edit-course', courseId: searchPatterns, values: { passScore: 100 }, units });
  const after = await mirela.call('course', { params: { groupId: 1, courseId: searchPatterns } });
  expect(after.units).toHaveLength(sheet.units.length - 1);
  // Who was done stays done, also under a higher pass score.
  expect(after.standing?.done).toBeGreaterThanOrEqual(sheet.standing?.done ?? 0);
  expect(await results()).toEqual(before[0]);
  await mirela.apply({ kind: 'undo', changeId });
  expect([await results(), (await mirela.call('course', { params: { groupId: 1, courseId: searchPatterns } })).standing]).toEqual(before);
});

test('units, activities and names that are not there or taken are refused', async () => {
  const edit = (more: object) => ({ kind: 'edit-course', courseId: searchPatterns, values: {}, ...more }) as Change;
  const foreign = [{ id: 1, name: 'Of another course', activities: [{ id: null, name: 'Do', scored: true }] }];
  expect((await mirela.send('look', { body: { change: edit({ units: foreign }) } })).status).toBe(400);
  expect((await mirela.send('look', { body: { change: edit({ units: [] }) } })).status).toBe(400);
  expect((await mirela.send('look', { body: { change: edit({ values: { doneByActivities: [1] } }) } })).status).toBe(400);
  const taken = await mirela.call('look', { body: { change: edit({ values: { name: ' engine  CARE', code: 'VHF-1' } }) } });
  expect(taken.conflicts.map(({ code }) => code)).toEqual(['course name taken', 'course code taken']);
});

test('a course is found by its tags, which are kept once each and come back with undo', async () => {
  const list = async (query: object) => (await mirela.call('courses', { params: { groupId: 1 }, query })).courses.map(({ id }) => id);
  const tagged = async () => (await mirela.call('course', { params: { groupId: 1, courseId: engineCare } })).tags;
  const before = await tagged();
  const { changeId } = await mirela.apply({
    kind: 'edit-course',
    courseId: engineCare,
    values: { tags: [' Winter ', 'winter', 'harbour days'] },
  });
  expect(await tagged()).toEqual(['Winter', 'harbour days']);
  expect(await list({ tag: 'harbour days' })).toEqual([engineCare]);
  expect(await list({ words: 'harbour' })).toEqual([engineCare]);
  expect((await mirela.call('courses', { params: { groupId: 1 }, query: {} })).tags).toEqual(
    expect.arrayContaining(['Winter', 'harbour days']),
  );
  const file = await mirela.call('coursesFile', { params: { groupId: 1 }, query: { tag: 'Winter' } });
  expect(file).toContain('Winter; harbour days');
  await mirela.apply({ kind: 'undo', changeId });
  expect(await tagged()).toEqual(before);
});
