import {
  addDays,
  asksWhatIsClosed,
  type CoursePart,
  courseParts,
  type Day,
  type Filter,
  type PersonPart,
  personParts,
} from '@gate-roster/core';
import { sql, type SQL } from 'drizzle-orm';
import type { SignedIn } from '../accounts/actor.ts';
import { type ProgressSight, progressSight, seenGroups, seenThrough } from '../accounts/reach.ts';
import { ids, type Queryable } from '../database/connect.ts';
import type { Columns } from '../progress/columns/questions.ts';
import { enrolmentRows } from '../progress/enrolments.ts';
import type { KeptAnswers } from '../progress/kept-answers.ts';
import { addressState, matches, onlyGroups } from '../people/scope.ts';
import { seenTags } from '../people/tags.ts';

/*
 * A filter as a condition of the database. Its meaning is in core (filters/filter.ts); a test compares the two. What a
 * part names and the reader may not know of fits nobody, just as what is gone.
 */

export interface FilterReader {
  actor: SignedIn;
  /** Groups that they may know of; null: all. */
  own: ReadonlySet<number> | null;
  sight: ProgressSight;
  /** Today, also where the actor’s today is a past day that is looked at. */
  realToday: Day;
  /** People `p` whom they may name; of a past day not those who have left their groups since. */
  named: SQL;
  /** Answers from memory, where reports of today are asked for; null: the database answers. */
  columns: Columns | null;
  /** Of a past day: what was answered before. */
  kept: KeptAnswers | null;
  /** Who of a scope fits some course parts, where that was found out before (`withFitting`), also as a condition about `p`. */
  fitting: KnownFitting | null;
}

export const filterReader = async (db: Queryable, actor: SignedIn, columns: Columns | null = null): Promise<FilterReader> => ({
  actor,
  own: await seenGroups(db, actor),
  sight: await progressSight(db, actor),
  realToday: actor.today,
  named: sql`true`,
  columns,
  kept: null,
  fitting: null,
});

/** So few people are found by their ids; of more, each person is asked whether they are among them. */
const mostToName = 2000;

/** Who of a scope fits the course parts of a filter. */
export class KnownFitting {
  readonly ids: ReadonlySet<number>;
  readonly #parts: string;
  readonly #list: Float64Array;
  readonly #mostNamed: number;

  constructor(parts: readonly CoursePart[], list: Float64Array, mostNamed = mostToName) {
    this.#mostNamed = mostNamed;
    this.ids = new Set(list);
    this.#parts = JSON.stringify(parts);
    this.#list = list;
  }

  /** They are looked for by their ids. */
  get areFew(): boolean {
    return this.#list.length < this.#mostNamed;
  }

  speaksOf(parts: readonly unknown[]): boolean {
    return this.#parts === JSON.stringify(parts);
  }

  /** As a condition about `p`, made when it is asked for: a hundred thousand ids are much to write. */
  get people(): SQL {
    return this.areFew ? sql`p.id = any(${ids(this.#list)})` : sql`((p.id in (select unnest(${ids(this.#list)}))) is true)`;
  }
}

/** The same reader, who knows already who of a scope fits the course parts of a filter, where columns can tell. */
export async function withFitting(reader: FilterReader, groupId: number, withSubgroups: boolean, filter: Filter): Promise<FilterReader> {
  const parts = courseParts(filter);
  if (parts.length === 0 || !reader.columns) return reader;
  const { actor, own, sight, realToday } = reader;
  const found = await reader.columns.answer({
    kind: 'fitting',
    reader: { actor, own, sight, realToday },
    groupId,
    withSubgroups,
    parts,
  });
  return found ? { ...reader, fitting: new KnownFitting(parts, found) } : reader;
}

/** People `p` of a scope who fit; `people` is what they are chosen from. */
export function whoFits(reader: FilterReader, people: SQL, inScope: SQL, filter: Filter): SQL {
  const about = courseParts(filter);
  const chosen = all([people, ...personParts(filter).map((part) => personCondition(reader, inScope, part))]);
  if (reader.fitting?.speaksOf(about)) return sql`${chosen} and ${reader.fitting.people}`;
  return about.length === 0 ? chosen : sql`${chosen} and p.id in (select f.person_id from (${fittingEnrolments(reader, chosen, about)}) f)`;
}

export const all = (conditions: readonly SQL[]): SQL => (conditions.length === 0 ? sql`true` : sql.join([...conditions], sql` and `));

