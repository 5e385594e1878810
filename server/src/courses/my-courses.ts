import type { MyCourse } from '@gate-roster/contract';
import { sql } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import type { ProgressSight } from '../accounts/reach.ts';
import { ids, type Queryable, rows } from '../database/connect.ts';
import { groupsInBranches } from '../groups/queries.ts';
import { type Enrolment, enrolmentsOf } from '../progress/enrolments.ts';

/** The own courses: overdue and begun ones on top, then open, later, done. */
export async function myCourses(db: Queryable, actor: SignedIn): Promise<MyCourse[]> {
  const enrolments = await enrolmentsOf(db, [actor.personId], {
    today: actor.today,
    sight: await cardSight(db, actor),
    dueSoonDays: actor.dueSoonDays,
    withLater: true,
  });
  const finished = await rows<{ course_id: number; unit_id: number }>(
    db,
    sql`
    select e.course_id, u.id as unit_id from enrolment e join unit u on u.course_id = e.course_id
    where e.person_id = ${actor.personId} and e.is_current and exists (select 1 from activity a where a.unit_id = u.id)
      and not exists (select 1 from activity a left join activity_result r on r.activity_id = a.id and r.enrolment_id = e.id where a.unit_id = u.id and not coalesce(r.finished, false))`,
  );
  /** Of the units that are open, or of all while none is. */
  const unitsDone = ({ courseId, units }: Enrolment): number =>
    finished.filter(({ course_id, unit_id }) => course_id === courseId && (units.length === 0 || units.includes(unit_id))).length;
  const setBy = new Map(
    (
      await rows<{ id: number; group_id: number; name: string }>(
        db,
        sql`
    select x.course_id as id, g.id as group_id, g.name from person p join entitlement x on (not p.own_windows and x.set_id = p.set_id) or (p.own_windows and x.person_id = p.id)
    join access_grant a on a.row_id = any(x.by_grants) join group_now g on g.id = a.group_id where p.id = ${actor.personId} and x.course_id = any(${ids(enrolments.map(({ courseId }) => courseId))})`,
      )
    ).map(({ id, group_id, name }) => [id, { id: group_id, name }]),
  );
  return enrolments
    .map((each): MyCourse => ({
      id: each.courseId,
      name: each.course,
      open: each.units.length > 0,
      opensOn: each.opensOn,
      status: each.status,
      lateness: each.lateness,
      due: each.due,
      doneDay: each.doneDay,
      score: each.score,
      units: each.units.length > 0 ? each.units.length : each.allUnits,
      unitsDone: unitsDone(each),
      setBy: setBy.get(each.courseId) ?? null,
      inLine: each.inLine,
      noLicence: each.lacksSeat && each.inLine === null,
    }))
    .sort((a, b) => rank(a) - rank(b) || (a.due ?? '9').localeCompare(b.due ?? '9') || a.name.localeCompare(b.name));
}

/** A lasting card opens only what its group's branch opens; null: everything. */
export async function cardSight(db: Queryable, { onlyIn }: SignedIn): Promise<ProgressSight> {
  if (onlyIn === null) return null;
  const own = [...(await groupsInBranches(db, [onlyIn]))];
  return { own, via: own };
}

function rank(course: MyCourse): number {
  if (course.status === 'done') return 4;
  if (!course.open) return 6;
  if (course.inLine !== null || course.noLicence) return 5;
  if (course.lateness === 'overdue') return 0;
  if (course.lateness === 'due soon') return 1;
  return course.status === 'under way' ? 2 : 3;
}
