import { dayOfMoment, may, type RuleOccasion, setOffBy } from '@gate-roster/core';
import { eq, sql, type SQL } from 'drizzle-orm';
import type { Logger } from 'pino';
import { grantsByCourse } from '../access/load-rules.ts';
import { maybeActor, type SignedIn } from '../accounts/actor.ts';
import { applyByRule } from '../changes/apply.ts';
import { withRosterLock } from '../changes/roster-lock.ts';
import { type Database, ids, isAmong, maybeRow, type Queryable, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { wholeTree } from '../groups/queries.ts';
import { ProblemError } from '../http/problem.ts';
import { answerBell } from '../jobs/bell.ts';
import { announce } from '../live/announce.ts';
import { changesOf, leadersOf, tellLeaders } from './acts.ts';
import { type Fitting, fitting, noteActs, onlyPeople, peopleOf, syncHolds } from './fitting.ts';
import { coursesIn, groupsIn } from './set-rule.ts';
import { type StandingRule, standingRules } from './standing-rules.ts';

/*
 * Rules act after what set them off has committed, each time as changes of their own in the name of their maker. Events are asked
 * again after a crash; that a rule acts once for a person and an occasion is kept in the transaction in which it acts.
 */

const eventsAtOnce = 10_000;
const peopleAtOnce = 1000;
/** Acts that may follow from one event, one after the other. */
export const longestChain = 5;
/** A person on whom rules act more often in a day is left alone until the next. */
export const mostInDay = 20;

export interface RuleDeps {
  db: Database;
  publicUrl: string;
  now: () => Date;
  log: Logger;
}

/** Asks the rules after what happened. Any number of processes may. */
export const startRules = (deps: RuleDeps, databaseUrl: string): (() => Promise<void>) =>
  answerBell(databaseUrl, deps.log, () => runRules(deps));

/** Lets rules act until nothing more has happened that could set one off. */
export async function runRules(deps: RuleDeps): Promise<void> {
  while (await runSome(deps));
}

interface Happened {
  ids: number[];
  /** It may concern anybody. */
  isForAll: boolean;
  depth: number;
  isQuiet: boolean;
  what: Set<RuleOccasion>;
  /** When the last of them was put down: what rules do in between is another event, one step further down the chain. */
  until: string;
  /** People `p` to whom it may have happened. */
  people: SQL;
  /** Changes that made it happen, to one person or (null) to several. */
  causes: { changeId: number; personId: number | null }[];
}

async function runSome(deps: RuleDeps): Promise<boolean> {
  const happened = await nextEvents(deps.db);
  if (!happened) return false;
  const all = await standingRules(deps.db, sql`v.is_on and r.paused_for is null`);
  const awake = all.filter(({ when }) => setOffBy(when).some((what) => happened.what.has(what)));
  const branches = awake.length > 0 ? await branchesOf(deps.db, happened) : null;
  const rules = awake.filter(({ group_id }) => branches?.has(group_id) ?? true);
  for (const rule of rules) {
    const maker = rule.when.when === 'gets' ? await maybeActor(deps.db, rule.made_by, deps.now()) : null;
    if (maker) await syncHolds(deps.db, rule, maker, { more: happened.people, since: happened.until });
  }
  for (const rule of rules) {
    while (await runRule(deps, rule, happened));
  }
  await deps.db.delete(tables.ruleEvent).where(isAmong(tables.ruleEvent.id, happened.ids));
  return true;
}

/** Groups in whose branches the people are to whom it may have happened: no other rule speaks of them. Null: all. */
async function branchesOf(db: Database, { isForAll, people }: Happened): Promise<Set<number> | null> {
  if (isForAll) return null;
  const found = await rows<{ id: number }>(
    db,
    sql`
    with sets as materialized (select distinct p.set_id from person p where ${people})
    select distinct b.ancestor_id as id from set_in_branch b where b.set_id in (select set_id from sets)`,
  );
  return new Set(found.map(({ id }) => id));
}

/** The oldest events that are alike in how they came about. */
async function nextEvents(db: Database): Promise<Happened | null> {
  const found = await rows<{
    id: number;
    person_id: number | null;
    group_id: number | null;
    what: RuleOccasion;
    depth: number;
    is_quiet: boolean;
    change_id: number | null;
    made_at: string;
  }>(
    db,
    sql`
    select e.id, e.person_id, e.group_id, e.what, e.depth, e.is_quiet, e.change_id, (max(e.made_at) over ())::text as made_at from rule_event e,
      (select depth, is_quiet from rule_event order by id limit 1) f
    where e.depth = f.depth and e.is_quiet = f.is_quiet order by e.id limit ${eventsAtOnce}`,
  );
  const [first] = found;
  if (!first) return null;
  const persons = new Set(found.flatMap(({ person_id }) => person_id ?? []));
  const groups = new Set(found.flatMap(({ group_id }) => group_id ?? []));
  const isForAll = found.some(({ person_id, group_id }) => person_id === null && group_id === null);
  return {
    ids: found.map(({ id }) => id),
    isForAll,
    depth: first.depth,
    isQuiet: first.is_quiet,
    until: first.made_at,
    what: new Set(found.map(({ what }) => what)),
    causes: found.flatMap(({ change_id, person_id }) => (change_id === null ? [] : [{ changeId: change_id, personId: person_id }])),
    people: isForAll
      ? sql`true`
      : sql`(${onlyPeople(persons)} or p.set_id in (select set_id from set_in_branch where ancestor_id = any(${ids(groups)})))`,
  };
}

/** One step of one rule. @returns Whether there may be more. */
async function runRule(deps: RuleDeps, asked: StandingRule, happened: Happened): Promise<boolean> {
  const { db, now, log } = deps;
  try {
    // Mostly it fits nobody: that is found out without holding anybody up.
    const maker = await maybeActor(db, asked.made_by, now());
    if (maker && (await newlyFitting(db, maker, asked, happened, 1)).length === 0) return false;
    return await withRosterLock(db, 'alone', async (tx) => {
      const [rule] = await standingRules(tx, sql`v.rule_id = ${asked.id} and v.is_on and r.paused_for is null`);
      if (!rule) return false;
      const actor = await maybeActor(tx, rule.made_by, now());
      if (!actor || !(await mayAct(tx, actor, rule))) throw new ProblemError('not-found');
      const fits = await newlyFitting(tx, actor, rule, happened, peopleAtOnce);
      if (fits.length === 0) return false;
      if (happened.isQuiet) await noteActs(tx, rule.id, fits, 'undo');
      else if (happened.depth >= longestChain) await noteActs(tx, rule.id, fits, 'chain');
      else await act(deps, tx, rule, actor, fits, happened);
      return fits.length === peopleAtOnce;
    });
  } catch (error) {
    if (error instanceof ProblemError && error.code === 'not-found') {
      await pause(deps, asked);
      return false;
    }
    log.warn({ err: error, rule: asked.id }, 'a rule could not act; it is asked again when something else happens');
    return false;
  }
}

/** What a rule does is asked for again with each act; this is for what no change asks. */
async function mayAct(tx: Transaction, maker: SignedIn, rule: StandingRule): Promise<boolean> {
  const tree = await wholeTree(tx);
  if (!tree.has(rule.group_id)) return false;
  const target = { path: tree.path(rule.group_id) };
  const tells = rule.then.some(({ act: what }) => what === 'tell leaders');
  return may(maker, 'managePeople', target) && (!tells || may(maker, 'writeMessages', target));
}

/** The act `a` is of today. */
const actedToday = ({ today, timeZone }: Pick<SignedIn, 'today' | 'timeZone'>): SQL =>
  sql`(a.outcome = 'acted' and a.at >= ${today}::timestamp at time zone ${timeZone})`;

/** Occasions since the rule was switched on for which it has not acted, of people whom rules have not had enough of today. */
async function newlyFitting(
  db: Queryable,
  maker: SignedIn,
  rule: StandingRule,
  { people, until }: Happened,
  limit: number,
): Promise<Fitting[]> {
  return fitting(db, maker, rule, {
    more: people,
    only: sql`o.at > ${rule.on_since}::timestamptz and o.at <= ${until}::timestamptz
      and not exists (select 1 from rule_act a where a.rule_id = ${rule.id} and a.person_id = o.person_id and a.occasion = o.occasion)
      and (select count(*) from rule_act a where a.person_id = o.person_id and ${actedToday(maker)}) < ${mostInDay}`,
    limit,
  });
}

async function act(
  { publicUrl, now }: RuleDeps,
  tx: Transaction,
  rule: StandingRule,
  maker: SignedIn,
  fits: readonly Fitting[],
  { depth, causes }: Happened,
): Promise<void> {
  const people = peopleOf(fits);
  if (rule.asks_first) {
    await noteActs(tx, rule.id, fits, 'asked');
    await announce(tx, { topics: ['access'], groups: [rule.group_id] });
    return;
  }
  let changeId: number | null = null;
  for (const change of changesOf(rule, people, maker.today)) {
    const made = await applyByRule(tx, maker, change, { publicUrl, id: rule.id, depth: depth + 1 });
    changeId = made ?? changeId;
    if (made !== null) await noteCauses(tx, made, causes, people);
  }
  const tells = rule.then.some(({ act: what }) => what === 'tell leaders');
  if (tells) await tellLeaders(tx, publicUrl, rule, people, await leadersOf(tx, rule.group_id, dayOfMoment(now(), maker.timeZone)));
  await noteActs(tx, rule.id, fits, changeId !== null || tells ? 'acted' : 'nothing to do', changeId);
  await announce(tx, { topics: ['access'], groups: [rule.group_id] });
}

/** The changes that made it happen to these people; what happened to a group's people counts for each of them. */
async function noteCauses(tx: Transaction, changeId: number, causes: Happened['causes'], people: readonly number[]): Promise<void> {
  const acted = new Set(people);
  const list = new Set(causes.flatMap((cause) => (cause.personId === null || acted.has(cause.personId) ? [cause.changeId] : [])));
  await tx.execute(sql`insert into rule_cause (change_id, cause_id) select ${changeId}, unnest(${ids(list)}) on conflict do nothing`);
}

/** A rule that has nothing to act with waits, and says why. */
async function pause({ db }: RuleDeps, rule: StandingRule): Promise<void> {
  const tree = await wholeTree(db);
  const known = new Set((await grantsByCourse(db, null)).map(({ course }) => course.id));
  const isThere =
    groupsIn(rule.when, rule.then).every((id) => tree.has(id)) && coursesIn(rule.when, rule.then).every((id) => known.has(id));
  await db.transaction(async (tx) => {
    await tx
      .update(tables.rule)
      .set({ pausedFor: isThere ? 'powers' : 'gone' })
      .where(eq(tables.rule.id, rule.id));
    await announce(tx, { topics: ['access'], groups: [rule.group_id] });
  });
}

/** Have rules acted on somebody as often today as they may? */
export const hasHadEnough = async (
  db: Queryable,
  personId: number,
  { today, timeZone }: Pick<SignedIn, 'today' | 'timeZone'>,
): Promise<boolean> =>
  (await maybeRow(
    db,
    sql`select 1 from rule_act a where a.person_id = ${personId} and ${actedToday({ today, timeZone })} having count(*) >= ${mostInDay}`,
  )) !== null;
