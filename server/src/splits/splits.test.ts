import type { Change, SplitPart } from '@gate-roster/contract';
import fc from 'fast-check';
import { randomUUID } from 'node:crypto';
import { takeReports } from '../progress/take-reports.ts';
import { crew, draft, gullhaven } from '../testing/outside-changes.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/* Parts of a group: what is open to its people while a split runs, and that everybody has what they had when it ends. */

const inshore = 4;
let site: Site;
let mirela: Client;
let ottoline: Client;
let member: Client;
let memberId = 0;
beforeAll(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
  ottoline = await site.as('ottoline');
  // Somebody of this crew alone, who has open what the crew has.
  const [learner] = await query<{ id: number; name: string }>(
    `select m.person_id::int as id, n.sign_in_name::text as name from membership m join personal_now n on n.person_id = m.person_id join person p on p.id = m.person_id
     where m.group_id = ${inshore} and m.until_at is null and n.sign_in_name is not null and not p.own_windows and p.counted
       and (select count(*) from membership o where o.person_id = m.person_id and o.until_at is null) = 1 order by 1 limit 1`,
  );
  memberId = learner?.id ?? 0;
  member = await site.letIn(learner?.name ?? '');
});
afterAll(() => site.stop());
afterEach(() => query(`update split_version set until_at = now() where until_at is null and split_id > 2`));

const query = <T extends object>(text: string) => execute<T>(site.databaseUrl, text);
const later = (hours: number): string => new Date(Date.now() + hours * 3_600_000).toISOString();
const part = (more: Partial<SplitPart>): SplitPart => ({
  key: 1,
  name: 'Pool',
  leaderId: null,
  isOn: true,
  allowance: null,
  link: null,
  words: '',
  personIds: [],
  ...more,
});
const courseOf = async (name: string) => {
  const [found] = await query<{ id: number; units: number[] }>(
    `select c.id::int, (select jsonb_agg(u.id order by u.position) from unit_now u where u.course_id = c.id) as units from course_now c where c.name = '${name}'`,
  );
  return found ?? { id: 0, units: [] };
};
async function begin(by: Client, parts: SplitPart[], { groupId = inshore, hours = 2 } = {}): Promise<number> {
  await by.apply({ kind: 'set-split', splitId: null, groupId, name: 'Drill', parts });
  const [made] = await query<{ id: number }>(`select max(id)::int as id from split`);
  await by.apply({ kind: 'start-split', splitId: made?.id ?? 0, until: later(hours) });
  return made?.id ?? 0;
}
const drop = (splitId: number) => mirela.apply({ kind: 'delete-split', splitId });
const courses = async (who: Client) => (await who.call('myCourses', {})).courses;
const shown = async (who: Client) =>
  (await courses(who)).map(({ id, open, units, status, due, lateness }) => ({ id, open, units, status, due, lateness }));

test('a part leaves some units, the learner’s page and the player follow, and afterwards everything is as before', async () => {
  const before = await shown(member);
  const water = await courseOf('Cold-water immersion');
  const splitId = await begin(ottoline, [
    part({
      allowance: { mode: 'only', courses: [{ courseId: water.id, units: water.units.slice(0, 1) }] },
      words: 'Throw lines are at the deep end.',
      link: 'https://films.example/mayday',
      personIds: [memberId],
    }),
  ]);
  const { courses: now, forNow } = await member.call('myCourses', {});
  expect(forNow.map((each) => [each.words, each.link])).toEqual([['Throw lines are at the deep end.', 'https://films.example/mayday']]);
  expect(now.filter(({ open }) => open).map(({ id, units }) => [id, units])).toEqual([[water.id, 1]]);
  expect(now.map(({ id, status, due }) => [id, status, due]).sort()).toEqual(before.map(({ id, status, due }) => [id, status, due]).sort());
  const other = before.find(({ id, open }) => open && id !== water.id)?.id ?? 0;
  for (const [courseId, does] of [
    [water.id, 'narrows'],
    [other, 'closes'],
  ] as const) {
    const { parts } = await ottoline.call('accessWhy', { params: { groupId: inshore, courseId } });
    expect(parts.filter((each) => each.splitId === splitId)).toMatchObject([{ split: 'Drill', does }]);
  }
  expect((await member.send('launch', { params: { courseId: other } })).status).toBe(422);
  expect((await member.send('launch', { params: { courseId: water.id } })).status).toBe(200);
  await ottoline.apply({ kind: 'stop-split', splitId });
  expect(await shown(member)).toEqual(before);
  await drop(splitId);
});

