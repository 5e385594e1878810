import type { AccessCell, AccessGrid, Statement } from '@gate-roster/contract';
import { accessByGroup, courseRules, type CourseRules, type Day, type Grant, may, type Tree } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { seenGroups } from '../accounts/reach.ts';
import { ids, isAmong, type Queryable, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { type Standing, standsNow } from '../database/history.ts';
import { wholeTree } from '../groups/queries.ts';
import { seenPerson } from '../people/scope.ts';
import { type AccessWorld, accessWorld, historySince } from './world-at.ts';

/** How every course stands for members of these groups, as this reader may know it. */
export async function accessRows(
  db: Queryable,
  actor: SignedIn,
  groupIds: readonly number[],
  world: AccessWorld,
): Promise<{ groupId: number; cells: AccessCell[] }[]> {
  // Nobody new gets into an archived course: what is still said of it stands on its own page.
  const courses = world.courses.filter(({ course }) => !course.archived);
  const seen = await seenGroups(db, actor);
  const found = courses.map(({ course, grants }): CourseInGrid => {
    const rules = courseRules(world.tree, course, grants);
    return { rules, at: accessByGroup(rules, world.day), byId: new Map(grants.map((grant) => [grant.id, grant])) };
  });
  const about = await aboutGrants(db, actor, groupIds, world.stands);
  return groupIds.map((groupId) => ({ groupId, cells: found.map((each) => cellOf(world, each, groupId, actor, seen, about)) }));
}

/** A statement at a group, as this reader may know it. */
export function statementOf(tree: Tree, actor: SignedIn, grant: Grant, groupId: number, about: ReadonlyMap<number, AboutGrant>): Statement {
  return {
    id: grant.id,
    effect: grant.effect,
    mayEnd: mayEnd(actor, tree, groupId, grant.makerBranch),
    set: 'courseSet' in grant.about ? (about.get(grant.id)?.set ?? '') : null,
    withSubgroups: 'group' in grant.at && grant.at.withSubgroups,
    firm: grant.firm,
    firstDay: grant.firstDay,
    lastDay: grant.lastDay,
    units: grant.units === null ? null : [...grant.units],
    due: grant.due,
    payers: grant.payers ?? null,
    note: about.get(grant.id)?.note ?? null,
    by: about.get(grant.id)?.by ?? null,
    madeOn: grant.madeDay,
  };
}

export interface AboutGrant {
  id: number;
  set: string | null;
  note: string | null;
  by: string | null;
}

/** What the rules do not need of the statements at these groups: the set's name, the note, and who made them as far as the reader may know. */
export async function aboutGrants(
  db: Queryable,
  actor: SignedIn,
  groupIds: readonly number[],
  stands: Standing = standsNow,
): Promise<Map<number, AboutGrant>> {
  const found = await rows<AboutGrant>(
    db,
    sql`
    select g.row_id as id, s.name as "set", g.note, case when ${seenPerson(actor, sql`g.made_by`)} then trim(n.given_name || ' ' || n.family_name) end as by
    from access_grant g left join course_set_version s on s.course_set_id = g.course_set_id and ${stands('s')} left join personal_now n on n.person_id = g.made_by
    where ${stands('g')} and g.group_id = any(${ids(groupIds)})`,
  );
  return new Map(found.map((row) => [row.id, row]));
}

const manyRows = 400;

/**
 * The grid on a day: the groups above the scope that speak, the scope, and its branch (two levels of it when it is very large).
 * They are those of the branch as it is today; on a past day, as they then stood.
 */
export async function accessGrid(db: Queryable, actor: SignedIn, groupId: number, day?: Day): Promise<AccessGrid> {
  const tree = await wholeTree(db);
  const known = await accessWorld(db, actor, day);
  // Own courses of branches beside the scope can be opened nowhere in it.
  const homes = new Set([...tree.path(groupId), ...tree.branch(groupId)]);
  const world = { ...known, courses: known.courses.filter(({ course: { home = null } }) => home === null || homes.has(home)) };
  const seen = await seenGroups(db, actor);
  const above = tree
    .path(groupId)
    .slice(0, -1)
    .filter((id) => seen === null || seen.has(id));
  const depth = tree.path(groupId).length;
  const branch = tree.branch(groupId);
  const shown = branch.length > manyRows ? branch.filter((id) => tree.path(id).length <= depth + 2) : branch;
  const cells = await accessRows(
    db,
    actor,
    [...above, ...shown].filter((id) => world.tree.has(id)),
    world,
  );
  const { stands } = world;
  const courses = await rows<AccessGrid['courses'][number]>(
    db,
    sql`
    select c.course_id as id, c.name, coalesce((select jsonb_agg(jsonb_build_object('id', u.unit_id, 'name', u.name) order by u.position) from unit_version u where u.course_id = c.course_id and ${stands('u')}), '[]') as units,
      (select s.name from course_in_set sc join course_set_now s on s.id = sc.course_set_id where sc.course_id = c.course_id order by s.position limit 1) as set
    from course_version c where ${stands('c')} and c.course_id = any(${ids(world.courses.flatMap(({ course }) => (course.archived ? [] : [course.id])))}) order by c.course_id`,
  );
  const named = [
    ...new Set(cells.flatMap(({ cells: row }) => row.flatMap(({ grants }) => grants.flatMap(({ payers }) => payers?.licences ?? [])))),
  ];
  return {
    day: world.day,
    isPast: world.isPast,
    since: await historySince(db, actor),
    licences: await db
      .select({ id: tables.licenceNow.licenceId, name: tables.licenceNow.name })
      .from(tables.licenceNow)
      .where(isAmong(tables.licenceNow.licenceId, named))
      .orderBy(sql`${tables.licenceNow.name} collate people_order`),
    courses,
    rows: cells.map(({ groupId: id, cells: row }) => {
      const path = tree.path(id);
      return {
        id,
        parentId: tree.node(id).parentId,
        name: world.tree.node(id).name,
        depth: path.length - 1,
        isAbove: above.includes(id),
        // The past is read, not altered.
        mayOpen: !world.isPast && may(actor, 'openCourses', { path }),
        cells: row,
      };
    }),
  };
}

interface CourseInGrid {
  rules: CourseRules;
  at: ReturnType<typeof accessByGroup>;
  byId: ReadonlyMap<number, Grant>;
}

function cellOf(
  { tree, isPast }: AccessWorld,
  { rules, at: accessAt, byId }: CourseInGrid,
  groupId: number,
  actor: SignedIn,
  seen: ReadonlySet<number> | null,
  about: ReadonlyMap<number, AboutGrant>,
): AccessCell {
  const access = accessAt(groupId);
  const grants = (rules.atGroup.get(groupId) ?? []).map((grant) => {
    const statement = statementOf(tree, actor, grant, groupId, about);
    return isPast ? { ...statement, mayEnd: false } : statement;
  });
  const deciding = access.chain.findLast(({ verdict, grant }) => verdict === 'decided' && grant !== null)?.grant ?? null;
  const decidedBy = deciding === null ? undefined : byId.get(deciding);
  const at = decidedBy && 'group' in decidedBy.at ? decidedBy.at.group : null;
  const all = rules.course.units.length;
  const state = ((): AccessCell['state'] => {
    if (access.units.length > 0) return access.units.length < all ? 'part' : at === groupId ? 'here' : 'above';
    if (access.opensOn !== null) return 'later';
    return decidedBy?.effect === 'block' ? 'blocked' : 'closed';
  })();
  return {
    state,
    units: access.units.length,
    opensOn: access.opensOn,
    openedHere: access.paths.some(({ openedBy }) => openedBy !== null && grants.some(({ id }) => id === openedBy)),
    grants,
    decidedAt: at !== null && (seen === null || seen.has(at)) ? { id: at, name: tree.node(at).name } : null,
  };
}

/** An administrator takes back anything; a leader what was said in the name of a branch in which they may open courses. */
export function mayEnd(actor: SignedIn, tree: Tree, groupId: number, makerBranch: number | null): boolean {
  if (actor.role === 'administrator') return true;
  const mayOpen = (id: number): boolean => tree.has(id) && may(actor, 'openCourses', { path: tree.path(id) });
  return makerBranch !== null && mayOpen(groupId) && mayOpen(makerBranch);
}
