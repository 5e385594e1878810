import { addDays, isBlocked, lookAtGrants, lookAtMoves, may, noEffects, type Power } from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import { asSeen, endedGrants, grantsByCourse, learnerClasses, learners, rulesOf } from '../access/load-rules.ts';
import { ids, maybeRow, rows, type Transaction } from '../database/connect.ts';
import { notFound } from '../http/problem.ts';
import type { PlanContext, Planner, Summary, Touched } from './plan.ts';
import { type ChangeWriter, subjectTables, type SubjectKind } from './writer.ts';

export const undoDays = 180;

interface Subject {
  kind: SubjectKind;
  person_id: number | null;
  group_id: number | null;
  before_row: number | null;
  after_row: number | null;
}

/**
 * The inverse of a change: what it began ends, what it ended begins again. Only what still is as the
 * change left it; the rest is counted as a conflict and stays.
 */
export const planUndo: Planner<'undo'> = async (context, { changeId }) => {
  const { db, actor } = context;
  const made = await maybeRow<{
    actor_id: number | null;
    made_day: string;
    kind: string;
    undone_by: number | null;
    summary: Pick<Summary, 'groups' | 'courses' | 'undid'>;
  }>(
    db,
    sql`
    select actor_id, (made_at at time zone ${actor.timeZone})::date as made_day, kind, undone_by, summary from change_log where id = ${changeId}`,
  );
  if (!made || !(actor.role === 'administrator' || made.actor_id === actor.personId)) throw notFound();
  await mayStill(context, changeId, powerFor[made.summary.undid ?? made.kind]);

  const subjects = await rows<Subject>(
    db,
    sql`select kind, person_id, group_id, before_row, after_row from change_subject where change_id = ${changeId} order by id`,
  );
  const restorable = await stillAsLeft(context, subjects);
  const effects = noEffects();
  const isOver = made.undone_by !== null || addDays(made.made_day, undoDays) < context.today;
  if (isOver) effects.conflicts.push({ code: made.undone_by === null ? 'too old' : 'nothing to do', blocks: true, count: 1 });
  const left = subjects.length - restorable.length;
  if (left > 0 && !isOver) effects.conflicts.push({ code: 'changed since', blocks: restorable.length === 0, count: left });
  if (!isBlocked(effects)) Object.assign(effects, await accessEffects(context, restorable));
  effects.takenBack = restorable.flatMap(({ kind, after_row }) => (kind === 'person' && after_row !== null ? [after_row] : []));
  effects.changedPeople = restorable.flatMap(({ kind, person_id }) => (kind === 'personal' && person_id !== null ? [person_id] : []));

  const groups = await rows<{ group_id: number }>(db, sql`select group_id from change_group where change_id = ${changeId}`);
  return {
    effects,
    groups: groups.map(({ group_id }) => group_id),
    summary: {
      groups: made.summary.groups,
      courses: made.summary.courses,
      people: [],
      counts: { restored: restorable.length, left },
      undid: made.kind,
    },
    write: (tx, writer) => write(tx, writer, changeId, restorable),
  };
};

/** What a leader needs to make a change of a kind, and so to undo it. Kinds that are not here are an administrator's. */
const powerFor: Partial<Record<string, Power>> = {
  'grant-access': 'openCourses',
  'add-members': 'managePeople',
  'remove-members': 'managePeople',
  'rename-group': 'shapeGroups',
};

/** A leader undoes only what lies wholly in branches where they still have the power for it. */
async function mayStill({ db, actor, tree }: PlanContext, changeId: number, power: Power | undefined): Promise<void> {
  if (actor.role === 'administrator') return;
  const touched = await rows<{ group_id: number }>(db, sql`select group_id from change_group where change_id = ${changeId}`);
  const mayAt = (id: number): boolean => power !== undefined && tree.has(id) && may(actor, power, { path: tree.path(id) });
  if (!touched.every(({ group_id }) => mayAt(group_id))) throw notFound();
}