/**
 * Enrolments of people (`p`) that fit all of these course parts, as rows of `enrolmentRows`. They are worked out before the parts
 * are asked: what a part lets through is guessed as a handful, and a plan made for a handful takes minutes for thousands.
 */
export function fittingEnrolments(reader: FilterReader, people: SQL, parts: readonly CoursePart[], { withDue = false } = {}): SQL {
  const { actor, sight } = reader;
  const courses = all(parts.flatMap((part) => (part.part === 'course' ? [named(sql`c.id`, part)] : [])));
  const asksDue = parts.some(({ part }) => part === 'lateness' || part === 'due');
  const withLater = parts.some(({ part }) => part === 'access');
  const withClosed = asksWhatIsClosed(parts);
  const every = enrolmentRows(people, courses, { today: actor.today, sight, withDue: withDue || asksDue, withLater, withClosed });
  return sql`with every as materialized (${every}) select e.* from every e where ${all(parts.map((part) => enrolmentCondition(reader, part)))}`;
}

const named = (course: SQL, { courses, sets }: Extract<CoursePart, { part: 'course' }>): SQL =>
  sql`(${course} = any(${ids(courses)}) or exists (select 1 from course_in_set k where k.course_id = ${course} and k.course_set_id = any(${ids(sets)})))`;

function personCondition({ actor, own, sight, realToday }: FilterReader, inScope: SQL, part: PersonPart): SQL {
  /** A standing membership `m` of `p`, in a group of which the reader may know. */
  const membership = (more: SQL): SQL =>
    sql`exists (select 1 from membership m where m.person_id = p.id and m.until_at is null and ${onlyGroups(sql`m.group_id`, own)} and ${more})`;
  const not = (isNot: boolean, condition: SQL): SQL => (isNot ? sql`not ${condition}` : condition);
  /** Today's value `n` of `p`. */
  const personal = (more: SQL): SQL => sql`exists (select 1 from personal_now n where n.person_id = p.id and ${more})`;
  switch (part.part) {
    case 'words':
      return personal(matches(part.text));
    case 'people':
      return not(part.how === 'without', sql`(p.id = any(${ids(part.ids)}))`);
    case 'groups': {
      const named = sql`g = any(${ids(part.ids)}) and ${onlyGroups(sql`g`, own)}`;
      return not(
        part.how === 'not in',
        membership(
          part.withSubgroups
            ? sql`m.group_id in (select b.group_id from group_branch b cross join lateral (select b.ancestor_id as g) a where ${named})`
            : sql`m.group_id in (select g from unnest(${ids(part.ids)}) g)`,
        ),
      );
    }
    case 'tags': {
      const has = (tagIds: readonly number[]): SQL =>
        sql`exists (select 1 from person_tag pt where pt.person_id = p.id and pt.until_at is null and pt.tag_id in (select t.id from tag_now t where t.id = any(${ids(tagIds)}) and ${seenTags(actor)}))`;
      return part.how === 'all' ? all(part.ids.map((id) => has([id]))) : not(part.how === 'none', has(part.ids));
    }
    case 'list':
      return not(
        part.how === 'not in',
        sql`exists (select 1 from personal_list_person x join personal_list l on l.id = x.list_id and l.owner_id = ${actor.personId} where x.person_id = p.id and x.list_id = ${part.id})`,
      );
    case 'state':
      return sql`exists (select 1 from person_state y where y.person_id = p.id and y.until_at is null and y.state = any(${texts(part.of)}))`;
    case 'came': {
      const since = sql`coalesce(m.first_day, (m.from_at at time zone ${actor.timeZone})::date)`;
      return membership(
        all([
          sql`m.group_id in (${inScope})`,
          ...(part.by.length === 0 ? [] : [sql`m.came_by = any(${texts(part.by)})`]),
          ...between(since, part.from, part.until),
        ]),
      );
    }
    case 'active': {
      if (part.how === 'never') return sql`p.active_at is null`;
      const day = sql`(p.active_at at time zone ${actor.timeZone})::date`;
      const since = addDays(realToday, -part.days);
      return part.how === 'within' ? sql`${day} >= ${since}` : sql`${day} < ${since}`;
    }
    case 'led by':
      return membership(sql`m.group_id in (select b.group_id from leadership l join group_branch b on b.ancestor_id = l.group_id
        where l.until_at is null and l.person_id = any(${ids(part.ids)}) and coalesce(l.first_day <= ${realToday}, true) and coalesce(l.last_day >= ${realToday}, true)
          and ${onlyGroups(sql`l.group_id`, own)})`);
    case 'signed in':
      return part.is ? sql`p.signed_in_at is not null` : sql`p.signed_in_at is null`;
    case 'name hidden':
      return personal(part.is ? sql`n.name_hidden` : sql`not n.name_hidden`);
    case 'several groups':
      return sql`((select count(*) from membership_set_group g where g.set_id = p.set_id and ${onlyGroups(sql`g.group_id`, own)}) > 1) = ${part.is}`;
    case 'young learner':
      return not(
        !part.is,
        membership(
          sql`m.group_id in (select b.group_id from group_branch b join group_now g on g.id = b.ancestor_id where g.young_learners)`,
        ),
      );
    case 'skill':
      return not(
        part.how === 'not shown',
        sql`exists (select 1 from enrolment e join work w on w.enrolment_id = e.id join work_version v on v.work_id = w.id join mark k on k.version_id = v.id and k.until_at is null and k.verdict = 'marked'
          where e.person_id = p.id and k.skill_ids && ${ids(part.ids)} and ${seenThrough(sight, sql`e.via_groups`)})`,
      );
    case 'address':
      return personal(sql`${addressState} = any(${texts(part.of)})`);
  }
}

