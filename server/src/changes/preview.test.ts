import type { Change } from '@gate-roster/contract';
import { type Day, type Effects, type Who } from '@gate-roster/core';
import fc from 'fast-check';
import { maybeActor, type SignedIn } from '../accounts/actor.ts';
import { rebuildDerived } from '../database/rebuild.ts';
import { settle } from '../seats/settle.ts';
import { randomChange } from '../testing/random-change.ts';
import { neverUndone } from './note-act.ts';
import { worldOf } from '../testing/world-now.ts';
import { type Client, execute, type Site, startSite } from '../testing/site.ts';
import { planChange } from './apply.ts';
import { peopleOfSets } from './look.ts';

/*
 * What a preview announces is exactly what the difference of before and after shows: for random changes of all kinds, and for the
 * undo of each. Before and after are read from the rows, by statements that the previews do not use.
 */
const steps = 18;
let site: Site;
let mirela: Client;
let today: Day;
let actor: SignedIn;

beforeAll(async () => {
  site = await startSite();
  mirela = await site.as('mirela');
  const me = await mirela.call('me', {});
  today = me.today;
  const found = await maybeActor(site.deps.db, me.personId, new Date());
  if (!found) throw new Error('nobody');
  actor = found;
  await execute(
    site.databaseUrl,
    `insert into access_grant (group_id, course_set_id, effect, made_by, licences) values (7, 1, 'open', 1, null), (11, 2, 'open', 1, '{}'), (12, 3, 'block', 1, null)`,
  );
  await site.deps.db.transaction(async (tx) => {
    await rebuildDerived(tx, today);
    await settle(tx, today, { people: [], courses: 'all', room: true, changeId: null, undoOf: [], mode: 'alone' });
  });
});
afterAll(() => site.stop());

type Span = { first: string | null; last: string | null; units: string };
interface Snapshot {
  people: Set<number>;
  /** A preview speaks of those who are counted, or have days or grants of their own. */
  spokenOf: Set<number>;
  /** By person and course. Who may not work is in the set of no groups, whose windows are those of active people. */
  windows: Map<string, Span[]>;
  members: Set<string>;
  seats: Set<string>;
  line: Set<string>;
  done: Set<string>;
  enrolments: Set<string>;
  enrolmentIds: Set<string>;
}

async function snapshot(): Promise<Snapshot> {
  const query = <T extends object>(text: string): Promise<T[]> => execute<T>(site.databaseUrl, text);
  const keys = async (text: string): Promise<Set<string>> => new Set((await query<{ key: string }>(text)).map(({ key }) => key));
  const windows = new Map<string, Span[]>();
  for (const { key, ...span } of await query<Span & { key: string }>(
    `select p.id || '/' || x.course_id as key, x.first_day::text as first, x.last_day::text as last, x.units::text as units from person p
     join entitlement x on (not p.own_windows and x.set_id = p.set_id and exists (select 1 from person_state y where y.person_id = p.id and y.until_at is null and y.state = 'active')) or (p.own_windows and x.person_id = p.id)
     where coalesce(x.last_day >= '${today}', true)`,
  ))
    windows.set(key, [...(windows.get(key) ?? []), span]);
  return {
    people: new Set((await query<{ id: string }>(`select id from person`)).map(({ id }) => Number(id))),
    spokenOf: new Set((await query<{ id: string }>(`select id from person where counted or own_windows`)).map(({ id }) => Number(id))),
    windows,
    members: await keys(`select person_id || '/' || group_id as key from membership where until_at is null`),
    seats: await keys(`select person_id || '/' || licence_id as key from seat where until_at is null`),
    line: await keys(`select person_id || '/' || course_id as key from seat_line where until_at is null`),
    done: await keys(`select id || '/' || person_id || '/' || course_id as key from enrolment where status = 'done' and is_current`),
    enrolmentIds: await keys(`select id::text as key from enrolment`),
    enrolments: await keys(`select id || '/' || person_id || '/' || course_id as key from enrolment where is_current`),
  };
}

const unitsOn = (spans: readonly Span[] | undefined, day: Day): string[] =>
  (spans ?? [])
    .filter(({ first, last }) => (first === null || first <= day) && (last === null || day <= last))
    .flatMap(({ units }) => units.slice(1, -1).split(','));

interface Turn {
  day: Day;
  /** Does `b` open other units on that day? */
  isPart: boolean;
}