async function stillAsLeft({ db }: PlanContext, subjects: readonly Subject[]): Promise<Subject[]> {
  const kept: Subject[] = [];
  for (const kind of new Set(subjects.map((subject) => subject.kind))) {
    const list = subjects.filter((subject) => subject.kind === kind);
    if (kind === 'person') {
      const there = await rows<{ id: number }>(
        db,
        sql`select person_id as id from person_state where person_id = any(${ids(list.flatMap(({ after_row }) => after_row ?? []))}) and until_at is null and state <> 'ended'`,
      );
      const active = new Set(there.map(({ id }) => id));
      kept.push(...list.filter(({ after_row }) => after_row !== null && active.has(after_row)));
      continue;
    }
    const table = sql.identifier(subjectTables[kind]);
    const touchedRows = list.flatMap(({ before_row, after_row }) => [before_row ?? [], after_row ?? []].flat());
    const found = await rows<{ row_id: number; stands: boolean }>(
      db,
      sql`select row_id, until_at is null as stands from ${table} where row_id = any(${ids(touchedRows)})`,
    );
    const stands = new Map(found.map((row) => [row.row_id, row.stands]));
    const blocked = await inTheWay(
      db,
      kind,
      list.flatMap(({ before_row }) => before_row ?? []),
    );
    kept.push(
      ...list.filter(
        ({ before_row, after_row }) =>
          (after_row === null || stands.get(after_row) === true) &&
          (before_row === null || (stands.has(before_row) && !blocked.has(before_row))),
      ),
    );
  }
  return kept;
}

/** What stands today in the place of a row (`e`) that would begin again. A grant never is in the way of another. */
const sameToday: Partial<Record<SubjectKind, SQL>> = {
  membership: sql`membership n on n.person_id = e.person_id and n.group_id = e.group_id`,
  'person tag': sql`person_tag n on n.person_id = e.person_id and n.tag_id = e.tag_id`,
  group: sql`group_version n on n.parent_id = e.parent_id and n.name_key = e.name_key and n.group_id <> e.group_id`,
  personal: sql`personal n on n.person_id <> e.person_id and (n.email = e.email or n.sign_in_name = e.sign_in_name or (n.id_issuer = e.id_issuer and n.id_number = e.id_number))`,
};

/** Ended rows that cannot begin again, since their place, name or address is taken. */
async function inTheWay(db: PlanContext['db'], kind: Exclude<SubjectKind, 'person'>, ended: readonly number[]): Promise<Set<number>> {
  const taken = sameToday[kind];
  if (!taken || ended.length === 0) return new Set();
  const found = await rows<{ row_id: number }>(
    db,
    sql`select e.row_id from ${sql.identifier(subjectTables[kind])} e join ${taken} and n.until_at is null where e.row_id = any(${ids(ended)})`,
  );
  return new Set(found.map(({ row_id }) => row_id));
}

async function accessEffects(context: PlanContext, subjects: readonly Subject[]): Promise<object> {
  const { db, tree, seen, today } = context;
  const grants = subjects.filter(({ kind }) => kind === 'grant');
  if (grants.length > 0) {
    const back = await rows<{ row_id: number; course_id: number | null; group_id: number | null }>(
      db,
      sql`
      select row_id, course_id, group_id from access_grant where row_id = any(${ids(grants.flatMap(({ before_row, after_row }) => [before_row ?? [], after_row ?? []].flat()))})`,
    );
    const courses = await grantsByCourse(
      db,
      back.flatMap(({ course_id }) => course_id ?? []),
    );
    const begin = await endedGrants(
      db,
      grants.flatMap(({ before_row }) => before_row ?? []),
    );
    const classes = await learnerClasses(
      db,
      back.flatMap(({ group_id }) => group_id ?? []),
      seen,
    );
    return lookAtGrants(tree, courses, classes, { end: grants.flatMap(({ after_row }) => after_row ?? []), begin }, today);
  }
  const members = subjects.filter(({ kind }) => kind === 'membership');
  const people = await learners(db, [...new Set(members.flatMap(({ person_id }) => person_id ?? []))]);
  const rules = rulesOf(tree, await grantsByCourse(db, null));
  const moved = people.map((person) => {
    const own = members.filter(({ person_id }) => person_id === person.personId);
    const ends = own.flatMap(({ after_row, group_id }) => (after_row !== null && group_id !== null ? [group_id] : []));
    const begins = own.flatMap(({ before_row, group_id }) =>
      before_row !== null && group_id !== null ? [{ groupId: group_id, firstDay: null, lastDay: null }] : [],
    );
    return {
      person,
      ends,
      begins,
      after: { ...person, memberships: [...person.memberships.filter(({ groupId }) => !ends.includes(groupId)), ...begins] },
    };
  });
  const byGroup = (pick: (each: (typeof moved)[number]) => readonly number[]) => {
    const found = new Map<number, number[]>();
    for (const each of moved) for (const groupId of pick(each)) found.set(groupId, [...(found.get(groupId) ?? []), each.person.personId]);
    return [...found].map(([groupId, persons]) => ({ groupId, who: { sets: [], persons, newcomers: [] }, people: persons.length }));
  };
  return {
    ...lookAtMoves(
      rules,
      moved.map(({ person, after }) => ({
        who: { person: person.personId },
        people: 1,
        before: asSeen(person, seen),
        after: asSeen(after, seen),
      })),
      today,
    ),
    leaves: byGroup(({ ends }) => ends),
    joins: byGroup(({ begins }) => begins.map(({ groupId }) => groupId)),
  };
}

