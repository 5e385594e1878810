import type { Change } from '@gate-roster/contract';
import { randomUUID } from 'node:crypto';
import { addDays } from '@gate-roster/core';
import { turnDay } from '../day-turn.ts';
import { plainCode } from '../entry/plain-code.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/* Partner crews buy seats: 92 for boat handling, all in use, and five people in line. */

const [partners, ferries, solan, harbours, quay] = [38, 39, 42, 43, 45];
const boats = 1;
const boatHandling = 5;
let site: Site;
let mirela: Client;
let clock = new Date();
beforeEach(async () => {
  clock = new Date();
  site = await startSite({ now: () => clock });
  mirela = await site.as('mirela');
});
afterEach(() => site.stop());

const query = <T extends object>(text: string): Promise<T[]> => execute<T>(site.databaseUrl, text);
const line = async (): Promise<string[]> =>
  (await mirela.call('seatPeople', { params: { groupId: 1 }, query: { list: 'in line' } })).people.map(({ name }) => name);
const inUse = async (groupId = partners): Promise<number> => {
  const { licences } = await mirela.call('seats', { params: { groupId } });
  return licences.find(({ id }) => id === boats)?.groups.find(({ id }) => id === groupId)?.used ?? -1;
};
const look = (change: Change) => mirela.call('look', { body: { change } });
const roster = (names: string[], into = harbours): Change => ({
  kind: 'bring-in-roster',
  into,
  fileName: 'harbours.csv',
  hasGroupColumn: false,
  dateOrder: 'yearFirst',
  rows: names.map((fullName, index) => ({ row: index + 2, cells: { fullName } })),
});
const seatsTo = (seats: number): Change => ({ kind: 'edit-licence', licenceId: boats, values: { seats } });
const holdersOf = (groupId: number): Promise<{ id: number; begun: boolean }[]> =>
  query(
    `select s.person_id::int as id, exists (select 1 from enrolment e where e.person_id = s.person_id and e.course_id = ${boatHandling} and e.status <> 'not begun') as begun
     from seat s where s.licence_id = ${boats} and s.until_at is null and s.group_id = ${groupId}
       and (select count(*) from membership m where m.person_id = s.person_id and m.until_at is null) = 1 order by 2, 1`,
  );

test('a file says before which rows would stand in line, in its order, and its undo takes them out of the line again', async () => {
  const [before, waiting] = [await inUse(), await line()];
  await mirela.apply(seatsTo(94 + waiting.length));
  expect(await line()).toEqual([]);
  const change = roster(['Anka One', 'Berit Two', 'Cato Three', 'Dag Four']);
  const { seats } = await look(change);
  expect(seats).toEqual({
    ...{ day: null, needed: 4, free: 2, fromLine: 0, ended: 0, moved: 0, leftLine: 0, inLine: 2, rows: [4, 5] },
    short: [expect.objectContaining({ licenceId: boats, missing: 2, waiting: 0, raise: false })],
  });
  const { changeId } = await mirela.apply(change);
  expect(await line()).toEqual(['Cato Three', 'Dag Four']);
  expect(await inUse()).toBe(before + waiting.length + 2);
  await mirela.apply({ kind: 'undo', changeId });
  expect([await line(), await inUse()]).toEqual([[], before + waiting.length]);
  expect(await query(`select 1 from personal where family_name = 'Three'`)).toEqual([]);
});

test('more seats go to the first in line, fewer take none away and are shown as over', async () => {
  const waiting = await line();
  expect(waiting).toHaveLength(5);
  const more = await look(seatsTo(94));
  expect(more.seats).toMatchObject({ needed: 0, fromLine: 2, inLine: 0 });
  const { people } = await mirela.call('lookPeople', { body: { change: seatsTo(94), list: 'fromLine', courseId: null, after: null } });
  expect(people.map(({ name }) => name).sort()).toEqual(waiting.slice(0, 2).sort());
  const { changeId } = await mirela.apply(seatsTo(94));
  expect(await line()).toEqual(waiting.slice(2));
  await mirela.apply({ kind: 'undo', changeId });
  // What somebody has got is not taken from them: the licence is over by two.
  expect([await inUse(), await line()]).toEqual([94, waiting.slice(2)]);
  const [licence] = (await mirela.call('seats', { params: { groupId: partners } })).licences;
  expect(licence?.groups[0]?.free).toBe(-2);
});

test('a limit holds at its level while there are seats above it', async () => {
  await mirela.apply({ kind: 'limit-seats', licenceId: boats, limits: [{ groupId: quay, most: 0 }] });
  await mirela.apply(seatsTo(200));
  const waiting = await line();
  expect(waiting.length).toBeGreaterThan(0);
  const { seats } = await look({ kind: 'limit-seats', licenceId: boats, limits: [{ groupId: quay, most: null }] });
  expect(seats.fromLine).toBe(waiting.length);
});

