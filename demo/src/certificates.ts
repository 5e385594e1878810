import { makeCertificateNumber } from '@gate-roster/core';
import type { Transaction } from '@gate-roster/server';
import { sql } from 'drizzle-orm';
import type { Named } from './people.ts';
import type { Random } from './random.ts';
import type { PlacedGroup } from './world.ts';

/* Certificates: one that is given by itself, one that a leader gives, one for a whole set; two that were withdrawn. */

const forms = [
  {
    id: 1,
    path: 'North Reach/Gullhaven',
    course: 'Casualty care',
    title: 'Casualty carer',
    words: '{name} has finished {course} and can look after people until the hospital does.',
    showsScore: true,
    byItself: false,
  },
  {
    id: 2,
    path: 'Middle Sound/Ternholm',
    course: 'VHF radio',
    title: 'Radio operator on watch',
    words: '{name} has finished {course} with {organisation}.',
    showsScore: false,
    byItself: false,
  },
  {
    id: 3,
    path: 'North Reach',
    set: 'Basics',
    title: 'Ready for the water',
    words: '{name} has finished all basic courses of {organisation}, the last of them on {day}.',
    showsScore: false,
    byItself: false,
  },
  {
    id: 4,
    path: 'North Reach/Gullhaven',
    course: 'Throw-line basics',
    title: 'Line thrower',
    words: '{name} reaches people in the water from dry ground, and finished {course} on {day}.',
    showsScore: true,
    byItself: false,
  },
  {
    id: 5,
    path: 'Outer Skerries/Skerry Light',
    course: 'Cold-water immersion',
    title: 'Cold-water swimmer',
    words: '{name} has finished {course}.',
    showsScore: false,
    byItself: true,
  },
];
const givenShare = 0.8;

export async function loadCertificates(
  tx: Transaction,
  groups: readonly PlacedGroup[],
  random: Random,
  { administrator, leaders, learner }: Named,
  now: Date,
): Promise<void> {
  for (const { id, path, title, words, showsScore, byItself, ...about } of forms) {
    const groupId = groups.find((group) => group.path === path)?.id ?? 0;
    const by = leaders.find((leader) => leader.groupId === groupId)?.person.id ?? administrator.id;
    await tx.execute(sql`insert into certificate_form (id) overriding system value values (${id})`);
    await tx.execute(sql`
      insert into certificate_form_version (form_id, group_id, course_id, course_set_id, title, words, shows_score, by_itself, from_at)
      values (${id}, ${groupId}, (select id from course_now where name = ${about.course ?? null}), (select id from course_set_now where name = ${about.set ?? null}), ${title}, ${words}, ${showsScore}, ${byItself}, ${new Date(now.getTime() - 400 * 86_400_000).toISOString()})`);
    const earned = (
      await tx.execute(sql`
      with courses as (
        select c.id, c.name, c.valid_months from course_now c where c.name = ${about.course ?? null}
        union select c.id, c.name, c.valid_months from course_in_set i join course_set_now s on s.id = i.course_set_id and s.name = ${about.set ?? null} join course_now c on c.id = i.course_id
      )
      select p.id::int as person, max(e.done_day)::text as day, avg(e.score) as score, min((e.done_day + make_interval(months => c.valid_months::int))::date)::text as "validUntil"
      from person p cross join courses c left join enrolment e on e.person_id = p.id and e.course_id = c.id and e.is_current and e.status = 'done' and not e.exempt
      where p.counted and p.set_id in (select set_id from set_in_branch where ancestor_id = ${groupId})
      group by p.id having count(*) = count(e.id) order by p.id`)
    ).rows as { person: number; day: string; score: number | null; validUntil: string | null }[];
    const given = earned
      .filter(({ person }) => random.chance(givenShare) || byItself || person === learner.id)
      .map((each) => ({
        ...each,
        number: makeCertificateNumber((limit) => random.whole(0, limit - 1)),
        at: `${each.day}T19:30:00Z`,
        shown: random.chance(0.4),
      }));
    await tx.execute(sql`
      insert into certificate (number, form_id, person_id, about, day, score, valid_until, given_at, given_by, name_shown, from_at)
      select number, ${id}, person, ${about.course ?? about.set}, day, score, "validUntil", at, ${byItself ? null : by}::bigint, shown, at
      from jsonb_to_recordset(${JSON.stringify(given)}::jsonb) as r(number text, person bigint, day date, score double precision, "validUntil" date, at timestamptz, shown boolean)`);
  }
  // Two of Ternholm's were given by mistake, and taken back the week after.
  await tx.execute(sql`
    update certificate set until_at = from_at + interval '7 days' where row_id in (select row_id from certificate where form_id = 2 and from_at < now() - interval '10 days' order by row_id limit 2)`);
  await tx.execute(sql`select setval(pg_get_serial_sequence('certificate_form', 'id'), ${forms.length})`);
}
