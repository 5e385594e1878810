import type { Change } from '@gate-roster/contract';
import {
  addTo,
  type Grant,
  type GroupId,
  type GroupNode,
  nameKey,
  type SeatLimit,
  shiftDay,
  speakingBranch,
  tidyName,
} from '@gate-roster/core';
import { and, isNull, sql } from 'drizzle-orm';
import { isTheirs } from '../access/grant-access.ts';
import { endedGrants, grantsByCourse } from '../access/load-rules.ts';
import { type Appointed, holdsAll } from '../accounts/set-leaders.ts';
import type { PlanContext } from '../changes/plan.ts';
import type { ChangeWriter } from '../changes/writer.ts';
import { ids, isAmong, rows, type Transaction } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { beginCode, valuesOf } from '../entry/change-codes.ts';
import { mayMakeCode, type CodeRow } from '../entry/codes.ts';
import { mayLimit } from '../seats/change-licences.ts';

/* What a branch is made of, for another branch that is to be like it, with its days moved. */

export type MakeNext = Extract<Change, { kind: 'make-next-period' }>;

export interface CopiedGroup {
  like: GroupId;
  /** Under a number below zero until it is made. */
  node: GroupNode;
}

/** The groups of the branch, from the top down, with their days moved; a closed period's last day too. */
export function copiedGroups(
  { tree }: PlanContext,
  { groupId, parentId, name, shift }: MakeNext,
  branch: readonly GroupId[],
): CopiedGroup[] {
  const copyOf = new Map(branch.map((id, index) => [id, -1 - index]));
  const moved = (day: string | null): string | null => day && shiftDay(day, shift);
  return branch.map((like) => {
    const old = tree.node(like);
    return {
      like,
      node: {
        id: copyOf.get(like) ?? 0,
        parentId: like === groupId ? parentId : (copyOf.get(old.parentId ?? 0) ?? parentId),
        name: like === groupId ? tidyName(name) : old.name,
        state: 'active',
        firstDay: moved(old.firstDay),
        lastDay: moved(old.lastDay),
      },
    };
  });
}

/** What is said at groups of the branch, for their copies, in the actor's name; a leader's open of what is not theirs to open is left out. */
export async function copiedGrants(
  context: PlanContext,
  { parentId, shift }: MakeNext,
  branch: readonly GroupId[],
  copyOf: ReadonlyMap<GroupId, GroupId>,
): Promise<[{ courseIds: number[]; grant: Grant }[], number]> {
  const { db, actor, tree, today } = context;
  const standing = await rows<{ id: number }>(
    db,
    sql`select row_id as id from access_grant where until_at is null and group_id = any(${ids(branch)}) order by 1`,
  );
  const makerBranch = speakingBranch(actor, 'openCourses', { path: tree.path(parentId) });
  const moved = (day: string | null): string | null => day && shiftDay(day, shift);
  const about = await grantsByCourse(db, null);
  const all = (
    await endedGrants(
      db,
      standing.map(({ id }) => id),
    )
  ).flatMap(({ courseIds, grant }, index) =>
    'group' in grant.at
      ? [
          {
            courseIds,
            grant: {
              ...grant,
              id: -1_000_000 - index,
              at: { ...grant.at, group: copyOf.get(grant.at.group) ?? 0 },
              firstDay: moved(grant.firstDay),
              lastDay: moved(grant.lastDay),
              due: grant.due && 'day' in grant.due.at ? { ...grant.due, at: { day: shiftDay(grant.due.at.day, shift) } } : grant.due,
              makerBranch,
              madeDay: today,
            },
          },
        ]
      : [],
  );
  const theirs = all.filter(
    ({ courseIds, grant }) =>
      grant.effect === 'block' ||
      isTheirs(
        context,
        about.filter(({ course }) => courseIds.includes(course.id)),
        makerBranch,
      ),
  );
  return [theirs, all.length - theirs.length];
}

/** Limits of licences whose home is above the copies too. */
export async function copiedLimits(
  { db, actor, tree }: PlanContext,
  branch: readonly GroupId[],
  copyOf: ReadonlyMap<GroupId, GroupId>,
  after: PlanContext['tree'],
): Promise<SeatLimit[]> {
  const standing = await rows<SeatLimit & { homeId: GroupId }>(
    db,
    sql`select s.licence_id as "licenceId", s.group_id as "groupId", s.most, l.group_id as "homeId" from seat_limit s join licence_now l on l.licence_id = s.licence_id
    where s.until_at is null and s.group_id = any(${ids(branch)}) order by 1, 2`,
  );
  return standing.flatMap(({ licenceId, groupId, most, homeId }) => {
    const copy = copyOf.get(groupId) ?? 0;
    const path = after.path(copy);
    return path.includes(homeId) && mayLimit(actor, tree.path(groupId)) ? [{ licenceId, groupId: copy, most }] : [];
  });
}

