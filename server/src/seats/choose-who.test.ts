import type { Change } from '@gate-roster/contract';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';

/* A course is opened for a branch by a licence with too few seats: who gets one first, and what would let in the others. */

const station = 3;
const crew = 4;
const otherCrew = 5;
const seats = 30;
const seatsOfCrew = 2;
let site: Site;
let mirela: Client;
let courseId = 0;
let licenceId = 0;

const query = <T extends object>(text: string): Promise<T[]> => execute<T>(site.databaseUrl, text);
const ids = async (text: string): Promise<number[]> => (await query<{ id: number }>(text)).map(({ id }) => id);
const look = (change: Change) => mirela.call('look', { body: { change } });
const holders = (): Promise<number[]> => ids(`select person_id::int as id from seat where licence_id = ${licenceId} and until_at is null`);
const inLine = (): Promise<number[]> =>
  ids(`select person_id::int as id from seat_line where course_id = ${courseId} and until_at is null order by place`);

beforeAll(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
  await mirela.apply({
    kind: 'make-courses',
    homeId: null,
    courses: [{ name: 'Night watch', units: [{ name: 'One', activities: ['Read'] }] }],
  });
  [courseId = 0] = await ids(`select course_id::int as id from course_now where name = 'Night watch'`);
  const values = { name: 'Watch seats', seats, about: { course: courseId }, homeId: station, firstDay: null, lastDay: null };
  await mirela.apply({ kind: 'make-licence', values: { ...values, onLeaving: 'comes back', byHand: false } });
  [licenceId = 0] = await ids('select max(licence_id)::int as id from licence_now');
  await mirela.apply({ kind: 'limit-seats', licenceId, limits: [{ groupId: crew, most: seatsOfCrew }] });
});
afterAll(() => site.stop());

/** Opens the course for a group; these come first. */
const opening = (groupId: number, seatsFirst: number[] = []): Change => ({
  kind: 'grant-access',
  end: [],
  begin: [
    {
      ...{ groupId, courseId, effect: 'open', withSubgroups: true, firm: false, firstDay: null, lastDay: null, units: null, due: null },
      payers: { licences: [licenceId], others: false },
    },
  ],
  seatsFirst,
});

test('who is chosen gets a seat before the others, not before those in line; raising the limit that is named lets in the rest', async () => {
  const before = await look(opening(crew));
  const people = before.seats.inLine + seatsOfCrew;
  expect(people).toBeGreaterThan(seatsOfCrew + 3);
  const list = async (change: Change) =>
    (await mirela.call('lookPeople', { body: { change, list: 'inLine', courseId: null, groupId: null, after: null } })).people.map(
      ({ id }) => id,
    );
  const [a = 0, b = 0] = (await list(opening(crew))).slice(-2);
  const chosen = opening(crew, [a, b]);
  expect([(await list(chosen)).includes(a), (await look(chosen)).seats.inLine]).toEqual([false, people - seatsOfCrew]);
  expect((await look(chosen)).seats.short).toMatchObject([
    { licenceId, groupId: station, most: seats, raise: false },
    { licenceId, groupId: crew, most: seatsOfCrew, missing: people - seatsOfCrew, waiting: 0, raise: true },
  ]);
  const { changeId } = await mirela.apply(chosen);
  expect(await holders()).toEqual(expect.arrayContaining([a, b]));
  expect(await holders()).toHaveLength(seatsOfCrew);
  expect(await query(`select 1 from seat_line where course_id = ${courseId} and file_row is not null`)).toEqual([]);

  // Those who wait come before anybody chosen now.
  const [elsewhere = 0] = await ids(
    `select m.person_id::int as id from membership m where m.group_id = ${otherCrew} and m.until_at is null
       and (select count(*) from membership o where o.person_id = m.person_id and o.until_at is null) = 1 order by 1 limit 1`,
  );
  const [waits = 0] = await inLine();
  await mirela.apply({ kind: 'limit-seats', licenceId, limits: [{ groupId: crew, most: seatsOfCrew + 1 }] });
  expect(await holders()).toContain(waits);
  const wider = await look(opening(otherCrew, [elsewhere]));
  expect(wider.seats.short.every(({ groupId }) => groupId === station)).toBe(true);

  await mirela.apply({ kind: 'undo', changeId });
  expect(await inLine()).toEqual([]);
});

test('what keeps people in line where the licence itself is too small cannot be raised, and raising limits lets all in where it is not', async () => {
  const wide = await look(opening(station));
  expect(wide.seats.short).toContainEqual(expect.objectContaining({ groupId: station, most: seats, raise: false }));
  await mirela.apply({ kind: 'edit-licence', licenceId, values: { seats: 500 } });
  const { short } = (await look(opening(crew))).seats;
  await mirela.apply({
    kind: 'limit-seats',
    licenceId,
    limits: short.map(({ groupId, most, missing, waiting }) => ({ groupId, most: most + missing + waiting })),
  });
  expect((await look(opening(crew))).seats).toMatchObject({ inLine: 0, short: [] });
});
