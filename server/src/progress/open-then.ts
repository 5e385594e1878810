import { type CourseGrants, type Day, dayOfMoment, needsSeat, resolve, type Tree } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { loadGrants, type PersonLearner, rulesOfCourse } from '../access/load-rules.ts';
import { stoodAt } from '../database/history.ts';
import { ids, type Queryable, rows } from '../database/connect.ts';
import { loadTree } from '../groups/queries.ts';
import { type OpenNow, openNow, wasOpenFor } from '../splits/running.ts';
import { openWindows } from './open-windows.ts';

/** Somebody who worked on a unit, and when. */
export interface Worked {
  personId: number;
  courseId: number;
  unitId: number;
  at: Date;
  /** How long it took, up to `at`. */
  seconds: number;
}

/** Whether a unit was open at a moment; `inSplit` says what a split made of it. */
export interface OpenThen {
  isOpen: boolean;
  inSplit: OpenNow | null;
}

/**
 * Could each of these units be worked on at its moment, with the seat it asks for, as access stood at that moment?
 *
 * Where nothing that access follows from has turned since, what is kept of it answers, all in one statement. Else the rules of then are
 * asked, once for each state of the structure. Who is in a split is asked by themselves.
 */
export async function openThen(db: Queryable, list: readonly Worked[], now: Date, timeZone: string): Promise<OpenThen[]> {
  const first = new Date(Math.min(...list.map(({ at }) => at.getTime())));
  const people = [...new Set(list.map(({ personId }) => personId))];
  const structure = await structureTurns(db, first);
  const turns = await personTurns(db, people, first);
  const split = await peopleInSplits(db, people, first);
  const lastTurn = structure.at(-1) ?? 0;
  const isAsItStands = ({ personId, at }: Worked): boolean => at.getTime() >= Math.max(lastTurn, turns.get(personId) ?? 0);
  const found: OpenThen[] = list.map(() => ({ isOpen: false, inSplit: null }));
  const places = list.map((each, place) => ({ ...each, place, day: dayOfMoment(each.at, timeZone) }));
  const [asItStands, earlier] = [places.filter((each) => isAsItStands(each)), places.filter((each) => !isAsItStands(each))];
  for (const place of [...(await openAsItStands(db, asItStands)), ...(await openAsItStood(db, earlier, structure))])
    found[place] = { isOpen: true, inSplit: null };
  for (const { place, ...each } of places) if (split.has(each.personId)) found[place] = await openInSplits(db, each, now, timeZone);
  return found;
}

type Placed = Worked & { place: number; day: Day };

/** When the tree, courses or what is said of them turned, after a moment; the earliest first. */
async function structureTurns(db: Queryable, after: Date): Promise<number[]> {
  const found = await rows<{ at: number }>(
    db,
    sql`
    select distinct (extract(epoch from t.at) * 1000)::float as at from (
      select unnest(array[from_at, until_at]) as at from group_version union all select unnest(array[from_at, until_at]) from access_grant
      union all select unnest(array[from_at, until_at]) from course_version union all select unnest(array[from_at, until_at]) from unit_version
      union all select unnest(array[from_at, until_at]) from course_set_item
    ) t where t.at > ${after.toISOString()} order by 1`,
  );
  return found.map(({ at }) => at);
}

/** When somebody's memberships, account or seats last turned, after a moment. */
async function personTurns(db: Queryable, people: readonly number[], after: Date): Promise<Map<number, number>> {
  const found = await rows<{ id: number; at: number }>(
    db,
    sql`
    select t.id, (extract(epoch from max(t.at)) * 1000)::float as at from (
      select person_id as id, greatest(from_at, until_at) as at from membership where person_id = any(${ids(people)})
      union all select person_id, greatest(from_at, until_at) from person_state where person_id = any(${ids(people)})
      union all select person_id, greatest(from_at, until_at) from seat where person_id = any(${ids(people)})
    ) t where t.at > ${after.toISOString()} group by 1`,
  );
  return new Map(found.map(({ id, at }) => [id, at]));
}

async function peopleInSplits(db: Queryable, people: readonly number[], after: Date): Promise<Set<number>> {
  const found = await rows<{ id: number }>(
    db,
    sql`
    select distinct m.person_id as id from split_member m join split_version v on v.split_id = m.split_id
    where m.person_id = any(${ids(people)}) and v.runs_until > ${after.toISOString()}::timestamptz - interval '1 day' and coalesce(m.until_at > ${after.toISOString()}::timestamptz - interval '1 day', true)`,
  );
  return new Set(found.map(({ id }) => id));
}