/** Makes the copies with what is said of the groups themselves, their tags and handouts. @returns The numbers they got. */
export async function makeGroups(
  tx: Transaction,
  writer: ChangeWriter,
  copies: readonly CopiedGroup[],
  parentId: GroupId,
): Promise<Map<GroupId, GroupId>> {
  const fresh = await rows<{ id: GroupId }>(
    tx,
    sql`insert into groups (created_at) select now() from generate_series(1, ${copies.length}::int) returning id`,
  );
  const made = new Map(copies.map(({ node }, index) => [node.id, fresh[index]?.id ?? 0]));
  const likes = ids(copies.map(({ like }) => like));
  const models = new Map(
    (
      await rows<{ id: GroupId; values: Record<string, unknown> }>(
        tx,
        sql`
        select id, jsonb_build_object('description', description, 'colour', colour, 'young_learners', young_learners, 'sign_in_prefix', sign_in_prefix, 'picture_id', picture_id, 'contact_id', contact_id) as values
        from group_now where id = any(${likes})`,
      )
    ).map(({ id, values }) => [id, values]),
  );
  await writer.begin(
    'group',
    copies.map(({ like, node }) => ({
      ...models.get(like),
      group_id: made.get(node.id),
      parent_id: node.parentId === null ? parentId : (made.get(node.parentId) ?? parentId),
      name: node.name,
      name_key: nameKey(node.name),
      state: node.state,
      first_day: node.firstDay,
      last_day: node.lastDay,
    })),
  );
  const pairs = sql`jsonb_to_recordset(${JSON.stringify(copies.map(({ like, node }) => ({ group: made.get(node.id), like })))}::jsonb) as r("group" bigint, "like" bigint)`;
  await writer.begin(
    'group tag',
    await rows(
      tx,
      sql`select r."group" as group_id, t.tag_id from ${pairs} join group_tag t on t.group_id = r."like" and t.until_at is null`,
    ),
  );
  await writer.begin(
    'handout',
    await rows(
      tx,
      sql`select r."group" as group_id, h.title, h.url, h.upload_id from ${pairs} join handout h on h.group_id = r."like" and h.until_at is null order by h.row_id`,
    ),
  );
  return made;
}

/** Who leads groups of the branch, by group, with the powers that the actor holds. */
export async function copiedLeaders(
  context: PlanContext,
  { parentId, shift }: MakeNext,
  branch: readonly GroupId[],
): Promise<Map<GroupId, Appointed[]>> {
  const standing = await context.db
    .select({
      personId: tables.leadership.personId,
      groupId: tables.leadership.groupId,
      powers: tables.leadership.powers,
      firstDay: tables.leadership.firstDay,
      lastDay: tables.leadership.lastDay,
    })
    .from(tables.leadership)
    .where(and(isNull(tables.leadership.untilAt), isAmong(tables.leadership.groupId, branch)))
    .orderBy(tables.leadership.rowId);
  const led = new Map<GroupId, Appointed[]>();
  const moved = (day: string | null): string | null => day && shiftDay(day, shift);
  for (const { personId, groupId, powers, firstDay, lastDay } of standing)
    addTo(led, groupId, {
      who: { personId },
      person: personId,
      powers: powers.filter((power) => holdsAll(context, parentId, [power])),
      firstDay: moved(firstDay),
      lastDay: moved(lastDay),
    });
  return led;
}

/** New codes that say what the old ones said, for groups of the branch alone. */
export async function makeCodes(
  tx: Transaction,
  writer: ChangeWriter,
  { actor, tree }: PlanContext,
  { shift }: MakeNext,
  branch: readonly GroupId[],
  copyOf: (like: GroupId) => GroupId,
): Promise<void> {
  const standing = await rows<CodeRow>(
    tx,
    sql`select * from join_code_version where until_at is null and group_ids <@ ${ids(branch)} order by row_id`,
  );
  const moved = (at: string | null): string | null => at && `${shiftDay(at.slice(0, 10), shift)}${at.slice(10)}`;
  for (const code of standing) {
    const values = valuesOf(code);
    const groupIds = values.groupIds.map(Number);
    if (!mayMakeCode(actor, tree, { groupIds, powers: values.powers })) continue;
    const next = { ...values, chosen: null, paused: false, firstAt: moved(values.firstAt), lastAt: moved(values.lastAt) };
    await beginCode(tx, writer, { ...next, groupIds: groupIds.map(copyOf) }, actor.personId);
  }
}

/** What the groups of the branch say of emails, reminders and what members are told, for their copies. */
export async function copySettings(
  tx: Transaction,
  writer: ChangeWriter,
  madeBy: number,
  branch: readonly GroupId[],
  copyOf: (like: GroupId) => GroupId,
): Promise<void> {
  const pairs = sql`jsonb_to_recordset(${JSON.stringify(branch.map((like) => ({ group: copyOf(like), like })))}::jsonb) as r("group" bigint, "like" bigint)`;
  await writer.begin(
    'letter text',
    await rows(
      tx,
      sql`select r."group" as group_id, t.kind, t.subject, t.body from ${pairs} join letter_template t on t.group_id = r."like" and t.until_at is null`,
    ),
  );
  await writer.begin(
    'letter look',
    await rows(
      tx,
      sql`select r."group" as group_id, t.sender_name, t.logo_id from ${pairs} join letter_look t on t.group_id = r."like" and t.until_at is null`,
    ),
  );
  await writer.begin(
    'reminder',
    await rows(
      tx,
      sql`
      select r."group" as group_id, t.course_id, t.occasion, t.days, t.subject, t.body, ${madeBy}::bigint as made_by
      from ${pairs} join reminder_setting t on t.group_id = r."like" and t.until_at is null and t.days is not null`,
    ),
  );
  await writer.begin(
    'member stream',
    await rows(
      tx,
      sql`select r."group" as group_id, to_jsonb(t.kinds) as kinds, ${madeBy}::bigint as made_by from ${pairs} join member_stream t on t.group_id = r."like" and t.until_at is null`,
    ),
  );
}
