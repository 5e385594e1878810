import type { Exception, PersonSheet } from '@gate-roster/contract';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/* What holds for one person in one course: in reports, on the sheet, and when it is taken back. */

const [gullhaven, coldWater] = [3, 1];
let site: Site;
let mirela: Client;
let ottoline: Client;
let nextWeek: string;
beforeEach(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
  ottoline = await site.as('ottoline');
  nextWeek = new Date(Date.now() + 7 * 86_400_000).toISOString().slice(0, 10);
});
afterEach(() => site.stop());

const except = (personIds: number[], exception: Exception) =>
  ({ kind: 'except-people', groupId: gullhaven, personIds, courseId: coldWater, exception }) as const;
const courseOf = async (who: Client, personId: number): Promise<PersonSheet['courses'][number] | undefined> =>
  (await who.call('person', { params: { personId } })).courses.find(({ id }) => id === coldWater);
const tally = async (): Promise<Record<string, number>> => {
  const { courses, rows } = await ottoline.call('progress', { params: { groupId: gullhaven } });
  const { all, done, overdue, exempt } = rows[0]?.cells[courses.findIndex(({ id }) => id === coldWater)] ?? {};
  return { all: all ?? 0, done: done ?? 0, overdue: overdue ?? 0, exempt: exempt ?? 0 };
};
/** People of Gullhaven and nowhere else who are late with the course. */
async function late(): Promise<number[]> {
  const { enrolments } = await ottoline.call('progressPeople', {
    params: { groupId: gullhaven },
    query: { courseId: coldWater, limit: 200 },
  });
  const inside = await execute<{ id: number }>(
    site.databaseUrl,
    `select person_id::int as id from membership where until_at is null group by 1
     having bool_and(group_id in (select group_id from group_branch where ancestor_id = ${gullhaven})) and count(*) = 1`,
  );
  const alone = new Set(inside.map(({ id }) => id));
  return enrolments.filter(({ personId, lateness }) => lateness === 'overdue' && alone.has(personId)).map(({ personId }) => personId);
}

test('more time moves the due day and nothing else, for several at once, and undo gives it back', async () => {
  const [one = 0, other = 0] = await late();
  const before = [await tally(), await courseOf(ottoline, one)];
  const { changeId } = await ottoline.apply(except([one, other], { what: 'more time', day: nextWeek }));
  const sheet = await courseOf(ottoline, one);
  expect(sheet).toMatchObject({ open: true, due: nextWeek, lateness: 'due soon', exceptions: [{ what: 'more time', day: nextWeek }] });
  expect(await tally()).toEqual({ ...(before[0] as object), overdue: ((before[0] as Record<string, number>)['overdue'] ?? 0) - 2 });
  // A day that is past moves nothing.
  await ottoline.apply(except([one], { what: 'more time', day: '2020-01-01' }));
  expect((await courseOf(ottoline, one))?.due).toBe((before[1] as PersonSheet['courses'][number]).due);
  await ottoline.apply(except([one], { what: 'none' }));
  const look = await ottoline.call('look', { body: { change: { kind: 'undo', changeId } } });
  // Of two rows, one was ended since by hand.
  expect(look.conflicts).toMatchObject([{ code: 'changed since', blocks: false, count: 1 }]);
  await ottoline.apply({ kind: 'undo', changeId });
  expect([await tally(), await courseOf(ottoline, one)]).toEqual(before);
});

test('who is exempt leaves numerator and denominator; done elsewhere counts until it is taken back, and then own work counts', async () => {
  const [one = 0, other = 0] = await late();
  const before = await tally();
  const exempted = await ottoline.apply(except([one], { what: 'exempt', reason: 'At sea' }));
  expect(await tally()).toMatchObject({ exempt: (before['exempt'] ?? 0) + 1, overdue: (before['overdue'] ?? 0) - 1 });
  const counted = await ottoline.apply(
    except([other], { what: 'done elsewhere', day: '2026-01-05', reason: 'Coast course', proof: 'https://proof.example/1' }),
  );
  expect(await courseOf(ottoline, other)).toMatchObject({
    status: 'done',
    exceptions: [{ reason: 'Coast course', proof: 'https://proof.example/1' }],
  });
  expect(await tally()).toMatchObject({ done: (before['done'] ?? 0) + 1 });
  for (const { changeId } of [counted, exempted]) await ottoline.apply({ kind: 'undo', changeId });
  expect(await tally()).toEqual(before);
  expect((await courseOf(ottoline, other))?.exceptions).toEqual([]);
});

test('a leader exempts nobody whose course is open through other groups too, and ends nothing that was said above', async () => {
  const [person] = await execute<{ id: number }>(
    site.databaseUrl,
    `select m.person_id::int as id from membership m join membership o on o.person_id = m.person_id and o.until_at is null
     where m.until_at is null and m.group_id in (select group_id from group_branch where ancestor_id = ${gullhaven}) and o.group_id not in (select group_id from group_branch where ancestor_id = ${gullhaven})
       and not exists (select 1 from enrolment e where e.person_id = m.person_id and e.course_id = ${coldWater} and e.exempt) order by 1 limit 1`,
  );
  const id = person?.id ?? 0;
  const asked = except([id], { what: 'exempt', reason: null });
  const look = await ottoline.call('look', { body: { change: asked } });
  expect(look.conflicts).toMatchObject([{ code: 'open elsewhere too', blocks: true, count: 1 }, { code: 'nothing to do' }]);
  await mirela.apply(asked);
  expect((await courseOf(ottoline, id))?.exceptions).toMatchObject([{ what: 'exempt' }]);
  const end = await ottoline.call('look', { body: { change: except([id], { what: 'none' }) } });
  expect(end.conflicts).toMatchObject([{ code: 'nothing to do', blocks: true }]);
});

test('a course is opened and blocked for one person; who gains and who loses is said', async () => {
  const [one = 0] = await late();
  const blocked = await ottoline.apply(except([one], { what: 'block', firstDay: null, lastDay: null }));
  expect((await courseOf(ottoline, one))?.open).toBe(false);
  const back = await ottoline.call('look', { body: { change: { kind: 'undo', changeId: blocked.changeId } } });
  expect(back.gains).toMatchObject([{ courseId: coldWater, people: 1 }]);
  await ottoline.apply(except([one], { what: 'open', firstDay: null, lastDay: null, units: null, due: null }));
  expect(await courseOf(ottoline, one)).toMatchObject({ open: true, due: null });
});
