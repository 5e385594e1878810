import type { Answer, RuleNames, RuleRow, Routes, RuleValues } from '@gate-roster/contract';
import { addDays, may } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { maybeActor, type SignedIn } from '../accounts/actor.ts';
import { seenGroups } from '../accounts/reach.ts';
import { ids, iso, maybeRow, oneRow, type Queryable, rows } from '../database/connect.ts';
import { pathTo, wholeTree } from '../groups/queries.ts';
import { notFound } from '../http/problem.ts';
import { groupsOf, isCounted, onlyGroups, seenPerson, visiblePerson } from '../people/scope.ts';
import { seenTags } from '../people/tags.ts';
import { fitsFilter, fitting, onlyPeople, peopleOf } from './fitting.ts';
import { hasPast, occasions, watchOf } from './occasions.ts';
import { hasHadEnough } from './run-rules.ts';
import { coursesIn, groupsIn, wordReaches } from './set-rule.ts';
import { type StandingRule, standingRules } from './standing-rules.ts';

const actsAtOnce = 40;
const rehearsedNames = 30;
const mostWaiting = 5000;
const weeksBack = 13;

/** Rules of a scope, and of the groups above it; each with how often it acted. A leader reads those of groups that they may know of. */
export async function rulesInScope(
  db: Queryable,
  actor: SignedIn,
  { groupId, withSubgroups }: { groupId: number; withSubgroups: boolean },
): Promise<Answer<Routes['rules']>> {
  const path = (await pathTo(db, actor, groupId)).map(({ id }) => id);
  const own = await seenGroups(db, actor);
  const here = await ruleRows(db, actor, sql`v.group_id in (${groupsOf(groupId, withSubgroups)})`);
  const above = await ruleRows(db, actor, sql`v.group_id = any(${ids(path.slice(0, -1))}) and ${onlyGroups(sql`v.group_id`, own)}`);
  return {
    rules: here,
    above,
    names: await namesIn(db, actor, own, [...here, ...above]),
    may: { make: may(actor, 'managePeople', { path }) },
  };
}

async function ruleRows(db: Queryable, actor: SignedIn, condition: SQL): Promise<RuleRow[]> {
  const tree = await wholeTree(db);
  const rules = await standingRules(db, condition);
  const more = new Map(
    (
      await rows<{ id: number; group: string; by: string; acted: number; last_at: string | null; waiting: RuleRow['waiting'] }>(
        db,
        sql`
        select v.rule_id as id, g.name as "group", trim(n.given_name || ' ' || n.family_name) as by, k.acted, k.last_at, jsonb_build_object('count', w.count, 'people', w.people) as waiting from rule_version v
        join group_now g on g.id = v.group_id join personal_now n on n.person_id = v.made_by
        cross join lateral (select count(*)::int as acted, max(at) as last_at from rule_act a where a.rule_id = v.rule_id and a.outcome = 'acted') k
        cross join lateral (
          select count(*)::int as count, coalesce(jsonb_agg(jsonb_build_object('id', a.person_id, 'name', a.name) order by a.name), '[]') as people from (
            select a.person_id, min(n.family_name || ', ' || n.given_name) as name from rule_act a join person p on p.id = a.person_id join personal_now n on n.person_id = p.id
            where a.rule_id = v.rule_id and a.outcome = 'asked' and p.counted and ${seenPerson(actor, sql`p.id`)} group by a.person_id limit ${mostWaiting}
          ) a
        ) w
        where v.until_at is null and v.rule_id = any(${ids(rules.map(({ id }) => id))})`,
      )
    ).map((row) => [row.id, row]),
  );
  return rules.map((rule) => {
    const { group = '', by = null, acted = 0, last_at = null, waiting = { count: 0, people: [] } } = more.get(rule.id) ?? {};
    const isTheirs = wordReaches({ actor, tree }, rule);
    const mayManage = may(actor, 'managePeople', { path: tree.path(rule.group_id) });
    return {
      id: rule.id,
      group: { id: rule.group_id, name: group },
      values: valuesOf(rule),
      isOn: rule.is_on,
      onSince: rule.on_since === null ? null : iso(rule.on_since),
      pausedFor: rule.paused_for,
      by: isTheirs ? by : null,
      acted,
      lastAt: last_at === null ? null : iso(last_at),
      waiting,
      may: { edit: mayManage && isTheirs, end: mayManage, answer: mayManage },
    };
  });
}