async function openAsItStands(db: Queryable, list: readonly Placed[]): Promise<number[]> {
  const windows = await openWindows(db, list);
  return list.flatMap(({ place, unitId }, index) => {
    const window = windows[index];
    return window && !window.lacksSeat && window.units.includes(unitId) ? [place] : [];
  });
}

interface Stay {
  personId: number;
  from: number;
  until: number | null;
}

/** Memberships, states and seats of people through all time. */
async function historyOf(db: Queryable, people: readonly number[]) {
  const span = sql`extract(epoch from from_at)::float8 * 1000 as "from", extract(epoch from until_at)::float8 * 1000 as until`;
  const among = sql`person_id = any(${ids(people)})`;
  const memberships = await rows<Stay & { groupId: number; firstDay: Day | null; lastDay: Day | null }>(
    db,
    sql`select person_id as "personId", group_id as "groupId", first_day as "firstDay", last_day as "lastDay", ${span} from membership where ${among} order by coalesce(first_day, from_at::date), row_id`,
  );
  const states = await rows<Stay & { state: string; firstDay: Day | null; lastDay: Day | null }>(
    db,
    sql`select person_id as "personId", state, first_day as "firstDay", last_day as "lastDay", ${span} from person_state where ${among}`,
  );
  const seats = await rows<Stay & { licence: number }>(
    db,
    sql`select person_id as "personId", licence_id as licence, ${span} from seat where ${among}`,
  );
  const underWay = await rows<{ personId: number; courseId: number }>(
    db,
    sql`select person_id as "personId", course_id as "courseId" from enrolment where ${among} and is_current and status <> 'not begun'`,
  );
  return { memberships, states, seats, underWay };
}

async function openAsItStood(db: Queryable, list: readonly Placed[], structure: readonly number[]): Promise<number[]> {
  if (list.length === 0) return [];
  const history = await historyOf(db, [...new Set(list.map(({ personId }) => personId))]);
  const worlds = new Map<number, ReturnType<typeof worldAt>>();
  const open: number[] = [];
  for (const { place, personId, courseId, unitId, day, at } of list) {
    const moment = at.getTime();
    // All moments between two turns see the same structure.
    const state = structure.findIndex((turn) => turn > moment);
    const world = worlds.get(state) ?? worldAt(db, at);
    worlds.set(state, world);
    const { tree, courses } = await world;
    const about = courses.find(({ course }) => course.id === courseId);
    const stood = <T extends Stay>(rowsOf: readonly T[]): T[] =>
      rowsOf.filter((each) => each.personId === personId && each.from <= moment && (each.until === null || each.until > moment));
    const [account] = stood(history.states);
    if (!about || !account) continue;
    const learner: PersonLearner = {
      personId,
      active: account.state === 'active',
      ended: account.state === 'ended',
      firstDay: account.firstDay,
      lastDay: account.lastDay,
      mayFinish: history.underWay.flatMap((each) => (each.personId === personId ? [each.courseId] : [])),
      memberships: stood(history.memberships),
    };
    const { units, paths } = resolve(rulesOfCourse(tree, about), learner, day);
    const covering = new Set(about.course.licenceHomes?.map(({ licence }) => licence));
    const held = stood(history.seats).flatMap(({ licence }) => (covering.has(licence) ? [licence] : []));
    const isPaid = paths.some(({ payers }) => held.some((licence) => payers?.others || payers?.licences.includes(licence)));
    if (units.includes(unitId) && (isPaid || !needsSeat(paths))) open.push(place);
  }
  return open;
}

async function worldAt(db: Queryable, at: Date): Promise<{ tree: Tree; courses: readonly CourseGrants[] }> {
  const stands = stoodAt(at);
  return { tree: await loadTree(db, stands), courses: await loadGrants(db, stands) };
}

async function openInSplits(
  db: Queryable,
  { personId, courseId, unitId, at, seconds }: Worked,
  now: Date,
  timeZone: string,
): Promise<OpenThen> {
  const working = { personId, today: dayOfMoment(now, timeZone), sight: null };
  const ago = Math.max(0, (now.getTime() - at.getTime()) / 1000);
  const inSplit = await wasOpenFor(db, working, courseId, unitId, ago + seconds);
  if (inSplit) return { isOpen: true, inSplit };
  const then = await openNow(db, working, courseId, ago);
  return then.units.includes(unitId) ? { isOpen: true, inSplit: then } : { isOpen: false, inSplit: null };
}