async function write(tx: Transaction, writer: ChangeWriter, changeId: number, subjects: readonly Subject[]): Promise<Touched> {
  const touched: Touched = {
    people: [],
    courses: [],
    tree: false,
    unused: subjects.flatMap(({ kind, after_row }) => (kind === 'person' && after_row !== null ? [after_row] : [])),
  };
  for (const kind of ['grant', 'membership', 'person tag', 'personal', 'group'] as const) {
    const list = subjects.filter((subject) => subject.kind === kind);
    await writer.end(
      kind,
      list.flatMap(({ after_row }) => after_row ?? []),
    );
    await writer.restore(
      kind,
      list.flatMap(({ before_row }) => before_row ?? []),
    );
    if (kind === 'group' && list.length > 0) touched.tree = true;
    if (kind === 'membership') touched.people.push(...list.flatMap(({ person_id }) => person_id ?? []));
  }
  const grants = subjects
    .filter(({ kind }) => kind === 'grant')
    .flatMap(({ before_row, after_row }) => [before_row ?? [], after_row ?? []].flat());
  touched.courses = (
    await rows<{ course_id: number }>(
      tx,
      sql`select distinct course_id from access_grant where row_id = any(${ids(grants)}) and course_id is not null`,
    )
  ).map(({ course_id }) => course_id);
  await endAccounts(tx, writer, touched.unused ?? []);
  touched.people = [...new Set([...touched.people, ...(touched.unused ?? [])])];
  await tx.execute(
    sql`update change_log set undone_by = (select id from change_log where undo_of = ${changeId} order by id desc limit 1) where id = ${changeId}`,
  );
  return touched;
}

/** People whom a roster made are ended; `deleteUnused` then takes those off the platform on whom nothing hangs. */
async function endAccounts(tx: Transaction, writer: ChangeWriter, people: readonly number[]): Promise<void> {
  if (people.length === 0) return;
  await tx.execute(sql`update person_state set until_at = now() where person_id = any(${ids(people)}) and until_at is null`);
  await tx.execute(sql`insert into person_state (person_id, state) select id, 'ended' from unnest(${ids(people)}) id`);
  for (const id of people) writer.note('person', { before_row: id, person_id: id });
}

/** Deletes accounts that were ended before anybody used them. Run after the derived tables are up to date. */
export async function deleteUnused(tx: Transaction, people: readonly number[]): Promise<void> {
  if (people.length === 0) return;
  const unused = await rows<{ id: number }>(
    tx,
    sql`
    select p.id from person p join person_state s on s.person_id = p.id and s.until_at is null and s.state = 'ended'
    where p.id = any(${ids(people)}) and p.signed_in_at is null and p.role = 'none'
      and not exists (select 1 from enrolment e where e.person_id = p.id) and not exists (select 1 from leadership l where l.person_id = p.id)
      and not exists (select 1 from membership m where m.person_id = p.id and m.until_at is null) and not exists (select 1 from seat t where t.person_id = p.id)
      and not exists (select 1 from change_log c where c.actor_id = p.id) and not exists (select 1 from access_grant g where g.person_id = p.id)`,
  );
  const gone = ids(unused.map(({ id }) => id));
  for (const table of ['entitlement', 'membership', 'person_tag', 'person_state', 'personal', 'credential', 'launch']) {
    await tx.execute(sql`delete from ${sql.identifier(table)} where person_id = any(${gone})`);
  }
  await tx.execute(sql`delete from person where id = any(${gone})`);
}
