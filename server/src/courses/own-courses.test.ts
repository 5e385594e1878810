import type { Change } from '@gate-roster/contract';
import { draft, elsewhere, gullhaven } from '../testing/outside-changes.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/* Courses that a branch makes for itself: opened within it, and known to nobody else. */

const crew = 7;
let site: Site;
let mirela: Client;
let ottoline: Client;
beforeEach(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
  ottoline = await site.as('ottoline');
});
afterEach(() => site.stop());

const isAnswer = async (client: Client, change: Change): Promise<number> => (await client.send('look', { body: { change } })).status;
const makeOwn = (homeId: number | null, name = 'Slip rules'): Change => ({
  kind: 'make-courses',
  courses: [{ name, units: [{ name: 'Rules', activities: ['Read them'] }] }],
  homeId,
});
const idOf = async (name: string): Promise<number> =>
  (await execute<{ id: number }>(site.databaseUrl, `select id::int from course_now where name = '${name}'`))[0]?.id ?? 0;
const open = (courseId: number, groupId: number): Change => ({ kind: 'grant-access', end: [], begin: [{ ...draft, courseId, groupId }] });

test('a leader makes a course, fills it, opens it; a learner reads it, takes the file and ticks it off; all of it can be undone', async () => {
  await ottoline.apply(makeOwn(gullhaven));
  const courseId = await idOf('Slip rules');
  const params = { groupId: gullhaven, courseId };
  const { id: uploadId } = await ottoline.call('upload', {
    body: { fileName: 'slip.pdf', base64: Buffer.from('%PDF slip').toString('base64') },
  });
  const sheet = await ottoline.call('course', { params });
  expect(sheet).toMatchObject({
    mayEdit: true,
    home: { id: gullhaven },
    units: [{ activities: [{ finishedBy: 'learner', scored: false }] }],
  });
  const [unit] = sheet.units;
  const [activity] = unit?.activities ?? [];
  if (!unit || !activity) throw new Error('no activity');
  const content = { words: 'Keep clear of the winch.', link: 'https://slip.example/rules', uploadId };
  const edit = { kind: 'edit-course' as const, courseId, values: {}, units: [{ ...unit, activities: [{ ...activity, content }] }] };
  await ottoline.apply(edit);
  const { changeId } = await ottoline.apply(open(courseId, gullhaven));
  const bao = await site.as('bao');
  expect((await bao.call('myCourses', {})).courses).toContainEqual(expect.objectContaining({ id: courseId, open: true, ownActivities: 1 }));
  const work = await bao.call('myWork', { params: { courseId } });
  expect(work.activities).toMatchObject([{ content, finished: false }]);
  const file = await bao.send('activityFile', { params: { activityId: activity.id } });
  expect([file.status, await file.text()]).toEqual([200, '%PDF slip']);
  await bao.call('tickActivity', { params: { activityId: activity.id }, body: { finished: true } });
  expect((await bao.call('myCourses', {})).courses).toContainEqual(expect.objectContaining({ id: courseId, status: 'done' }));
  expect((await bao.call('myWhy', { params: { courseId } })).why).toContainEqual(
    expect.objectContaining({
      kind: 'grant',
      verdict: 'decided',
      effect: 'open',
      at: { id: gullhaven, name: 'Gullhaven' },
      outside: false,
    }),
  );
  await ottoline.apply({ kind: 'undo', changeId });
  // What was done stays; what is no longer open cannot be read any more.
  expect((await bao.call('myCourses', {})).courses).toContainEqual(expect.objectContaining({ id: courseId, status: 'done', open: false }));
  expect((await bao.send('activityFile', { params: { activityId: activity.id } })).status).toBe(404);
  // What the outside player would show has no place here, nor has a file that somebody else sent.
  const played = { ...edit, units: [{ ...unit, activities: [{ ...activity, finishedBy: 'player' as const, content: null }] }] };
  expect(await isAnswer(ottoline, played)).toBe(400);
  const { id: ofMirela } = await mirela.call('upload', { body: { fileName: 'a.txt', base64: 'YQ==' } });
  const stolen = { ...edit, units: [{ ...unit, activities: [{ ...activity, content: { ...content, uploadId: ofMirela } }] }] };
  expect(await isAnswer(ottoline, stolen)).toBe(404);
});