test('of twenty who join at once as many get a seat as there are, the others are told and line up', async () => {
  await mirela.apply(seatsTo(92 + 5 + 3));
  const { changeId: _made } = await mirela.apply({ kind: 'make-code', values: { ...plainCode, groupIds: [harbours] } });
  const code = (await mirela.call('codes', { params: { groupId: 1 } })).codes[0]?.code ?? '';
  const outcomes = await Promise.all(
    Array.from({ length: 20 }, async (_, index) => {
      const stranger = await site.as(null);
      const given = { givenName: `Joiner ${index}`, familyName: 'Quick', email: '', idNumber: '', answers: {} };
      return stranger.call('join', { body: { requestId: randomUUID(), code, password: 'four quiet harbour seals', given } });
    }),
  );
  expect(outcomes.filter(({ inLine }) => inLine.length === 0)).toHaveLength(3);
  expect(await inUse()).toBe(100);
  expect((await mirela.call('seatPeople', { params: { groupId: harbours }, query: { list: 'in line' } })).total).toBe(17);
  const offer = await (await site.as(null)).call('joinLook', { body: { code } });
  expect(offer.courses.filter(({ inLine }) => inLine).map(({ name }) => name)).toEqual(['Boat handling 1']);
});

test('who stands in line sees the place, cannot begin, is never overdue, and help says so', async () => {
  const [first] = await query<{ id: number; name: string }>(
    `select l.person_id::int as id, n.sign_in_name::text as name from seat_line l join personal_now n on n.person_id = l.person_id where l.until_at is null order by l.place limit 1`,
  );
  const waiting = await site.letIn(first?.name ?? '');
  const { courses } = await waiting.call('myCourses', {});
  expect(courses.find(({ id }) => id === boatHandling)).toMatchObject({ open: true, inLine: 1, due: null, lateness: 'on time' });
  expect(((await (await waiting.send('launch', { params: { courseId: boatHandling } })).json()) as { code: string }).code).toBe('in-line');
  const help = await mirela.call('helpPerson', { params: { personId: first?.id ?? 0 }, query: { course: boatHandling } });
  expect(help.obstacle).toEqual({ code: 'in line', course: 'Boat handling 1', place: 1, act: 'see seats' });
  await mirela.apply(seatsTo(93));
  expect((await waiting.send('launch', { params: { courseId: boatHandling } })).status).toBe(200);
});

test('a seat of somebody who leaves goes on unless they have begun, and moves where they have another way', async () => {
  const holders = await holdersOf(solan);
  const [fresh, worker] = [holders.find(({ begun }) => !begun), holders.find(({ begun }) => begun)];
  const waiting = await line();
  const leave = (id: number): Change => ({ kind: 'remove-members', groupId: solan, personIds: [id] });
  expect((await look(leave(worker?.id ?? 0))).seats.ended).toBe(0);
  await mirela.apply(leave(worker?.id ?? 0));
  expect(await line()).toEqual(waiting);
  const { changeId } = await mirela.apply(leave(fresh?.id ?? 0));
  expect(await line()).toEqual(waiting.slice(1));
  const [ending] = (await holdersOf(harbours)).filter(({ begun }) => !begun);
  const end: Change = { kind: 'set-person-state', personIds: [ending?.id ?? 0], state: 'ended', firstDay: null, lastDay: null };
  expect((await look(end)).seats.ended).toBe(1);
  expect((await look({ ...end, state: 'paused' })).seats.ended).toBe(0);
  // Whoever comes back by an undo finds the seat gone, and is first to be served among the new ones.
  await mirela.apply({ kind: 'undo', changeId });
  expect((await line()).length).toBe(waiting.length);

  const [moving] = await holdersOf(harbours);
  await mirela.apply(seatsTo(110));
  const used = await inUse();
  await mirela.apply({ kind: 'move-members', fromId: harbours, intoId: solan, personIds: [moving?.id ?? 0] });
  const [seat] = await query<{ group_id: number }>(
    `select group_id::int from seat where person_id = ${moving?.id ?? 0} and licence_id = ${boats} and until_at is null`,
  );
  expect([await inUse(), seat?.group_id]).toEqual([used, solan]);
});

test('two accounts of one person have one seat afterwards', async () => {
  const [one, other] = await holdersOf(solan);
  const [used, waiting] = [await inUse(), await line()];
  const { seats } = await look({ kind: 'merge-people', personId: one?.id ?? 0, goneId: other?.id ?? 0 });
  expect(seats).toMatchObject({ needed: 0, ended: 1, inLine: 0 });
  await mirela.apply({ kind: 'merge-people', personId: one?.id ?? 0, goneId: other?.id ?? 0 });
  const left = await query(`select 1 from seat where until_at is null and person_id in (${one?.id ?? 0}, ${other?.id ?? 0})`);
  expect([left.length, await inUse(), (await line()).length]).toEqual([1, used, waiting.length - 1]);
});