/** For each person and course, the first day from today on which `a` opens what `b` does not. */
function onlyIn(a: Snapshot, b: Snapshot): Map<string, Turn> {
  const found = new Map<string, Turn>();
  for (const [key, spans] of a.windows) {
    const others = b.windows.get(key);
    if (JSON.stringify(spans) === JSON.stringify(others)) continue;
    const nextDay = (day: Day): Day => new Date(Date.parse(day) + 86_400_000).toISOString().slice(0, 10);
    const days = [
      today,
      ...[...spans, ...(others ?? [])].flatMap(({ first, last }) => [...(first ? [first] : []), ...(last ? [nextDay(last)] : [])]),
    ];
    const day = days
      .filter((each) => each >= today)
      .sort()
      .find((each) => unitsOn(spans, each).some((unit) => !unitsOn(others, each).includes(unit)));
    if (day) found.set(key, { day, isPart: unitsOn(others, day).length > 0 });
  }
  return found;
}

interface Difference {
  gains: string[];
  loses: string[];
  /** Of those who gain and of those who lose, for how many it is a part of the course. */
  partly: number[];
  joins: string[];
  leaves: string[];
  given: number[];
  ended: number[];
  line: string[];
  done: string[];
  undone: string[];
  newcomers: number;
}
const sorted = <T>(list: Iterable<T>): T[] => [...list].sort();
const without = <T>(a: Set<T>, b: Set<T>): T[] => [...a].filter((each) => !b.has(each));

/** @param takenBack Accounts that an undo takes back; they are spoken of whatever groups they are in. */
function difference(before: Snapshot, after: Snapshot, takenBack: readonly number[]): Difference {
  const known = (key: string): boolean => before.people.has(Number(key.split('/')[0]));
  const isSpokenOf = (key: string): boolean => {
    const id = Number(key.split('/')[0]);
    return takenBack.includes(id) || [before, after].some(({ spokenOf }) => spokenOf.has(id));
  };
  const spokenOf = (map: Map<string, Turn>): [string, Turn][] => [...map].filter(([key]) => known(key) && isSpokenOf(key));
  const said = (map: Map<string, Turn>): string[] => sorted(spokenOf(map).map(([key, { day }]) => `${key}@${day === today ? '' : day}`));
  const holders = (list: readonly string[]): number[] => list.map((key) => Number(key.split('/')[0])).sort((a, b) => a - b);
  const turned = (from: Snapshot, to: Snapshot): string[] =>
    sorted(
      without(to.done, from.done)
        // Work that a merge moved is another's; an enrolment that an exception made is new.
        .filter((key) => from.enrolments.has(key) || !from.enrolmentIds.has(key.split('/')[0] ?? ''))
        .map((key) => key.split('/').slice(1).join('/')),
    );
  return {
    gains: said(onlyIn(after, before)),
    loses: said(onlyIn(before, after)),
    partly: [onlyIn(after, before), onlyIn(before, after)].map((map) => spokenOf(map).filter(([, { isPart }]) => isPart).length),
    joins: sorted(without(after.members, before.members).filter(known)),
    leaves: sorted(without(before.members, after.members)),
    given: holders(without(after.seats, before.seats).filter(known)),
    ended: holders(without(before.seats, after.seats)),
    line: sorted(without(after.line, before.line).filter(known)),
    done: turned(before, after),
    undone: turned(after, before),
    newcomers: without(after.people, before.people).length,
  };
}

async function announced(effects: Effects): Promise<Difference> {
  const persons = async (who: Who): Promise<number[]> => [...new Set([...(await peopleOfSets(site.deps.db, who.sets)), ...who.persons])];
  const keys = async (list: readonly { courseId: number; day: string | null; who: Who }[]): Promise<string[]> =>
    sorted(
      (
        await Promise.all(list.map(async ({ courseId, day, who }) => (await persons(who)).map((id) => `${id}/${courseId}@${day ?? ''}`)))
      ).flat(),
    );
  const groupKeys = async (list: Effects['joins']): Promise<string[]> =>
    sorted((await Promise.all(list.map(async ({ groupId, who }) => (await persons(who)).map((id) => `${id}/${groupId}`)))).flat());
  const plain = async (list: Effects['becomeDone']): Promise<string[]> => (await keys(list)).map((key) => key.split('@')[0] ?? '');
  const real = (list: readonly number[]): number[] => list.filter((id) => id > 0).sort((a, b) => a - b);
  return {
    gains: await keys(effects.gains),
    loses: await keys(effects.loses),
    partly: [effects.gains, effects.loses].map((list) => list.reduce((sum, { partly = 0 }) => sum + partly, 0)),
    joins: (await groupKeys(effects.joins)).filter((key) => !key.includes('/-')),
    leaves: await groupKeys(effects.leaves),
    given: real([...effects.seats.given, ...effects.seats.fromLine]),
    ended: real(effects.seats.ended),
    line: sorted(effects.seats.line.filter(({ key }) => key > 0).map(({ key, courseId }) => `${key}/${courseId}`)),
    done: await plain(effects.becomeDone),
    undone: await plain(effects.noLongerDone),
    newcomers: effects.newPeople,
  };
}

