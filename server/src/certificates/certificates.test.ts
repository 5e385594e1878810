import type { Change } from '@gate-roster/contract';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';
import { elsewhere, gullhaven, plainCertificate } from '../testing/outside-changes.ts';
import { giveDue } from './give-due.ts';

/* Certificates: who has earned one, giving, withdrawing, replacing, and what a stranger learns of them. */

let site: Site;
let mirela: Client;
let ottoline: Client;
const casualtyCare = 2;
const query = <T extends object>(text: string, values: unknown[] = []): Promise<T[]> => execute<T>(site.databaseUrl, text, values);

beforeEach(async () => {
  site = await startSite();
  [mirela, ottoline] = await Promise.all([site.as('mirela'), site.as('ottoline')]);
});
afterEach(() => site.stop());

const make = async (who: Client, values: Partial<typeof plainCertificate> = {}, groupId = gullhaven): Promise<number> => {
  await who.apply({
    kind: 'set-certificate',
    formId: null,
    groupId,
    values: { ...plainCertificate, courseId: casualtyCare, ...values },
  });
  const [found] = await query<{ id: number }>(`select max(form_id)::int as id from certificate_form_version`);
  return found?.id ?? 0;
};
const listed = async (who: Client, formId: number, list: 'given' | 'earned' | 'withdrawn') =>
  (await who.call('certificateHolders', { params: { groupId: gullhaven, formId }, query: { list } })).people;
const stops = async (who: Client, change: Change): Promise<string[]> =>
  (await who.call('look', { body: { change } })).conflicts.flatMap(({ code, blocks }) => (blocks ? [code] : []));
/** Counted learners of the branch who have done a course, asked of the rows themselves. */
const doneIn = (courseId: number): Promise<{ id: number; day: string }[]> =>
  query(
    `select distinct p.id::int as id, e.done_day::text as day from person p join membership m on m.person_id = p.id and m.until_at is null
     join group_branch b on b.group_id = m.group_id and b.ancestor_id = ${gullhaven} join enrolment e on e.person_id = p.id and e.is_current and e.course_id = ${courseId}
     where p.counted and e.status = 'done' and not e.exempt and not e.done_by_narrowing order by 1`,
  );

test('earned is who has done it; given by a leader to those alone; a number is checked by anybody, the name only when its holder allows', async () => {
  const formId = await make(ottoline);
  const done = await doneIn(casualtyCare);
  const earned = await listed(ottoline, formId, 'earned');
  expect(earned.map(({ personId, day }) => ({ id: personId, day })).sort((a, b) => a.id - b.id)).toEqual(done);
  const [first] = done;
  const [notDone] = await query<{ id: number }>(
    `select min(m.person_id)::int as id from membership m where m.until_at is null and m.group_id = ${gullhaven} and not exists (select 1 from enrolment e where e.person_id = m.person_id and e.course_id = ${casualtyCare} and e.status = 'done')`,
  );
  expect(await stops(ottoline, { kind: 'give-certificates', formId, personIds: [notDone?.id ?? 0] })).toEqual(['not earned']);
  await ottoline.apply({ kind: 'give-certificates', formId, personIds: [first?.id ?? 0] });
  const [given] = await listed(ottoline, formId, 'given');
  expect(given).toMatchObject({ personId: first?.id, state: 'valid', givenBy: 'Ottoline Brandt', day: first?.day });
  const stranger = await site.as(null);
  const number = given?.number ?? '';
  const checked = await stranger.call('checkCertificate', { params: { number: number.toLowerCase() } });
  expect(checked).toMatchObject({ number, state: 'valid', about: 'Casualty care', name: null, day: first?.day });
  await query(`update certificate set name_shown = true where number = $1`, [number]);
  expect((await stranger.call('checkCertificate', { params: { number } })).name).not.toBeNull();
  await mirela.apply({ kind: 'erase-person', personId: first?.id ?? 0 });
  expect(await stranger.call('checkCertificate', { params: { number } })).toMatchObject({ state: 'valid', name: null });
});

test('withdrawn and replaced ones say so, and an undo makes the same number valid again', async () => {
  const formId = await make(ottoline);
  const people = (await doneIn(casualtyCare)).slice(0, 2).map(({ id }) => id);
  await ottoline.apply({ kind: 'give-certificates', formId, personIds: people });
  const numbers = (await listed(ottoline, formId, 'given')).map(({ number }) => number ?? '');
  const state = async (number: string | undefined): Promise<string> =>
    (await mirela.call('checkCertificate', { params: { number: number ?? '' } })).state;
  const { changeId } = await ottoline.apply({ kind: 'withdraw-certificates', numbers: numbers.slice(0, 1), replace: false });
  expect(await Promise.all(numbers.map(state))).toEqual(['withdrawn', 'valid']);
  expect((await listed(ottoline, formId, 'withdrawn')).map(({ number }) => number)).toEqual(numbers.slice(0, 1));
  // A learner whose certificate was withdrawn has not earned it again by the same work.
  expect((await listed(ottoline, formId, 'earned')).filter(({ personId }) => people.includes(personId))).toEqual([]);
  await ottoline.apply({ kind: 'undo', changeId });
  expect(await state(numbers[0])).toBe('valid');
  await ottoline.apply({ kind: 'withdraw-certificates', numbers: numbers.slice(1), replace: true });
  expect(await Promise.all(numbers.map(state))).toEqual(['valid', 'replaced']);
  const now = (await listed(ottoline, formId, 'given')).map(({ number }) => number);
  expect(now).toHaveLength(2);
  expect(now).not.toContain(numbers[1]);
});