const valuesOf = ({ name, when, filter, then, asks_first }: StandingRule): RuleValues => ({
  name,
  when,
  filter: [...filter],
  then,
  ...(asks_first ? { asksFirst: true } : {}),
});

/** Names of everything that rules speak of; what a leader may not know of has none. */
async function namesIn(db: Queryable, actor: SignedIn, own: ReadonlySet<number> | null, list: readonly RuleRow[]): Promise<RuleNames> {
  const all = <T>(pick: (values: RuleValues) => readonly T[]): T[] => [...new Set(list.flatMap(({ values }) => pick(values)))];
  const named = (statement: SQL): Promise<{ id: number; name: string }[]> => rows(db, statement);
  const units = all(({ when }) => ('unitId' in when && when.unitId ? [when.unitId] : []));
  const activities = all(({ when }) => ('activityId' in when && when.activityId ? [when.activityId] : []));
  const licences = all(({ then }) => then.flatMap((act) => (act.act === 'give back a seat' ? [act.licenceId] : [])));
  const tags = all(({ when }) => (when.when === 'tagged' ? [when.tagId] : []));
  return {
    groups: await named(
      sql`select id, name from group_now where id = any(${ids(all(({ when, then }) => groupsIn(when, then)))}) and ${onlyGroups(sql`id`, own)}`,
    ),
    courses: await named(sql`select id, name from course_now where id = any(${ids(all(({ when, then }) => coursesIn(when, then)))})`),
    units: await named(sql`select id, name from unit_now where id = any(${ids(units)})`),
    activities: await named(sql`select id, name from activity_now where id = any(${ids(activities)})`),
    licences: await named(
      sql`select licence_id as id, name from licence_now where licence_id = any(${ids(licences)}) and ${onlyGroups(sql`group_id`, own)}`,
    ),
    tags: await named(sql`select t.id, t.name from tag_now t where t.id = any(${ids(tags)}) and ${seenTags(actor)}`),
  };
}

/** @throws ProblemError `not-found` unless the actor may know of the group of the rule. */
async function readableRule(db: Queryable, actor: SignedIn, ruleId: number): Promise<StandingRule> {
  const [rule] = await standingRules(db, sql`v.rule_id = ${ruleId}`);
  if (!rule) throw notFound();
  await pathTo(db, actor, rule.group_id);
  return rule;
}

/** What a rule did last, and what it did not do and why; of people whom the reader may see. */
export async function actsOfRule(
  db: Queryable,
  actor: SignedIn,
  ruleId: number,
  after: number | undefined,
): Promise<Answer<Routes['ruleActs']>> {
  await readableRule(db, actor, ruleId);
  const found = await rows<Answer<Routes['ruleActs']>['acts'][number]>(
    db,
    sql`
    select a.id, jsonb_build_object('id', p.id, 'name', trim(n.given_name || ' ' || n.family_name)) as person, a.at, a.outcome, a.change_id as "changeId"
    from rule_act a join person p on p.id = a.person_id join personal_now n on n.person_id = p.id
    where a.rule_id = ${ruleId} and ${after === undefined ? sql`true` : sql`a.id < ${after}`} and p.erased_at is null and ${seenPerson(actor, sql`p.id`)}
    order by a.id desc limit ${actsAtOnce + 1}`,
  );
  const acts = found.slice(0, actsAtOnce).map((each) => ({ ...each, at: iso(each.at) }));
  return { acts, next: found.length > actsAtOnce ? (acts.at(-1)?.id ?? null) : null };
}

