import type { LogEntry } from '@gate-roster/contract';
import { sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { ids, iso, type Queryable, rows } from '../database/connect.ts';
import { groupsInBranches } from '../groups/queries.ts';
import type { Summary } from './plan.ts';
import { undoDays } from './undo.ts';

interface LogRow {
  id: number;
  kind: string;
  made_at: string;
  actor_id: number | null;
  actor: string | null;
  summary: Summary;
  undo_of: number | null;
  undone_by: number | null;
  can_undo: boolean;
}

/** A page of what was done, newest first. A leader sees what touched their own branches, and of it only their own groups. */
export async function logPage(
  db: Queryable,
  actor: SignedIn,
  query: { after?: number | undefined; groupId?: number | undefined; kind?: string | undefined; limit: number },
): Promise<{ entries: LogEntry[]; next: number | null }> {
  const own =
    actor.role === 'administrator'
      ? null
      : await groupsInBranches(
          db,
          actor.leaderships.map(({ groupId }) => groupId),
        );
  const inBranch = sql`exists (select 1 from change_group g where g.change_id = c.id and g.group_id = any(${ids(own ?? [])}))`;
  const wholly = sql`not exists (select 1 from change_group g where g.change_id = c.id and g.group_id <> all(${ids(own ?? [])}))`;
  const found = await rows<LogRow>(
    db,
    sql`
    select c.id, c.kind, c.made_at, c.actor_id, n.given_name || ' ' || n.family_name as actor, c.summary, c.undo_of, c.undone_by,
      c.undone_by is null and c.made_at > now() - make_interval(days => ${undoDays}::int) and ${own === null ? sql`true` : sql`c.actor_id = ${actor.personId} and ${wholly}`} as can_undo
    from change_log c left join personal_now n on n.person_id = c.actor_id
    where ${query.after ? sql`c.id < ${query.after}` : sql`true`} and ${query.kind ? sql`c.kind = ${query.kind}` : sql`true`}
      and ${own === null ? sql`true` : inBranch}
      and ${query.groupId ? sql`exists (select 1 from change_group g join group_branch b on b.group_id = g.group_id where g.change_id = c.id and b.ancestor_id = ${query.groupId})` : sql`true`}
    order by c.id desc limit ${query.limit + 1}`,
  );
  const page = found.slice(0, query.limit);
  const names = await namesFor(db, page, own);
  return { entries: page.map((row) => entry(row, names, actor, own)), next: found.length > query.limit ? (page.at(-1)?.id ?? null) : null };
}

interface Names {
  groups: Map<number, string>;
  courses: Map<number, string>;
  people: Map<number, string>;
}

async function namesFor(db: Queryable, page: readonly LogRow[], own: ReadonlySet<number> | null): Promise<Names> {
  const of = (pick: (summary: Summary) => readonly number[]): number[] => [...new Set(page.flatMap(({ summary }) => pick(summary)))];
  const map = (list: readonly { id: number; name: string }[]): Map<number, string> => new Map(list.map(({ id, name }) => [id, name]));
  const seen =
    own === null ? sql`true` : sql`exists (select 1 from membership m where m.person_id = n.person_id and m.group_id = any(${ids(own)}))`;
  return {
    groups: map(await rows(db, sql`select id, name from group_now where id = any(${ids(of(({ groups }) => groups))})`)),
    courses: map(await rows(db, sql`select id, name from course where id = any(${ids(of(({ courses }) => courses))})`)),
    people: map(
      await rows(
        db,
        sql`select n.person_id as id, n.given_name || ' ' || n.family_name as name from personal_now n where n.person_id = any(${ids(of(({ people }) => people))}) and ${seen}`,
      ),
    ),
  };
}

function entry(row: LogRow, names: Names, actor: SignedIn, own: ReadonlySet<number> | null): LogEntry {
  const { summary } = row;
  const named = (list: readonly number[], from: Map<number, string>): { id: number; name: string }[] =>
    list.flatMap((id) => (from.has(id) ? [{ id, name: from.get(id) ?? '' }] : []));
  const isMine = row.actor_id === actor.personId;
  return {
    id: row.id,
    kind: row.kind,
    madeAt: iso(row.made_at),
    isMine,
    // Who did something from above is named to a leader only as somebody with more to say.
    actor: own === null || isMine ? row.actor : null,
    groups: named(
      summary.groups.filter((id) => own === null || own.has(id)),
      names.groups,
    ),
    courses: named(summary.courses, names.courses),
    people: named(summary.people, names.people),
    counts: own === null || isMine ? summary.counts : {},
    fileName: summary.fileName ?? null,
    names: summary.names ?? null,
    effects: summary.effects ?? [],
    undid: summary.undid ?? null,
    undoOf: row.undo_of,
    undoneBy: row.undone_by,
    canUndo: row.can_undo,
  };
}
