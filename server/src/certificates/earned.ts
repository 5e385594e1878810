import { sql, type SQL } from 'drizzle-orm';
import { ids, type Queryable, rows } from '../database/connect.ts';
import { onDay } from '../progress/standings.ts';

/** What a certificate is for. */
export interface FormRow {
  id: number;
  rowId: number;
  groupId: number;
  courseId: number | null;
  courseSetId: number | null;
  title: string;
  words: string;
  logoId: number | null;
  showsScore: boolean;
  byItself: boolean;
  /** Name of the course or set; null: all that the group opens. */
  about: string | null;
  group: string;
}

/** Certificates `f` that can be given, under a condition. */
export const formRows = (db: Queryable, where: SQL): Promise<FormRow[]> =>
  rows(
    db,
    sql`
    select f.id, f.row_id as "rowId", f.group_id as "groupId", f.course_id as "courseId", f.course_set_id as "courseSetId", f.title, f.words, f.logo_id as "logoId",
      f.shows_score as "showsScore", f.by_itself as "byItself", coalesce(c.name, s.name) as about, g.name as "group"
    from certificate_form_now f join group_now g on g.id = f.group_id left join course_now c on c.id = f.course_id left join course_set_now s on s.id = f.course_set_id
    where ${where} order by g.name, f.title, f.id`,
  );

export interface Earned {
  personId: number;
  day: string;
  score: number | null;
  validUntil: string | null;
}

/** Done by what they did: what is done only because access narrowed gives no certificate. */
const isDone = sql`e.status = 'done' and not e.done_by_narrowing and not e.exempt`;

/**
 * Those among people `p` under a condition who have earned a certificate: rows of person_id, day, score and valid_until. A set,
 * or all that the group opens, is earned when each of its courses is done or exempt, and one at least is done.
 */
export function earnedRows({ groupId, courseId, courseSetId }: FormRow, people: SQL, today: string): SQL {
  if (courseId !== null)
    return sql`
      select p.id as person_id, e.done_day as day, e.score, (e.done_day + make_interval(months => c.valid_months::int))::date as valid_until
      from person p join enrolment e on e.person_id = p.id and e.course_id = ${courseId} and e.is_current join course_now c on c.id = e.course_id
      where ${isDone} and ${people}`;
  const courses =
    courseSetId === null
      ? sql`select x.course_id from entitlement x where ((not p.own_windows and x.set_id = p.set_id) or (p.own_windows and x.person_id = p.id)) and ${onDay(today)}
          and x.via_groups && array(select group_id from group_branch where ancestor_id = ${groupId})`
      : sql`select i.course_id from course_in_set i join course_now c on c.id = i.course_id and not c.archived where i.course_set_id = ${courseSetId}`;
  return sql`
    select p.id as person_id, max(e.done_day) as day, avg(e.score) as score, min((e.done_day + make_interval(months => c.valid_months::int))::date) as valid_until
    from person p cross join lateral (${courses}) k join course_now c on c.id = k.course_id
    left join enrolment e on e.person_id = p.id and e.course_id = k.course_id and e.is_current and ((${isDone}) or e.exempt)
    where ${people} group by p.id having count(*) = count(e.id) and count(*) filter (where ${isDone}) > 0`;
}

/** They have no certificate of this kind for what they have done last. `e`: a row of `earnedRows`. */
const hasNone = (formId: number): SQL =>
  sql`not exists (select 1 from certificate o where o.form_id = ${formId} and o.person_id = e.person_id and o.day >= e.day)`;

/** Who has earned a certificate and was not given it; learners whose certificate for the same work was withdrawn are not among them. */
export const earned = (db: Queryable, form: FormRow, people: SQL, today: string): Promise<Earned[]> =>
  rows(
    db,
    sql`
    select e.person_id as "personId", e.day::text as day, e.score, e.valid_until::text as "validUntil" from (${earnedRows(form, people, today)}) e where ${hasNone(form.id)} order by e.person_id`,
  );

export const countEarned = (form: FormRow, people: SQL, today: string): SQL =>
  sql`select count(*)::int from (${earnedRows(form, people, today)}) e where ${hasNone(form.id)}`;

/** People `p` who are counted in the branch of one of these groups. */
export const countedIn = (groups: readonly number[]): SQL =>
  sql`(p.counted and p.set_id in (select set_id from set_in_branch where ancestor_id = any(${ids(groups)})))`;