/** @returns The number of the change, and how much it did; null when something stands in its way. */
async function compare(change: Change): Promise<{ changeId: number; size: number } | null> {
  const before = await snapshot();
  const plan = await planChange(site.deps.db, actor, change, '').catch(() => null);
  if (!plan || plan.effects.conflicts.some(({ blocks }) => blocks)) return null;
  const said = await announced(plan.effects);
  const { changeId } = await mirela.apply(change);
  const after = await snapshot();
  const happened = difference(before, after, plan.effects.takenBack);
  // New groups have no number yet in the preview.
  if (change.kind === 'bring-in-roster' || change.kind === 'make-groups' || change.kind === 'make-next-period') happened.joins = said.joins;
  if (change.kind === 'merge-people') {
    // The one who goes takes their memberships, seats and places along to the other; what the other gains is said.
    const gone = (key: string): boolean => Number(key.split('/')[0]) === change.goneId;
    for (const list of ['loses', 'leaves'] as const) happened[list] = happened[list].filter((key) => !gone(key));
    said.given = happened.given;
    said.ended = happened.ended;
    said.line = happened.line;
    said.undone = happened.undone;
    said.done = happened.done;
    said.partly = happened.partly;
  }
  expect({ kind: change.kind, change, ...happened }).toEqual({ kind: change.kind, change, ...said });
  const size = Object.values(happened).reduce((sum: number, each) => sum + (Array.isArray(each) ? each.length : 0), 0);
  return { changeId, size };
}

test('who kept a seat after leaving every group is named when the home of its licence is deleted', async () => {
  const [partnerCrews, oneOfThem] = [38, 44];
  const made: number[] = [];
  for (const groupId of [oneOfThem, partnerCrews]) {
    const done = await compare({ kind: 'delete-groups', groupIds: [groupId], subgroups: 'go too' });
    expect(done?.size).toBeGreaterThan(0);
    made.push(done?.changeId ?? 0);
  }
  for (const changeId of made.reverse()) expect(await compare({ kind: 'undo', changeId })).not.toBeNull();
}, 600_000);

test('what people get back with a group that comes out of the archive is said, whether it is undone or set', async () => {
  const archive: Change = { kind: 'set-group-state', groupIds: [8], state: 'archived' };
  for (const back of [null, { ...archive, state: 'active' as const }]) {
    const done = await compare(archive);
    expect(done?.size).toBeGreaterThan(0);
    expect((await compare(back ?? { kind: 'undo', changeId: done?.changeId ?? 0 }))?.size).toBe(done?.size);
  }
}, 600_000);

test('a preview says what the difference of before and after shows, for every kind of change and its undo', async () => {
  const moved = new Map<string, number>();
  await fc.assert(
    fc.asyncProperty(fc.infiniteStream(fc.nat(1_000_000)), async (numbers) => {
      const draw = (): number => Number(numbers.next().value);
      const made: number[] = [];
      for (let n = 0; n < steps; n++) {
        const change = randomChange(draw, await worldOf(site));
        const done = change && (await compare(change));
        if (!done) continue;
        if (!neverUndone.includes(change.kind)) made.push(done.changeId);
        moved.set(change.kind, (moved.get(change.kind) ?? 0) + done.size);
      }
      for (const changeId of made.reverse()) {
        const done = await compare({ kind: 'undo', changeId });
        moved.set('undo', (moved.get('undo') ?? 0) + (done?.size ?? 0));
      }
    }),
    { numRuns: 2, endOnFailure: true },
  );
  expect(moved.get('undo')).toBeGreaterThan(50);
}, 900_000);