test('a leader elsewhere neither sees it, opens it nor learns of its name; an administrator opens it only at home, until it is everybody’s', async () => {
  await ottoline.apply(makeOwn(gullhaven));
  const courseId = await idOf('Slip rules');
  // Who leads the region beside.
  const [leader] = await execute<{ name: string; there: number }>(
    site.databaseUrl,
    `select n.sign_in_name as name, g.id::int as there from leadership l join personal_now n on n.person_id = l.person_id join group_now g on g.id = l.group_id
    where g.name = 'Middle Sound' and l.until_at is null and l.powers @> '{makeCourses}'`,
  );
  const { name, there } = leader ?? { name: '', there: 0 };
  const outside = await site.letIn(name);
  const listed = await outside.call('courses', { params: { groupId: there }, query: { state: 'all' } });
  expect(listed.courses.map(({ home }) => home)).toEqual(listed.courses.map(() => null));
  expect(listed.all).toBe(listed.courses.length);
  const [names, grid, found] = await Promise.all([
    outside.call('filterNames', { params: { groupId: there } }),
    outside.call('accessGrid', { params: { groupId: there } }),
    outside.call('find', { query: { q: 'Slip rules' } }),
  ]);
  expect([...names.courses, ...grid.courses, ...found.courses].map(({ id }) => id)).not.toContain(courseId);
  expect(grid.rows.every(({ cells }) => cells.length === grid.courses.length)).toBe(true);
  expect((await outside.send('course', { params: { groupId: there, courseId } })).status).toBe(404);
  const [activityId = 0] = (
    await execute<{ id: number }>(site.databaseUrl, `select id::int from activity_now where course_id = ${courseId}`)
  ).map(({ id }) => id);
  expect((await outside.send('activityFile', { params: { activityId } })).status).toBe(404);
  const attacks: Change[] = [
    open(courseId, there),
    { kind: 'edit-course', courseId, values: { name: 'Mine now' } },
    { kind: 'edit-course', courseId: 1, values: { name: 'Mine now' } },
    makeOwn(gullhaven, 'Theirs'),
    makeOwn(null, 'Everybody’s'),
    { kind: 'set-reminder', groupId: there, occasion: 'after due', courseId, values: 'nobody' },
  ];
  expect(await Promise.all(attacks.map((change) => isAnswer(outside, change)))).toEqual(attacks.map(() => 404));
  // The same name may be used in both branches: a clash would tell.
  expect(await isAnswer(outside, makeOwn(there))).toBe(200);
  expect((await outside.call('look', { body: { change: makeOwn(there) } })).conflicts).toEqual([]);

  const away = await mirela.call('look', { body: { change: open(courseId, elsewhere) } });
  expect(away.conflicts).toMatchObject([{ code: 'course of a branch', blocks: true }]);
  const toAll: Change = { kind: 'edit-course', courseId, values: { homeId: null } };
  expect(await isAnswer(ottoline, toAll)).toBe(400);
  await mirela.apply(open(courseId, crew));
  const { units } = await ottoline.call('course', { params: { groupId: gullhaven, courseId } });
  const edited = await ottoline.apply({
    kind: 'edit-course',
    courseId,
    values: {},
    units: units.map((unit) => ({ ...unit, name: 'Rules of the slip' })),
  });
  expect((await ottoline.call('look', { body: { change: { kind: 'undo', changeId: edited.changeId } } })).conflicts).toEqual([]);
  const { changeId } = await mirela.apply(toAll);
  expect((await mirela.call('look', { body: { change: open(courseId, elsewhere) } })).conflicts).toEqual([]);
  // What an administrator made everybody's is not the leader's to take back or to edit any more.
  expect(await isAnswer(ottoline, { kind: 'undo', changeId })).toBe(404);
  const late = await ottoline.call('look', { body: { change: { kind: 'undo', changeId: edited.changeId } } });
  expect(late.conflicts).toMatchObject([{ code: 'changed since', blocks: true }]);
  expect(await isAnswer(ottoline, { kind: 'edit-course', courseId, values: { name: 'Mine again' } })).toBe(404);
});

test('a leader’s open of an own course holds within the branch, and the course stays with what is left when its group goes', async () => {
  await ottoline.apply(makeOwn(crew));
  const courseId = await idOf('Slip rules');
  expect((await ottoline.call('look', { body: { change: open(courseId, gullhaven) } })).conflicts).toMatchObject([
    { code: 'course of a branch', blocks: true },
  ]);
  const looked = await ottoline.call('look', { body: { change: open(courseId, crew) } });
  expect([looked.conflicts, looked.gains.length]).toEqual([[], 1]);
  await ottoline.apply(open(courseId, crew));
  const { changeId } = await mirela.apply({ kind: 'delete-groups', groupIds: [crew], subgroups: 'go too' });
  expect(await mirela.call('course', { params: { groupId: gullhaven, courseId } })).toMatchObject({ home: { id: gullhaven } });
  await mirela.apply({ kind: 'undo', changeId });
  expect(await mirela.call('course', { params: { groupId: gullhaven, courseId } })).toMatchObject({ home: { id: crew } });
});

test('who leads everybody makes courses of their own, but everybody’s stay the administrator’s, also by undo', async () => {
  await execute(
    site.databaseUrl,
    `insert into leadership (person_id, group_id, powers) select person_id, 1, powers from leadership where person_id = 2 and until_at is null`,
  );
  const leader = await site.as('ottoline');
  expect(await isAnswer(leader, makeOwn(1))).toBe(200);
  const rename: Change = { kind: 'edit-course', courseId: 1, values: { name: 'Cold water' } };
  expect(await isAnswer(leader, rename)).toBe(404);
  const { changeId } = await mirela.apply(rename);
  expect(await isAnswer(leader, { kind: 'undo', changeId })).toBe(404);
});
