import type { Change } from '@gate-roster/contract';
import {
  type Conflict,
  type Effects,
  loopThrough,
  may,
  noEffects,
  noSeats,
  type Power,
  type RuleAct,
  type RuleWhen,
  speakingBranch,
  tidyName,
} from '@gate-roster/core';
import { and, eq, sql } from 'drizzle-orm';
import { grantsByCourse } from '../access/load-rules.ts';
import { mergeTouched, type Plan, type PlanContext, type Planner, summaryOf } from '../changes/plan.ts';
import { firstOf, maybeRow, oneRow } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { notFound } from '../http/problem.ts';
import { seenTags } from '../people/tags.ts';
import { standingLicence } from '../seats/change-licences.ts';
import { changesOf, leadersOf, tellLeaders } from './acts.ts';
import { type Fitting, fitting, noteActs, peopleOf, syncHolds } from './fitting.ts';
import { type StandingRule, standingRules } from './standing-rules.ts';

type SetRule = Extract<Change, { kind: 'set-rule' }>;

/** Makes an automatic rule, changes it, or switches it on or off. Whoever does so is its maker from then on. */
export const planSetRule: Planner<'set-rule'> = async (context, change) => {
  const { db, actor, tree, today } = context;
  const { groupId, values, state } = change;
  const standing = change.ruleId === null ? null : await editableRule(context, change.ruleId);
  if (!mayAt(context, 'managePeople', groupId)) throw notFound();
  await checkNames(context, change);
  const isOn = state !== 'off';
  const effects = noEffects();
  effects.conflicts = [...powersLacked(context, change), ...(isOn ? await loops(context, change) : [])];
  const rule = { id: null, group_id: groupId, when: values.when, filter: values.filter, name: tidyName(values.name), then: values.then };
  const fits = state === 'those it fits too' ? await fitting(db, actor, rule) : [];
  const isInTheWay = effects.conflicts.some(({ blocks }) => blocks);
  const asksFirst = values.asksFirst === true;
  const acts = fits.length > 0 && !isInTheWay && !asksFirst ? await actsOn(context, rule, fits) : [];
  for (const { effects: each } of acts) addEffects(effects, each);
  const leaders =
    fits.length > 0 && !asksFirst && values.then.some(({ act }) => act === 'tell leaders') ? await leadersOf(db, groupId, today) : [];
  effects.letters += leaders.length;
  const maker = speakingBranch(actor, 'managePeople', { path: tree.path(groupId) });
  return {
    effects,
    groups: [...new Set([groupId, ...acts.flatMap(({ groups }) => groups)])],
    summary: summaryOf({
      groups: [groupId],
      names: { before: standing?.name ?? '', after: rule.name },
      people: peopleOf(fits).slice(0, 3),
      counts: { people: peopleOf(fits).length },
      fields: [change.ruleId === null ? 'new' : 'old', state],
    }),
    async write(tx, writer) {
      const ruleId = standing?.id ?? (await oneRow<{ id: number }>(tx, sql`insert into rule default values returning id`)).id;
      const { now } = await oneRow<{ now: string }>(tx, sql`select now()::text as now`);
      const row = {
        rule_id: ruleId,
        group_id: groupId,
        name: rule.name,
        set_off: values.when,
        filter: values.filter,
        acts: values.then,
        asks_first: asksFirst,
        is_on: isOn,
        on_since: isOn ? now : null,
        made_by: actor.personId,
        maker_branch_id: maker,
      };
      if (standing) await writer.replace('rule', [{ rowId: standing.row_id, values: row }]);
      else await writer.begin('rule', [row]);
      await tx.update(tables.rule).set({ pausedFor: null }).where(eq(tables.rule.id, ruleId));
      if (isOn) await syncHolds(tx, { ...rule, id: ruleId }, actor, { since: now });
      // Those who have the course from now on have it since now: their occasions are known by that moment.
      const acted = values.when.when === 'gets' ? fits.map((each) => ({ ...each, occasion: now })) : fits;
      await noteActs(tx, ruleId, acted, asksFirst ? 'asked' : 'acted', asksFirst ? null : writer.changeId);
      await tellLeaders(tx, context.publicUrl, rule, peopleOf(fits), leaders);
      const touched = [];
      for (const act of acts) touched.push(await act.write(tx, writer));
      return mergeTouched([{ rules: true }, ...touched]);
    },
  };
};