/** Whom a rule that is being written fits today, and how often it would have been set off. */
export async function rehearse(
  db: Queryable,
  actor: SignedIn,
  groupId: number,
  values: RuleValues,
): Promise<Answer<Routes['rehearseRule']>> {
  await pathTo(db, actor, groupId, 'managePeople');
  const rule = { id: null, group_id: groupId, when: values.when, filter: values.filter };
  const fits = await fitting(db, actor, rule);
  const shown = fits.slice(0, rehearsedNames);
  const names = new Map(
    (
      await rows<{ id: number; name: string }>(
        db,
        sql`select n.person_id as id, n.family_name || ', ' || n.given_name as name from personal_now n where n.person_id = any(${ids(peopleOf(shown))})`,
      )
    ).map(({ id, name }) => [id, name]),
  );
  const since = sql`${addDays(actor.today, -7 * weeksBack)}::timestamp at time zone ${actor.timeZone}`;
  const past = hasPast(values.when)
    ? await rows<{ week: number; people: number[]; days: number; times: number }>(
        db,
        sql`
        select floor(extract(epoch from o.at - (${since})) / 604800)::int as week, array_agg(distinct o.person_id) as people, count(distinct (o.at at time zone ${actor.timeZone})::date)::int as days, count(*)::int as times
        from (${occasions(values.when, null, isCounted(groupId, true), await watchOf(db, actor, groupId))}) o where o.at >= ${since} and o.at <= now() group by 1`,
      )
    : null;
  return {
    fits: peopleOf(fits).length,
    people: shown.map(({ person_id, at }) => ({ id: person_id, name: names.get(person_id) ?? '', at: at === null ? null : iso(at) })),
    weeks: past && Array.from({ length: weeksBack }, (_, week) => past.find((each) => each.week === week)?.times ?? 0),
    happened: {
      people: new Set(past?.flatMap(({ people }) => people.map(Number)) ?? []).size,
      days: past?.reduce((sum, { days }) => sum + days, 0) ?? 0,
    },
  };
}

/** Why a rule acted on somebody, or did not: the first thing that answers. */
export async function whyNot(
  db: Queryable,
  actor: SignedIn,
  ruleId: number,
  personId: number,
  now: Date,
): Promise<Answer<Routes['whyNot']>> {
  const rule = await readableRule(db, actor, ruleId);
  await visiblePerson(db, actor, personId);
  const answer = (reason: Answer<Routes['whyNot']>['reason'], at: string | null = null) => ({ reason, at: at === null ? null : iso(at) });
  const them = onlyPeople([personId]);
  const maker = await maybeActor(db, rule.made_by, now);
  if (!rule.is_on) return answer('off');
  if (rule.paused_for !== null || !maker) return answer('paused');
  if (!(await maybeRow(db, sql`select 1 from person p where ${them} and ${isCounted(rule.group_id, true)}`)))
    return answer('not in branch');
  const happened = await maybeRow<{ occasion: string; at: string | null; is_late: boolean }>(
    db,
    sql`select o.occasion, o.at::text as at, coalesce(o.at <= ${rule.on_since}::timestamptz, false) as is_late from (${occasions(rule.when, rule.id, them, await watchOf(db, maker, rule.group_id))}) o where o.stands order by o.at desc nulls last limit 1`,
  );
  if (!happened) return answer('not happened');
  const done = await maybeRow<{ outcome: RuleOutcome; at: string; undone: boolean }>(
    db,
    sql`
    select a.outcome, a.at::text as at, c.undone_by is not null as undone from rule_act a left join change_log c on c.id = a.change_id
    where a.rule_id = ${ruleId} and a.person_id = ${personId} and a.occasion = ${happened.occasion}`,
  );
  if (done?.undone) return answer('undone', done.at);
  if (done) return answer(done.outcome === 'before' ? 'before switched on' : done.outcome === 'undo' ? 'undone' : done.outcome, done.at);
  if (happened.is_late) return answer('before switched on', happened.at);
  const fits = await oneRow<{ fits: boolean }>(
    db,
    sql`select exists (select 1 from person p where ${them} and ${await fitsFilter(db, maker, rule, them)}) as fits`,
  );
  if (!fits.fits) return answer('filter', happened.at);
  return answer((await hasHadEnough(db, personId, maker)) ? 'too often today' : 'soon', happened.at);
}

type RuleOutcome = Answer<Routes['ruleActs']>['acts'][number]['outcome'];