test('work begun while a unit was open counts for ten minutes after it was put aside, and no longer', async () => {
  const water = await courseOf('Cold-water immersion');
  const unit = water.units[0] ?? 0;
  const [activity] = await query<{ id: number; source: number }>(
    `select a.id::int, c.source_id::int as source from activity_now a join course c on c.id = a.course_id where a.unit_id = ${unit} order by a.position limit 1`,
  );
  const about = { personId: memberId, courseId: water.id, unitId: unit, digest: '', said: null };
  const splitId = await begin(mirela, [
    part({ allowance: { mode: 'none', courses: [{ courseId: water.id, units: [unit] }] }, personIds: [memberId] }),
  ]);
  const report = (seconds: number, now = new Date()) =>
    takeReports(
      site.deps.db,
      activity?.source ?? 0,
      [{ ...about, id: randomUUID(), activityId: activity?.id ?? 0, finished: true, score: null, at: now, seconds }],
      now,
    );
  await expect(report(0)).resolves.toEqual({ fresh: 1, notOpen: 1 });
  await expect(report(60)).resolves.toEqual({ fresh: 1, notOpen: 0 });
  // The split began eleven minutes ago: what was begun before has come too late.
  await query(
    `update split_version set from_at = now() - interval '11 minutes', runs_from = now() - interval '11 minutes' where split_id = ${splitId} and until_at is null`,
  );
  await query(`update split_member set from_at = now() - interval '11 minutes' where split_id = ${splitId}`);
  await expect(report(720)).resolves.toEqual({ fresh: 1, notOpen: 1 });
  await drop(splitId);
});

test('a leader’s split opens nothing that the leader could not, and is over with the power', async () => {
  const [closed] = await query<{ id: number }>(
    `select c.id::int from course_now c where c.terms <> 'everyone' and not c.archived and not exists (select 1 from entitlement e where e.course_id = c.id and e.via_groups && array[${gullhaven}, ${inshore}, ${crew}]::bigint[]) order by 1 limit 1`,
  );
  const also = part({ allowance: { mode: 'as well', courses: [{ courseId: closed?.id ?? 0, units: null }] }, personIds: [memberId] });
  const theirs = await begin(ottoline, [also]);
  expect((await courses(member)).filter(({ id, open }) => id === closed?.id && open)).toEqual([]);
  await drop(theirs);
  const own = await begin(mirela, [also]);
  expect((await courses(member)).filter(({ id, open }) => id === closed?.id && open)).toHaveLength(1);
  // A leader below cannot change what an administrator set, and can end it.
  for (const change of [
    { kind: 'set-split', splitId: own, groupId: inshore, name: 'Mine', parts: [also] },
    { kind: 'delete-split', splitId: own },
  ] satisfies Change[])
    expect((await ottoline.send('look', { body: { change } })).status).toBe(404);
  await ottoline.apply({ kind: 'stop-split', splitId: own });
  expect((await courses(member)).filter(({ id, open }) => id === closed?.id && open)).toEqual([]);
  await drop(own);

  const before = await shown(member);
  const shut = await begin(ottoline, [part({ allowance: { mode: 'only', courses: [] }, personIds: [memberId] })]);
  expect((await courses(member)).some(({ open }) => open)).toBe(false);
  await query(
    `update leadership set powers = array_remove(powers, 'openCourses') where until_at is null and group_id = ${gullhaven} and person_id = ${(await ottoline.call('me', {})).personId}`,
  );
  expect(await shown(member)).toEqual(before);
  await query(
    `update leadership set powers = powers || 'openCourses'::text where until_at is null and group_id = ${gullhaven} and person_id = ${(await ottoline.call('me', {})).personId}`,
  );
  await drop(shut);
});

test('what asks for a seat is offered only to those who have one, unless the licences allow it; then it stands in the ledger', async () => {
  const [course] = await query<{ id: number }>(
    `select c.id::int from course_now c where c.terms = 'group' and not c.archived and not exists (select 1 from licence_course l where l.course_id = c.id)
       and not exists (select 1 from entitlement e where e.course_id = c.id and e.via_groups && array[${inshore}]::bigint[]) order by 1 desc limit 1`,
  );
  const courseId = course?.id ?? 0;
  const licence = {
    name: 'Two',
    seats: 2,
    about: { course: courseId },
    homeId: gullhaven,
    firstDay: null,
    lastDay: null,
    onLeaving: 'comes back' as const,
    byHand: false,
  };
  await mirela.apply({ kind: 'make-licence', values: licence });
  const [made] = await query<{ id: number }>(`select max(licence_id)::int as id from licence_now`);
  const licenceId = made?.id ?? 0;
  await mirela.apply({
    kind: 'grant-access',
    end: [],
    begin: [{ ...draft, groupId: gullhaven, courseId, withSubgroups: false, payers: { licences: [licenceId], others: false } }],
  });
  const splitId = await begin(ottoline, [
    part({ allowance: { mode: 'as well', courses: [{ courseId, units: null }] }, personIds: [memberId] }),
  ]);
  const isOpen = async () => (await courses(member)).some(({ id, open }) => id === courseId && open);
  expect(await isOpen()).toBe(false);
  await mirela.apply({ kind: 'edit-licence', licenceId, values: { duringSplits: true } });
  expect(await isOpen()).toBe(true);
  expect((await member.send('launch', { params: { courseId } })).status).toBe(200);
  const { lines } = await mirela.call('ledger', { params: { groupId: gullhaven }, query: { licence: licenceId } });
  expect(lines.filter(({ what }) => what === 'lent').map(({ personId, group }) => [personId, group?.id])).toEqual([[memberId, inshore]]);
  await drop(splitId);
});

