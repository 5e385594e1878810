import type { LogEntry, LogFilter } from '@gate-roster/contract';
import { sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { ids, iso, type Queryable, rows, texts } from '../database/connect.ts';
import { groupsInBranches } from '../groups/queries.ts';
import { seenPerson } from '../people/scope.ts';
import { neverUndone } from './note-act.ts';
import type { Summary } from './plan.ts';
import { followsFrom } from './undone-changes.ts';

interface LogRow {
  id: number;
  kind: string;
  made_at: string;
  actor_id: number | null;
  actor: string | null;
  summary: Summary;
  undo_of: number | null;
  undone_by: number | null;
  rule: string | null;
  can_undo: boolean;
  wholly: boolean;
}

/** A page of what was done, newest first. A leader sees what touched their own branches, and of it only their own groups. */
export async function logPage(
  db: Queryable,
  actor: SignedIn,
  query: LogFilter & { after?: number | undefined; limit: number },
): Promise<{ entries: LogEntry[]; next: number | null }> {
  const own =
    actor.role === 'administrator'
      ? null
      : await groupsInBranches(
          db,
          actor.leaderships.map(({ groupId }) => groupId),
        );
  const inBranch = sql`exists (select 1 from change_group g where g.change_id = c.id and g.group_id = any(${ids(own ?? [])}))`;
  const wholly = sql`not exists (select 1 from change_group g where g.change_id = c.id and g.group_id <> all(${ids(own ?? [])}) and exists (select 1 from group_now n where n.id = g.group_id))`;
  const found = await rows<LogRow>(
    db,
    sql`
    select c.id, c.kind, c.made_at, c.actor_id, n.given_name || ' ' || n.family_name as actor, c.summary, c.undo_of, c.undone_by, (select v.name from rule_version v where v.rule_id = c.rule_id order by v.row_id desc limit 1) as rule,
      c.undone_by is null and c.kind <> all(${texts(neverUndone)}) and c.made_at > now() - make_interval(days => ${actor.undoDays}::int) and ${own === null ? sql`true` : sql`c.actor_id is not distinct from ${actor.personId}::bigint and ${wholly}`} as can_undo, ${own === null ? sql`true` : wholly} as wholly
    from change_log c left join personal_now n on n.person_id = c.actor_id
    where ${query.after ? sql`c.id < ${query.after}` : sql`true`} and ${query.kind ? sql`c.kind = ${query.kind}` : sql`true`}
      and ${own === null ? sql`true` : inBranch}
      and ${query.groupId ? sql`exists (select 1 from change_group g join group_branch b on b.group_id = g.group_id where g.change_id = c.id and b.ancestor_id = ${query.groupId})` : sql`true`}
      and ${query.followsFrom ? followsFrom(query.followsFrom) : sql`true`}
      and ${query.personId ? sql`exists (select 1 from change_subject s where s.change_id = c.id and s.person_id = ${query.personId})` : sql`true`}
      and ${query.actorId ? sql`c.actor_id = ${query.actorId} and ${own === null ? sql`true` : sql`c.actor_id = ${actor.personId}`}` : sql`true`}
      and ${query.firstDay ? sql`(c.made_at at time zone ${actor.timeZone})::date >= ${query.firstDay}` : sql`true`}
      and ${query.lastDay ? sql`(c.made_at at time zone ${actor.timeZone})::date <= ${query.lastDay}` : sql`true`}
    order by c.id desc limit ${query.limit + 1}`,
  );
  const page = found.slice(0, query.limit);
  const names = await namesFor(db, actor, page);
  return { entries: page.map((row) => entry(row, names, actor, own)), next: found.length > query.limit ? (page.at(-1)?.id ?? null) : null };
}

interface Names {
  groups: Map<number, string>;
  courses: Map<number, string>;
  people: Map<number, string>;
}

async function namesFor(db: Queryable, actor: SignedIn, page: readonly LogRow[]): Promise<Names> {
  const of = (pick: (summary: Summary) => readonly number[]): number[] => [...new Set(page.flatMap(({ summary }) => pick(summary)))];
  const map = (list: readonly { id: number; name: string }[]): Map<number, string> => new Map(list.map(({ id, name }) => [id, name]));
  return {
    // A group that is gone keeps the name it had.
    groups: map(
      await rows(
        db,
        sql`select distinct on (group_id) group_id as id, name from group_version where group_id = any(${ids(of(({ groups }) => groups))}) order by group_id, row_id desc`,
      ),
    ),
    courses: map(
      await rows(
        db,
        sql`select distinct on (course_id) course_id as id, name from course_version where course_id = any(${ids(of(({ courses }) => courses))}) order by course_id, row_id desc`,
      ),
    ),
    people: map(
      await rows(
        db,
        sql`
        select n.person_id as id, trim(n.given_name || ' ' || n.family_name) as name from personal_now n join person p on p.id = n.person_id
        where p.erased_at is null and p.id = any(${ids(of(({ people }) => people))}) and ${seenPerson(actor, sql`p.id`)}`,
      ),
    ),
  };
}

function entry(row: LogRow, names: Names, actor: SignedIn, own: ReadonlySet<number> | null): LogEntry {
  const { summary } = row;
  const named = (list: readonly number[], from: Map<number, string>): { id: number; name: string }[] =>
    list.flatMap((id) => (from.has(id) ? [{ id, name: from.get(id) ?? '' }] : []));
  const isMine = row.actor_id === actor.personId;
  // Of what reached beyond their branch a leader reads only that something was done to their own groups.
  const isOpen = own === null || isMine || row.wholly;
  return {
    id: row.id,
    kind: row.kind,
    madeAt: iso(row.made_at),
    isMine,
    // Who did something from above is named to a leader only as somebody with more to say.
    actor: own === null || isMine ? row.actor : null,
    groups: named(
      summary.groups.filter((id) => own === null || isMine || own.has(id)),
      names.groups,
    ),
    courses: named(summary.courses, names.courses),
    people: named(summary.people, names.people),
    counts: isOpen ? summary.counts : {},
    fileName: isOpen ? (summary.fileName ?? null) : null,
    names: isOpen ? (summary.names ?? null) : null,
    effects: summary.effects ?? [],
    fields: summary.fields ?? [],
    undid: summary.undid ?? null,
    undoOf: row.undo_of,
    undoneBy: row.undone_by,
    rule: isOpen ? row.rule : null,
    canUndo: row.can_undo,
  };
}
