import type { Day } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { type Queryable, rows } from '../database/connect.ts';
import { lacksSeat } from './due-days.ts';

/** What is open of a course to somebody on a day, as access stands. */
export interface OpenWindow {
  units: number[];
  viaGroups: number[];
  lacksSeat: boolean;
}

export interface AskedWindow {
  personId: number;
  courseId: number;
  day: Day;
}

/** In the order of what is asked, all in one statement; null: nothing is open. */
export async function openWindows(db: Queryable, asked: readonly AskedWindow[]): Promise<(OpenWindow | null)[]> {
  if (asked.length === 0) return [];
  const list = asked.map(({ personId, courseId, day }, place) => ({ place, person: personId, course: courseId, day }));
  // Asked of sets and of people apart, each by its own index.
  const found = await rows<OpenWindow & { place: number }>(
    db,
    sql`
    with asked as materialized (
      select q.place, q.person, q.course, q.day, p.set_id, p.own_windows
      from jsonb_to_recordset(${JSON.stringify(list)}::jsonb) as q(place int, person bigint, course bigint, day date) join person p on p.id = q.person
    ), windows as (
      select a.place, a.person, a.day, x.* from asked a join entitlement x on x.set_id = a.set_id and x.course_id = a.course where not a.own_windows
      union all
      select a.place, a.person, a.day, x.* from asked a join entitlement x on x.person_id = a.person and x.course_id = a.course where a.own_windows
    )
    select x.place, to_jsonb(x.units) as units, to_jsonb(x.via_groups) as "viaGroups", ${lacksSeat(sql`x.person`)} as "lacksSeat"
    from windows x where coalesce(x.first_day <= x.day, true) and coalesce(x.last_day >= x.day, true)`,
  );
  const windows: (OpenWindow | null)[] = asked.map(() => null);
  for (const { place, ...window } of found) windows[place] = window;
  return windows;
}