test('random splits: the page shows what each part leaves, nobody is in two that run, undo puts everything back', async () => {
  const [water, radio] = [await courseOf('Cold-water immersion'), await courseOf('VHF radio')];
  const members = (
    await query<{ id: number }>(`select person_id::int as id from membership where group_id = ${inshore} and until_at is null order by 1`)
  ).map(({ id }) => id);
  const before = await shown(member);
  const allowances = fc.option(
    fc.record({
      mode: fc.constantFrom('only' as const, 'none' as const),
      courses: fc.subarray([water, radio].map(({ id, units }) => ({ courseId: id, units: units.slice(0, 1) }))),
    }),
  );
  await fc.assert(
    fc.asyncProperty(fc.array(allowances, { minLength: 1, maxLength: 3 }), fc.nat(), fc.boolean(), async (list, at, isOn) => {
      const parts = list.map((allowance, index) =>
        part({
          key: index + 1,
          isOn,
          allowance,
          personIds: members
            .filter((id, place) => id !== memberId && place % list.length === index)
            .concat(index === at % list.length ? [memberId] : []),
        }),
      );
      await ottoline.apply({ kind: 'set-split', splitId: null, groupId: inshore, name: 'Drill', parts });
      const [made] = await query<{ id: number }>(`select max(id)::int as id from split`);
      const start: Change = { kind: 'start-split', splitId: made?.id ?? 0, until: later(1) };
      const look = await ottoline.call('look', { body: { change: start } });
      if (!isOn) return expect(look.conflicts.map(({ code }) => code)).toEqual(['nobody in parts']);
      const { changeId } = await ottoline.apply(start);
      const mine = list[at % list.length];
      const left = (id: number, units: number): number => {
        const named = mine?.courses.find(({ courseId }) => courseId === id)?.units.length ?? 0;
        return mine === null || mine === undefined ? units : mine.mode === 'only' ? Math.min(named, units) : units - named;
      };
      const expected = before.filter(({ open }) => open).flatMap(({ id, units }) => (left(id, units) > 0 ? [[id, left(id, units)]] : []));
      const now = (await shown(member)).filter(({ open }) => open).map(({ id, units }) => [id, units]);
      expect(now.sort()).toEqual(expected.sort());
      await mirela.apply({ kind: 'set-split', splitId: null, groupId: inshore, name: 'Beside', parts: [part({ personIds: [memberId] })] });
      const [second] = await query<{ id: number }>(`select max(id)::int as id from split`);
      const clash = await mirela.call('look', { body: { change: { kind: 'start-split', splitId: second?.id ?? 0, until: later(1) } } });
      expect(clash.conflicts.map(({ code }) => code)).toEqual(['in another split']);
      await ottoline.apply({ kind: 'undo', changeId });
      expect(await shown(member)).toEqual(before);
      for (const id of [made?.id ?? 0, second?.id ?? 0]) await drop(id);
    }),
    { numRuns: 8 },
  );
});

test('nobody is in two parts, nobody from elsewhere is taken in, and it ends in time', async () => {
  const [stranger] = await query<{ id: number }>(
    `select min(person_id)::int as id from membership m where until_at is null and group_id = 12`,
  );
  const look = (change: Change) => ottoline.call('look', { body: { change } });
  const set = (parts: SplitPart[]): Change => ({ kind: 'set-split', splitId: null, groupId: inshore, name: 'Drill', parts });
  const codes = async (change: Change) => (await look(change)).conflicts.map(({ code, blocks, about }) => [code, blocks, about.length]);
  expect(await codes(set([part({ personIds: [memberId] }), part({ key: 2, personIds: [memberId] })]))).toEqual([['in two parts', true, 1]]);
  // Somebody of another branch is as little known as somebody who left.
  expect(await codes(set([part({ personIds: [stranger?.id ?? 0] })]))).toEqual([['gone since', false, 0]]);
  await ottoline.apply(set([part({ allowance: { mode: 'as well', courses: [{ courseId: 1, units: null }] }, personIds: [memberId] })]));
  const [made] = await query<{ id: number }>(`select max(id)::int as id from split`);
  const start = (hours: number): Change => ({ kind: 'start-split', splitId: made?.id ?? 0, until: later(hours) });
  expect(await codes(start(25))).toEqual([['runs too long', true, 0]]);
  expect(await codes(start(-1))).toEqual([['time is past', true, 0]]);
  await ottoline.apply(start(1));
  const running = (await ottoline.call('splits', { params: { groupId: inshore } })).splits.find(({ id }) => id === made?.id);
  expect(running?.runsUntil).not.toBeNull();
  await query(
    `update split_version set runs_until = now() - interval '1 second', runs_from = now() - interval '1 minute' where split_id = ${made?.id ?? 0} and until_at is null`,
  );
  expect((await member.call('myCourses', {})).forNow).toEqual([]);
  await drop(made?.id ?? 0);
});
