import { sql } from 'drizzle-orm';
import { type Queryable, rows } from '../../database/connect.ts';
import { cachedByStructure } from '../../database/structure-cache.ts';
import type { GroupsAbove } from './sets-by-group.ts';

/* What columns need of the tree and of the catalogue; the same object until one of them changes. */

/** Null: groups count for themselves alone. */
export const treeFor = (db: Queryable, withSubgroups: boolean): Promise<GroupsAbove | null> =>
  withSubgroups ? cachedByStructure('groups above each', db, loadAbove) : Promise.resolve(null);

/** The courses there are, with the course sets of each. */
export const coursesAndSets = (db: Queryable): Promise<ReadonlyMap<number, readonly number[]>> =>
  cachedByStructure('courses and sets', db, loadCourses);

/** Each group's own branch and those above it. */
async function loadAbove(db: Queryable): Promise<GroupsAbove> {
  const found = await rows<{ id: number; above: number[] }>(
    db,
    sql`select group_id as id, array_agg(ancestor_id) as above from group_branch group by 1`,
  );
  return new Map(found.map(({ id, above }) => [id, above]));
}

async function loadCourses(db: Queryable): Promise<ReadonlyMap<number, readonly number[]>> {
  const found = await rows<{ id: number; sets: number[] }>(
    db,
    sql`select c.id, array(select k.course_set_id from course_in_set k where k.course_id = c.id) as sets from course_now c`,
  );
  return new Map(found.map(({ id, sets }) => [id, sets]));
}
