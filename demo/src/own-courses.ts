import { nameKey } from '@gate-roster/core';
import type { Transaction } from '@gate-roster/server';
import { sql } from 'drizzle-orm';
import type { Named } from './people.ts';
import type { PlacedGroup } from './world.ts';

/* A course that a station made for itself: what its people read and open, and tick off. */

const home = 'North Reach/Gullhaven';
const name = 'Gullhaven slip and gate';
const madeDaysAgo = 60;
const units = [
  {
    name: 'Before you launch',
    activities: [
      {
        name: 'Read the slip rules',
        words: 'Nobody stands seaward of the winch line while the cradle moves.\nOne person calls the launch, and everybody can call stop.',
        link: null,
      },
      {
        name: 'Look at the tide table',
        words: 'The slip is too short below 1.2 metres.',
        link: 'https://tides.brannoch.example/gullhaven',
      },
    ],
  },
  {
    name: 'The gate',
    activities: [
      { name: 'Learn where the keys hang', words: 'Left of the boathouse door, behind the drip tray. Sign the book.', link: null },
    ],
  },
];

/** Before access is worked out. */
export async function loadOwnCourse(
  tx: Transaction,
  groups: readonly PlacedGroup[],
  { administrator, leaders }: Named,
  now: Date,
): Promise<void> {
  const groupId = groups.find(({ path }) => path === home)?.id ?? 0;
  const madeBy = leaders.find((each) => each.groupId === groupId)?.person.id ?? administrator.id;
  const since = new Date(now.getTime() - madeDaysAgo * 86_400_000).toISOString();
  const made = async (statement: ReturnType<typeof sql>): Promise<number> =>
    Number(((await tx.execute(statement)).rows[0] as { id: string }).id);
  const courseId = await made(sql`insert into course (source_id) values (1) returning id`);
  await tx.execute(sql`insert into course_version (course_id, name, name_key, subject, description, terms, home_id, from_at)
    values (${courseId}, ${name}, ${nameKey(name)}, 'Station', 'What everybody at Gullhaven knows before their first launch.', 'group', ${groupId}, ${since})`);
  for (const [place, unit] of units.entries()) {
    const unitId = await made(sql`insert into unit (course_id) values (${courseId}) returning id`);
    await tx.execute(
      sql`insert into unit_version (unit_id, course_id, position, name, from_at) values (${unitId}, ${courseId}, ${place + 1}, ${unit.name}, ${since})`,
    );
    for (const [position, activity] of unit.activities.entries()) {
      const id = await made(sql`insert into activity (course_id) values (${courseId}) returning id`);
      await tx.execute(sql`insert into activity_version (activity_id, unit_id, course_id, position, name, scored, finished_by, content, from_at)
        values (${id}, ${unitId}, ${courseId}, ${position + 1}, ${activity.name}, false, 'learner', ${JSON.stringify({ words: activity.words, link: activity.link, uploadId: null })}::jsonb, ${since})`);
    }
  }
  await tx.execute(sql`insert into access_grant (group_id, with_subgroups, course_id, effect, firm, maker_branch_id, made_by, made_at, from_at)
    values (${groupId}, true, ${courseId}, 'open', false, ${groupId}, ${madeBy}, ${since}, ${since})`);
}

/** After everybody's progress: half have ticked all of it off, a quarter the first part. */
export async function loadOwnProgress(tx: Transaction, now: Date): Promise<void> {
  await tx.execute(sql`
    with open as (
      select p.id as person_id, x.course_id, x.via_groups, p.id * 7 % 4 as share, ${now.toISOString()}::timestamptz - make_interval(days => (1 + p.id * 13 % 50)::int) as at
      from course_now c join entitlement x on x.course_id = c.id
      join person p on p.counted and ((not p.own_windows and x.set_id = p.set_id) or (p.own_windows and x.person_id = p.id))
      where c.home_id is not null and not exists (select 1 from leadership l where l.person_id = p.id)
    ), begun as (
      insert into enrolment (person_id, course_id, status, begun_at, done_at, done_day, finished_activities, via_groups)
      select person_id, course_id, case when share < 2 then 'done' else 'under way' end, at, case when share < 2 then at end,
        case when share < 2 then (at at time zone o.time_zone)::date end, case when share < 2 then 3 else 2 end, via_groups
      from open cross join organisation o where share < 3 returning id, course_id, status, begun_at
    )
    insert into activity_result (enrolment_id, activity_id, finished, last_at)
    select b.id, a.id, true, b.begun_at from begun b join activity_now a on a.course_id = b.course_id
      join unit_now u on u.id = a.unit_id and (b.status = 'done' or u.position = 1)`);
}
