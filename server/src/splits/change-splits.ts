import type { Change } from '@gate-roster/contract';
import { type Conflict, isBlocked, may, noEffects, speakingBranch, tidyName } from '@gate-roster/core';
import { and, isNull, sql } from 'drizzle-orm';
import { grantsByCourse } from '../access/load-rules.ts';
import { type Plan, type PlanContext, type Planner, summaryOf, type Touched } from '../changes/plan.ts';
import type { ChangeWriter } from '../changes/writer.ts';
import { ids, isAmong, iso, maybeRow, oneRow, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { notFound } from '../http/problem.ts';
import { wordReaches } from '../rules/set-rule.ts';
import { type DividedGroup, effectsForNow } from './effects-for-now.ts';
import { runningIn, type StoredPart } from './running.ts';

type SetSplit = Extract<Change, { kind: 'set-split' }>;

export interface StandingSplit {
  id: number;
  row_id: number;
  group_id: number;
  name: string;
  parts: StoredPart[];
  runs_from: string | null;
  runs_until: string | null;
  made_by: number;
  maker_branch_id: number | null;
  is_running: boolean;
  members: { rowId: number; personId: number; part: number }[];
}

/** A split that opens anything ends after so many hours at the latest; another after so many days. */
const mostHours = { opening: 24, closing: 60 * 24 };

/** Makes a split of a group, or changes who is in which of its parts and what they may do. From then on it is that person who speaks in it. */
export const planSetSplit: Planner<'set-split'> = async (context, change) => {
  const { actor, tree } = context;
  const { groupId } = change;
  const standing = change.splitId === null ? null : await editableSplit(context, change.splitId);
  if (!mayAt(context, groupId) || (standing && standing.group_id !== groupId)) throw notFound();
  await checkParts(context, change);
  const { members, gone, twice } = await membersOf(context, change);
  const maker = speakingBranch(actor, 'openCourses', { path: tree.path(groupId) });
  const then: DividedGroup = { groupId, makerBranch: maker, parts: change.parts, members };
  const effects = noEffects();
  effects.conflicts = [
    ...about('in two parts', twice, true),
    ...about('gone since', gone, false),
    ...(standing?.is_running ? await startable(context, standing.id, then, standing.runs_until) : []),
  ];
  if (standing?.is_running && !isBlocked(effects)) Object.assign(effects, await effectsForNow(context, groupOf(standing), then));
  return {
    effects,
    groups: [groupId],
    summary: summaryOf({
      groups: [groupId],
      names: { before: standing?.name ?? '', after: tidyName(change.name) },
      counts: { people: members.length, parts: change.parts.length },
      fields: [standing === null ? 'new' : standing.is_running ? 'running' : 'old'],
    }),
    async write(tx, writer) {
      const splitId = standing?.id ?? (await oneRow<{ id: number }>(tx, sql`insert into split default values returning id`)).id;
      const values = {
        split_id: splitId,
        group_id: groupId,
        name: tidyName(change.name),
        parts: change.parts.map(({ personIds: _, ...part }): StoredPart => part),
        made_by: actor.personId,
        maker_branch_id: maker,
      };
      if (standing) await writer.replace('split', [{ rowId: standing.row_id, values }]);
      else await writer.begin('split', [values]);
      await writeMembers(writer, splitId, standing?.members ?? [], members);
      return touched;
    },
  };
};

/** Lets a split run until a moment. */
export const planStartSplit: Planner<'start-split'> = async (context, { splitId, until }) => {
  const { actor, tree } = context;
  const standing = await editableSplit(context, splitId);
  const maker = speakingBranch(actor, 'openCourses', { path: tree.path(standing.group_id) });
  const then = { ...groupOf(standing), makerBranch: maker };
  const effects = noEffects();
  effects.conflicts = await startable(context, splitId, then, until);
  if (!isBlocked(effects)) Object.assign(effects, await effectsForNow(context, standing.is_running ? groupOf(standing) : null, then));
  return {
    ...planned(standing, then),
    effects,
    async write(tx, writer) {
      const { now } = await oneRow<{ now: string }>(tx, sql`select now()::text as now`);
      const runsFrom = standing.is_running ? standing.runs_from : now;
      await writer.replace('split', [
        { rowId: standing.row_id, values: { runs_from: runsFrom, runs_until: until, made_by: actor.personId, maker_branch_id: maker } },
      ]);
      return touched;
    },
  };
};

/** All back together: everybody has what they had. */
export const planStopSplit: Planner<'stop-split'> = async (context, { splitId }) => {
  const standing = await splitIn(context, splitId);
  if (!mayAt(context, standing.group_id)) throw notFound();
  const effects = noEffects();
  if (standing.is_running) Object.assign(effects, await effectsForNow(context, groupOf(standing), null));
  else effects.conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  return {
    ...planned(standing, groupOf(standing)),
    effects,
    async write(_, writer) {
      await writer.replace('split', [{ rowId: standing.row_id, values: { runs_from: null, runs_until: null } }]);
      return touched;
    },
  };
};

export const planDeleteSplit: Planner<'delete-split'> = async (context, { splitId }) => {
  const standing = await editableSplit(context, splitId);
  const effects = noEffects();
  if (standing.is_running) Object.assign(effects, await effectsForNow(context, groupOf(standing), null));
  return {
    ...planned(standing, groupOf(standing)),
    effects,
    async write(_, writer) {
      await writer.end('split', [standing.row_id]);
      await writer.end(
        'split member',
        standing.members.map(({ rowId }) => rowId),
      );
      return touched;
    },
  };
};

/** Pages of the group's people, and of those who divide it, are asked again; nothing that is kept follows from a split. */
const touched: Touched = { splits: true };

const planned = ({ group_id, name }: StandingSplit, { parts, members }: DividedGroup): Pick<Plan, 'groups' | 'summary'> => ({
  groups: [group_id],
  summary: summaryOf({ groups: [group_id], names: { before: name, after: name }, counts: { people: members.length, parts: parts.length } }),
});

const mayAt = ({ actor, tree }: PlanContext, groupId: number): boolean =>
  tree.has(groupId) && may(actor, 'openCourses', { path: tree.path(groupId) });

export const groupOf = ({ group_id, maker_branch_id, parts, members }: StandingSplit): DividedGroup => ({
  groupId: group_id,
  makerBranch: maker_branch_id,
  parts,
  members,
});

/** @throws ProblemError `not-found` when there is none that stands. */
async function splitIn({ db }: Pick<PlanContext, 'db'>, splitId: number): Promise<StandingSplit> {
  const standing = await maybeRow<StandingSplit>(db, sql`${standingSplits} and v.split_id = ${splitId}`);
  if (!standing) throw notFound();
  return standing;
}

/** Splits as they stand, of groups that stand; more conditions on `v` may follow. */
export const standingSplits = sql`
  select v.split_id as id, v.row_id, v.group_id, v.name, v.parts, v.runs_from::text as runs_from, v.runs_until::text as runs_until, v.made_by, v.maker_branch_id,
    coalesce(v.runs_until > now(), false) as is_running,
    coalesce((select jsonb_agg(jsonb_build_object('rowId', m.row_id, 'personId', m.person_id, 'part', m.part) order by m.row_id) from split_member m where m.split_id = v.split_id and m.until_at is null), '[]') as members
  from split_version v join group_now g on g.id = v.group_id where v.until_at is null`;

/** @throws ProblemError `not-found` unless the actor opens courses there, and its maker speaks no further than they do. */
async function editableSplit(context: PlanContext, splitId: number): Promise<StandingSplit> {
  const standing = await splitIn(context, splitId);
  if (!mayAt(context, standing.group_id) || !wordReaches(context, standing, 'openCourses')) throw notFound();
  return standing;
}

/** @throws ProblemError `not-found` when a part names a course, unit or leader that is not there. */
async function checkParts(context: PlanContext, { groupId, parts }: SetSplit): Promise<void> {
  const { db, tree } = context;
  if (new Set(parts.map(({ key }) => key)).size < parts.length) throw notFound();
  const units = new Map((await grantsByCourse(db, null)).map(({ course }) => [course.id, course.units]));
  const named = parts.flatMap(({ allowance }) => allowance?.courses ?? []);
  if (!named.every((each) => units.has(each.courseId) && (each.units ?? []).every((unit) => units.get(each.courseId)?.includes(unit))))
    throw notFound();
  const leaders = parts.flatMap(({ leaderId }) => leaderId ?? []);
  const known = await rows<{ id: number }>(db, leadersAt(tree.branch(groupId), leaders));
  if (!leaders.every((id) => known.some((each) => each.id === id))) throw notFound();
}

const leadersAt = (groups: Iterable<number>, among: readonly number[]) =>
  sql`select distinct person_id as id from leadership where until_at is null and group_id = any(${ids(groups)}) and person_id = any(${ids(among)})`;

interface WishedMembers {
  members: { personId: number; part: number }[];
  gone: number[];
  twice: number[];
}

/** Whom the parts name: those who are in the group's branch; somebody from elsewhere is as little known as somebody who left. */
async function membersOf({ db, tree }: PlanContext, { groupId, parts }: SetSplit): Promise<WishedMembers> {
  const wished = parts.flatMap(({ key, personIds }) => personIds.map((personId) => ({ personId, part: key })));
  const found = await db
    .selectDistinct({ id: tables.membership.personId })
    .from(tables.membership)
    .where(
      and(
        isNull(tables.membership.untilAt),
        isAmong(tables.membership.groupId, tree.branch(groupId)),
        isAmong(
          tables.membership.personId,
          wished.map(({ personId }) => personId),
        ),
      ),
    );
  const there = new Set(found.map(({ id }) => id));
  const seen = new Set<number>();
  const twice = wished.flatMap(({ personId }) => (seen.has(personId) ? [personId] : (seen.add(personId), [])));
  return {
    members: wished.filter(({ personId }) => there.has(personId)),
    gone: wished.flatMap(({ personId }) => (there.has(personId) ? [] : [personId])),
    twice,
  };
}

const about = (code: Conflict['code'], people: readonly number[], blocks: boolean): Conflict[] =>
  people.length === 0 ? [] : [{ code, blocks, count: new Set(people).size, people: [...new Set(people)] }];

/** What stands in the way of running it until then. */
async function startable(
  { db }: PlanContext,
  splitId: number,
  { groupId, parts, members }: DividedGroup,
  until: string | null,
): Promise<Conflict[]> {
  const on = new Set(parts.flatMap(({ key, isOn }) => (isOn ? [key] : [])));
  const concerned = members.filter(({ part }) => on.has(part)).map(({ personId }) => personId);
  const others = (await runningIn(db, groupId, splitId)).flatMap(({ people }) => people);
  const hours = (Date.parse(iso(until ?? '')) - Date.now()) / 3_600_000;
  const opens = parts.some(({ allowance }) => allowance && allowance.mode !== 'none' && allowance.courses.length > 0);
  return [
    ...(concerned.length === 0 ? [{ code: 'nobody in parts' as const, blocks: true, count: 1 }] : []),
    ...about(
      'in another split',
      concerned.filter((id) => others.includes(id)),
      true,
    ),
    ...(hours <= 0 ? [{ code: 'time is past' as const, blocks: true, count: 1 }] : []),
    ...(hours > (opens ? mostHours.opening : mostHours.closing) ? [{ code: 'runs too long' as const, blocks: true, count: 1 }] : []),
  ];
}

/** Those who stay where they are keep their row. */
async function writeMembers(
  writer: ChangeWriter,
  splitId: number,
  before: StandingSplit['members'],
  after: readonly { personId: number; part: number }[],
): Promise<void> {
  const key = ({ personId, part }: { personId: number; part: number }): string => `${personId}/${part}`;
  const [had, has] = [new Set(before.map(key)), new Set(after.map(key))];
  await writer.end(
    'split member',
    before.filter((each) => !has.has(key(each))).map(({ rowId }) => rowId),
  );
  await writer.begin(
    'split member',
    after.filter((each) => !had.has(key(each))).map(({ personId, part }) => ({ split_id: splitId, person_id: personId, part })),
  );
}