test('a home that is deleted takes its licence and seats along, and brings them back', async () => {
  const used = await query<{ n: number }>(`select count(*)::int as n from seat where until_at is null and licence_id = 2`);
  const change: Change = { kind: 'delete-groups', groupIds: [ferries], subgroups: 'move up' };
  expect((await look(change)).seats.ended).toBe(used[0]?.n);
  const { changeId } = await mirela.apply(change);
  expect(await query(`select 1 from seat where until_at is null and licence_id = 2`)).toEqual([]);
  await mirela.apply({ kind: 'undo', changeId });
  expect(await query(`select count(*)::int as n from seat where until_at is null and licence_id = 2`)).toEqual(used);
});

test('when the day turns a licence that is over lets go of its seats, and nobody is in line while no licence can pay', async () => {
  const { today } = await mirela.call('me', {});
  await mirela.apply({ kind: 'edit-licence', licenceId: boats, values: { lastDay: addDays(today, 1) } });
  clock = new Date(clock.getTime() + 2 * 86_400_000);
  expect(await turnDay(site.deps.db, clock)).toBe(true);
  expect(await query(`select 1 from seat where until_at is null and licence_id = ${boats}`)).toEqual([]);
  expect(await query(`select 1 from seat_line where until_at is null and course_id = ${boatHandling}`)).toEqual([]);
  const [person] = await query<{ id: number }>(
    `select e.person_id::int as id from seat e join person p on p.id = e.person_id where e.licence_id = ${boats} and p.counted order by e.row_id limit 1`,
  );
  const sheet = await mirela.call('person', { params: { personId: person?.id ?? 0 } });
  expect(sheet.courses.find(({ id }) => id === boatHandling)).toMatchObject({ open: true, seat: null, inLine: null, noLicence: true });
});

test('a leader sees and limits what lies in the branch, and hears of the rest only whether there is room', async () => {
  const [chief] = await holdersOf(solan);
  await mirela.apply({
    kind: 'set-leaders',
    groupId: harbours,
    begin: [{ who: { personId: chief?.id ?? 0 }, powers: ['handOutSeats', 'managePeople', 'seeProgress'], firstDay: null, lastDay: null }],
    end: [],
  });
  const [name] = await query<{ name: string }>(`select sign_in_name::text as name from personal_now where person_id = ${chief?.id ?? 0}`);
  const leader = await site.letIn(name?.name ?? '');
  const [licence] = (await leader.call('seats', { params: { groupId: harbours } })).licences;
  expect(licence).toMatchObject({ seats: null, home: { name: '' }, mayEdit: false });
  expect(licence?.groups.map(({ free, mayLimit }) => [free, mayLimit])).toEqual([
    [null, false],
    [null, true],
    [null, true],
  ]);
  expect((await leader.call('look', { body: { change: roster(['Anka One']) } })).seats).toMatchObject({ needed: 1, free: null, inLine: 1 });
  const limit = (groupId: number, most: number): Change => ({ kind: 'limit-seats', licenceId: boats, limits: [{ groupId, most }] });
  for (const groupId of [harbours, solan]) expect((await leader.send('look', { body: { change: limit(groupId, 9) } })).status).toBe(404);
  await leader.apply(limit(quay, 40));
  // A seat that is charged elsewhere is no matter of theirs.
  const [elsewhere] = (await holdersOf(solan)).filter(({ id, begun }) => !begun && id !== chief?.id);
  await mirela.apply({ kind: 'add-members', groupId: quay, personIds: [elsewhere?.id ?? 0], firstDay: null, lastDay: null });
  const leave: Change = { kind: 'remove-members', groupId: quay, personIds: [elsewhere?.id ?? 0] };
  expect((await leader.call('look', { body: { change: leave } })).seats).toMatchObject({ ended: 0, moved: 0, needed: 0 });
  const seen = (await leader.call('seats', { params: { groupId: quay } })).licences[0]?.groups[0];
  expect(seen).toMatchObject({ most: 40, free: 40 - (seen?.used ?? 0) });
});