/** @param part About an enrolment `e`, a row of `enrolmentRows`. */
function enrolmentCondition({ actor: { today, timeZone, dueSoonDays }, sight }: FilterReader, part: CoursePart): SQL {
  switch (part.part) {
    case 'course':
      return named(sql`e.course_id`, part);
    case 'access':
      return sql`(case when e.is_open then 'open' when e.opens_on is not null then 'opens later' when ${isBlocked(today, sight)} then 'blocked' else 'not open' end) = any(${texts(part.of)})`;
    case 'status':
      return sql`e.status = any(${texts(part.of)})`;
    case 'lateness':
      return sql`(case when e.exempt or e.due is null then 'on time'
        when e.done_day is not null then case when e.done_day > e.due then 'done late' else 'on time' end
        when e.due < ${today} then 'overdue' when e.due <= ${addDays(today, dueSoonDays)} then 'due soon' else 'on time' end) = any(${texts(part.of)})`;
    case 'exempt':
      return part.is ? sql`e.exempt` : sql`not e.exempt`;
    case 'seat':
      return sql`(case when exists (select 1 from seat t join licence_course k on k.licence_id = t.licence_id where t.person_id = e.person_id and t.until_at is null and k.course_id = e.course_id) then 'has'
        when e.in_line is not null then 'in line' else 'none' end) = any(${texts(part.of)})`;
    case 'score':
      return sql`e.score between ${part.from} and ${part.to}`;
    case 'done':
      return all([sql`e.status = 'done' and e.done_day is not null`, ...between(sql`e.done_day`, part.from, part.until)]);
    case 'worked': {
      const onDays = (moment: SQL): SQL => all(between(sql`(${moment} at time zone ${timeZone})::date`, part.from, part.until));
      return sql`exists (select 1 from enrolment w join activity_result r on r.enrolment_id = w.id where w.person_id = e.person_id and w.course_id = e.course_id and w.is_current and (${onDays(sql`r.last_at`)}
        or exists (select 1 from report t where t.enrolment_id = w.id and t.activity_id = r.activity_id and ${onDays(sql`t.at`)})))`;
    }
    case 'due':
      return sql`e.status <> 'done' and not e.exempt and e.due between ${today} and ${addDays(today, part.days)}`;
  }
}

/** A block that the reader may know of is in force on the way to enrolment `e`. */
const isBlocked = (today: Day, sight: ProgressSight): SQL => sql`exists (
  select 1 from access_grant a where a.until_at is null and a.effect = 'block' and coalesce(a.first_day <= ${today}, true) and coalesce(a.last_day >= ${today}, true)
    and (a.course_id = e.course_id or a.course_set_id in (select k.course_set_id from course_in_set k where k.course_id = e.course_id))
    and (a.person_id = e.person_id or ${sight === null ? sql`true` : sql`a.group_id = any(${ids(sight.via)})`} and exists (
      select 1 from person q join membership_set_group g on g.set_id = q.set_id join group_branch b on b.group_id = g.group_id
      where q.id = e.person_id and b.ancestor_id = a.group_id and (a.with_subgroups or b.depth = 0))))`;

const texts = (values: readonly string[]): SQL => sql`${`{${values.map((value) => `"${value}"`).join()}}`}::text[]`;
const between = (day: SQL, from: string | null, until: string | null): SQL[] => [
  ...(from === null ? [] : [sql`${day} >= ${from}`]),
  ...(until === null ? [] : [sql`${day} <= ${until}`]),
];