/** Ends a rule: it acts no more, and what it did stays. */
export const planEndRule: Planner<'end-rule'> = async (context, { ruleId }) => {
  const standing = await ruleIn(context, ruleId);
  if (!mayAt(context, 'managePeople', standing.group_id)) throw notFound();
  return {
    effects: noEffects(),
    groups: [standing.group_id],
    summary: summaryOf({ groups: [standing.group_id], names: { before: '', after: standing.name } }),
    async write(_, writer) {
      await writer.end('rule', [standing.row_id]);
      return { rules: true };
    },
  };
};

const mayAt = ({ actor, tree }: PlanContext, power: Power, groupId: number): boolean =>
  tree.has(groupId) && may(actor, power, { path: tree.path(groupId) });

async function ruleIn({ db }: PlanContext, ruleId: number): Promise<StandingRule> {
  const [rule] = await standingRules(db, sql`v.rule_id = ${ruleId}`);
  if (!rule) throw notFound();
  return rule;
}

/** @throws ProblemError `not-found` unless the actor manages people there, and the word of whoever made it goes no further than theirs. */
async function editableRule(context: PlanContext, ruleId: number): Promise<StandingRule> {
  const rule = await ruleIn(context, ruleId);
  if (!mayAt(context, 'managePeople', rule.group_id) || !wordReaches(context, rule)) throw notFound();
  return rule;
}

/** Does the actor's word go as far as that of the maker of a rule or a split? */
export function wordReaches(
  { actor, tree }: Pick<PlanContext, 'actor' | 'tree'>,
  made: Pick<StandingRule, 'group_id' | 'maker_branch_id'>,
  power: Power = 'managePeople',
): boolean {
  if (actor.role === 'administrator') return true;
  const mine = speakingBranch(actor, power, { path: tree.path(made.group_id) });
  return made.maker_branch_id !== null && mine !== null && tree.has(made.maker_branch_id) && tree.isInBranch(made.maker_branch_id, mine);
}

export const groupsIn = (when: RuleWhen, acts: readonly RuleAct[]): number[] => [
  ...('groupId' in when ? [when.groupId] : []),
  ...acts.flatMap((act) => (act.act === 'move' ? [act.fromId, act.intoId] : 'groupId' in act ? [act.groupId] : [])),
];
export const coursesIn = (when: RuleWhen, acts: readonly RuleAct[]): number[] => [
  ...('courseId' in when ? [when.courseId] : 'courses' in when ? when.courses : []),
  ...acts.flatMap((act) => ('courseId' in act ? [act.courseId] : [])),
];

/** @throws ProblemError `not-found` when something that the rule names is not there, or not the actor's. */
async function checkNames(context: PlanContext, { groupId, values: { when, then } }: SetRule): Promise<void> {
  const { db, actor, tree } = context;
  if ((when.when === 'enters' || when.when === 'leaves') && (!tree.has(when.groupId) || !tree.isInBranch(when.groupId, groupId)))
    throw notFound();
  if (!groupsIn(when, then).every((id) => mayAt(context, 'managePeople', id))) throw notFound();
  const courses = new Map((await grantsByCourse(db, null)).map(({ course }) => [course.id, course]));
  if (!coursesIn(when, then).every((id) => courses.has(id))) throw notFound();
  if ('unitId' in when && when.unitId && !courses.get(when.courseId)?.units.includes(when.unitId)) throw notFound();
  const activityId = 'activityId' in when ? when.activityId : null;
  if (
    activityId &&
    !(await firstOf(
      db
        .select({ id: tables.activityNow.id })
        .from(tables.activityNow)
        .where(and(eq(tables.activityNow.id, activityId), eq(tables.activityNow.courseId, 'courseId' in when ? when.courseId : 0))),
    ))
  )
    throw notFound();
  for (const act of then) if (act.act === 'give back a seat' && !(await paysHere(context, act.licenceId, groupId))) throw notFound();
  if (when.when === 'tagged' && !(await maybeRow(db, sql`select 1 from tag_now t where t.id = ${when.tagId} and ${seenTags(actor)}`)))
    throw notFound();
}