test('each number of seats in use and of people in line opens to just so many people, for every group and licence', async () => {
  // Somebody waits for two courses of one licence, and somebody is in two of its groups.
  await query(
    `insert into seat_line (person_id, course_id, since, place) select person_id, 6, now(), 999 from seat_line where until_at is null limit 1`,
  );
  await query(`update licence_version set course_id = null, course_set_id = 2 where licence_id = ${boats} and until_at is null`);
  const shown = await mirela.call('seats', { params: { groupId: 1 } });
  let compared = 0;
  for (const { id: licence, groups } of shown.licences)
    for (const { id: groupId, used, inLine } of groups) {
      const open = async (list: 'in use' | 'in line') => {
        const found = new Set<number>();
        let after = 0;
        for (;;) {
          const { people, next, total } = await mirela.call('seatPeople', { params: { groupId }, query: { list, licence, after } });
          for (const { id } of people) found.add(id);
          if (next === null) return [total, found.size];
          after = next;
        }
      };
      expect([licence, groupId, await open('in use'), await open('in line')]).toEqual([licence, groupId, [used, used], [inLine, inLine]]);
      compared += used + inLine;
    }
  expect(compared).toBeGreaterThan(100);
  const { seats } = await mirela.call('group', { params: { groupId: partners }, query: { subgroups: 'yes' } });
  expect(seats?.inLine).toBe((await mirela.call('seatPeople', { params: { groupId: partners }, query: { list: 'in line' } })).total);
});

test('seats are taken back from those who have begun nothing, go on to the line, and are not given anew by themselves', async () => {
  const waiting = await line();
  expect(waiting.length).toBeGreaterThan(1);
  const holders = await holdersOf(solan);
  const idle = holders
    .filter(({ begun }) => !begun)
    .slice(0, 2)
    .map(({ id }) => id);
  expect(idle).toHaveLength(2);
  const change: Change = { kind: 'take-back-seats', licenceId: boats, groupId: partners, personIds: idle, idleDays: null };
  const seen = await look(change);
  expect(seen.seats).toMatchObject({ ended: 2, fromLine: 2, inLine: 2 });
  const before = await inUse();
  const { changeId } = await mirela.apply(change);
  expect(await inUse()).toBe(before);
  const afterwards = (await mirela.call('seatPeople', { params: { groupId: partners }, query: { list: 'in line', licence: boats } }))
    .people;
  expect(afterwards.slice(-2).map(({ id, isHeld }) => [id, isHeld])).toEqual(idle.sort((a, b) => a - b).map((id) => [id, true]));
  // There is room for everybody now, and still they wait.
  await mirela.apply(seatsTo(200));
  expect(await line()).toHaveLength(2);
  const [first = 0, second = 0] = idle;
  await mirela.apply({ kind: 'give-seats', licenceId: boats, groupId: partners, personIds: [first] });
  expect((await holdersOf(solan)).map(({ id }) => id)).toContain(first);
  // Undone: who only had their seat before gets it back; the one to whom it was given meanwhile has changed since.
  await mirela.apply({ kind: 'undo', changeId });
  expect((await holdersOf(solan)).map(({ id }) => id)).toContain(second);
  expect(await line()).toEqual([]);
});

test('those who have not begun for some days are found by the server, only in the branch that is named', async () => {
  const all = await query<{ id: number; group: number }>(
    `select s.person_id::int as id, s.group_id::int as "group" from seat s where s.licence_id = ${boats} and s.until_at is null and s.got_at < now() - interval '30 days'
      and not exists (select 1 from enrolment e join licence_course k on k.course_id = e.course_id and k.licence_id = ${boats} where e.person_id = s.person_id and e.status <> 'not begun')`,
  );
  const branch = new Set(
    (await query<{ id: number }>(`select group_id::int as id from group_branch where ancestor_id = ${ferries}`)).map(({ id }) => id),
  );
  const wanted = all.filter(({ group }) => branch.has(group));
  const change: Change = { kind: 'take-back-seats', licenceId: boats, groupId: ferries, personIds: null, idleDays: 30 };
  const { seats, conflicts } = await look(change);
  expect(seats.ended).toBe(wanted.length);
  expect(conflicts.some(({ code }) => code === 'nothing to do')).toBe(wanted.length === 0);
  expect((await look({ ...change, groupId: partners })).seats.ended).toBe(all.length);
});

test('a licence by hand gives nothing by itself: those entitled wait until a seat is given, and one more than there are is not', async () => {
  const free = 3;
  await mirela.apply({ kind: 'edit-licence', licenceId: boats, values: { byHand: true, seats: (await inUse()) + free } });
  const before = await inUse();
  const { people } = await mirela.call('seatPeople', { params: { groupId: partners }, query: { list: 'in line', licence: boats } });
  expect(people.length).toBeGreaterThan(free);
  expect(people.every(({ isHeld }) => isHeld)).toBe(true);
  const give: Change = {
    kind: 'give-seats',
    licenceId: boats,
    groupId: partners,
    personIds: people.slice(0, free + 1).map(({ id }) => id),
  };
  expect((await look(give)).seats.fromLine).toBe(free);
  const { changeId } = await mirela.apply(give);
  expect(await inUse()).toBe(before + free);
  // Whoever was given one that was not there gets the next.
  await mirela.apply(seatsTo(before + free + 5));
  expect(await inUse()).toBe(before + free + 1);
  await mirela.apply({ kind: 'undo', changeId });
  expect(await inUse()).toBe(before + free + 1);
});