test('one that gives itself gives to each once, and not for what is done only because access narrowed', async () => {
  const [narrowed, ...others] = (await doneIn(casualtyCare)).map(({ id }) => id);
  await query(`update enrolment set done_by_narrowing = true where person_id = $1 and course_id = ${casualtyCare}`, [narrowed]);
  const formId = await make(ottoline, { byItself: true });
  // The site's own worker gives them too; the second of the two finds nothing left to give.
  await giveDue(site.deps.db, new Date());
  await giveDue(site.deps.db, new Date());
  const given = await query<{ id: number }>(`select person_id::int as id from certificate where form_id = $1 order by 1`, [formId]);
  expect(given.map(({ id }) => id)).toEqual(others);
  expect((await listed(ottoline, formId, 'given')).every(({ givenBy }) => givenBy === null)).toBe(true);
});

test('a set is earned when every course of it is done or exempt; so is all that a group opens', async () => {
  const setId = 1;
  const formId = await make(mirela, { courseId: null, courseSetId: setId } as never);
  const expected = await query<{ id: number }>(
    `select p.id::int as id from person p where p.counted and exists (select 1 from membership m join group_branch b on b.group_id = m.group_id and b.ancestor_id = ${gullhaven} where m.person_id = p.id and m.until_at is null)
      and not exists (select 1 from course_in_set i where i.course_set_id = ${setId} and not exists (select 1 from enrolment e where e.person_id = p.id and e.course_id = i.course_id and e.is_current and ((e.status = 'done' and not e.done_by_narrowing) or e.exempt)))
      and exists (select 1 from course_in_set i join enrolment e on e.course_id = i.course_id and e.person_id = p.id and e.is_current and e.status = 'done' and not e.exempt where i.course_set_id = ${setId}) order by 1`,
  );
  const ofSet = (await listed(mirela, formId, 'earned')).map(({ personId }) => personId).sort((a, b) => a - b);
  expect(ofSet).toEqual(expected.map(({ id }) => id));
  const all = await make(mirela, { courseId: null } as never);
  for (const { personId } of await listed(mirela, all, 'earned')) {
    const open = await query<{ status: string }>(
      `select coalesce(e.status, 'not begun') as status from person p join entitlement x on ((not p.own_windows and x.set_id = p.set_id) or (p.own_windows and x.person_id = p.id)) and coalesce(x.first_day <= current_date, true) and coalesce(x.last_day >= current_date, true)
       left join enrolment e on e.person_id = p.id and e.course_id = x.course_id and e.is_current where p.id = $1 and not coalesce(e.exempt, false) and x.via_groups && array(select group_id from group_branch where ancestor_id = ${gullhaven})`,
      [personId],
    );
    expect(open.map(({ status }) => status)).toEqual(open.map(() => 'done'));
  }
});

test('a leader gives those of groups above to their own only, and sees none of other branches', async () => {
  const above = await make(mirela, {}, 2);
  const forms = (await ottoline.call('certificates', { params: { groupId: gullhaven } })).forms;
  expect(forms.find(({ id }) => id === above)).toMatchObject({ mayEdit: false, group: { name: '' } });
  const [foreign] = await query<{ id: number }>(
    `select min(person_id)::int as id from membership where group_id = ${elsewhere} and until_at is null`,
  );
  expect(
    (await ottoline.send('look', { body: { change: { kind: 'give-certificates', formId: above, personIds: [foreign?.id ?? 0] } } })).status,
  ).toBe(404);
  expect((await ottoline.send('look', { body: { change: { kind: 'end-certificate', formId: above } } })).status).toBe(404);
  expect(
    await stops(mirela, { kind: 'set-certificate', formId: above, groupId: 2, values: { ...plainCertificate, words: '{name} {mark}' } }),
  ).toEqual(['words unknown field']);
});

test('guessing numbers is slowed down, right ones are not counted', async () => {
  const stranger = await site.as(null);
  const [known] = await query<{ number: string }>(`select number from certificate where until_at is null limit 1`);
  const ask = async (number: string): Promise<number> => (await stranger.send('checkCertificate', { params: { number } })).status;
  for (let n = 0; n < 70; n++) expect(await ask(known?.number ?? '')).toBe(200);
  const statuses: number[] = [];
  for (let n = 0; n < 62; n++) statuses.push(await ask('AAAACCCCDDDD'));
  expect([statuses[0], statuses.at(-1)]).toEqual([404, 429]);
});