/** Does a licence pay in the branch of a group? */
async function paysHere({ db, tree }: PlanContext, licenceId: number, groupId: number): Promise<boolean> {
  const home = (await standingLicence(db, licenceId))?.group_id;
  return home !== undefined && tree.has(home) && (tree.isInBranch(groupId, home) || tree.isInBranch(home, groupId));
}

const powerOf: Partial<Record<RuleAct['act'], Power>> = {
  open: 'openCourses',
  block: 'openCourses',
  'more time': 'openCourses',
  'give back a seat': 'handOutSeats',
  write: 'writeMessages',
  'tell leaders': 'writeMessages',
};

/** Acts for which the maker would have no power at the rule's group. */
function powersLacked(context: PlanContext, { groupId, values: { when, then } }: SetRule): Conflict[] {
  const needed = new Set(then.flatMap(({ act }) => powerOf[act] ?? []));
  if (['begins', 'finishes', 'scores', 'due'].includes(when.when)) needed.add('seeProgress');
  const lacked = [...needed].filter((power) => !mayAt(context, power, groupId));
  return lacked.length === 0 ? [] : [{ code: 'rule lacks power', blocks: true, count: lacked.length }];
}

/** The circle that this rule would close, drawn; of rules that the actor may not know of only that there are some. */
async function loops(context: PlanContext, { ruleId, values }: SetRule): Promise<Conflict[]> {
  const { db, tree, seen } = context;
  const others = (await standingRules(db, sql`v.is_on`)).filter(({ id }) => id !== ruleId);
  const tags = await db.select({ id: tables.tagNow.id, key: tables.tagNow.nameKey }).from(tables.tagNow);
  const world = { tree, about: await grantsByCourse(db, null), tags: new Map(tags.map(({ id, key }) => [id, key])) };
  const way = loopThrough({ id: 0, when: values.when, then: values.then }, others, world);
  if (!way) return [];
  const drawn = [...way, 0].map((id) => {
    const other = others.find((rule) => rule.id === id);
    return other === undefined ? tidyName(values.name) : seen === null || seen(other.group_id) ? other.name : '…';
  });
  return [{ code: 'rule loops', blocks: true, count: way.length, names: [drawn.join(' → ')] }];
}

/** The changes that a rule makes of those it fits; what stands in the way of one of them leaves that one out. */
export async function actsOn(context: PlanContext, rule: Parameters<typeof changesOf>[0], fits: readonly Fitting[]): Promise<Plan[]> {
  const plans: Plan[] = [];
  for (const act of changesOf(rule, peopleOf(fits), context.today)) {
    const plan = await context.planOf(act);
    if (!plan.effects.conflicts.some(({ blocks }) => blocks)) plans.push(plan);
  }
  return plans;
}

/** Effects of several changes at once, each worked out from today: what stands in the way of a part does not stop the rule. */
export function addEffects(sum: Effects, more: Effects): void {
  for (const list of ['gains', 'loses', 'still', 'becomeDone', 'noLongerDone', 'excepted'] as const)
    sum[list] = [...sum[list], ...more[list]];
  for (const list of ['joins', 'leaves'] as const) sum[list] = [...sum[list], ...more[list]];
  for (const list of ['changedPeople', 'reached'] as const) sum[list] = [...new Set([...sum[list], ...more[list]])].sort((a, b) => a - b);
  sum.letters += more.letters;
  sum.confirming += more.confirming;
  if (sum.seats.needed === noSeats().needed && sum.seats.ended.length === 0) sum.seats = more.seats;
  sum.conflicts = [...sum.conflicts, ...more.conflicts.map((conflict) => ({ ...conflict, blocks: false }))];
}
