import { addDays, type Day } from '@gate-roster/core';
import { refreshEntitlements, type Transaction } from '@gate-roster/server';
import { sql } from 'drizzle-orm';
import type pg from 'pg';
import { type Cell, copy } from './copy.ts';
import { type CourseContent, courses } from './courses.ts';
import type { Named } from './people.ts';
import { type GrantPlan, grants, licences, type PlacedGroup, setOpened } from './world.ts';

/* What is said about courses. */

/** Nothing is open through it yet. */
export async function openSet(
  tx: Transaction,
  groups: readonly PlacedGroup[],
  { administrator }: Named,
  { now, today }: { now: Date; today: Day },
): Promise<void> {
  const { at, set, daysAgo, firstInDays, note } = setOpened;
  const groupId = groups.find(({ path }) => path === at)?.id ?? 0;
  const since = new Date(now.getTime() - daysAgo * 86_400_000).toISOString();
  await tx.execute(sql`
    insert into access_grant (group_id, course_set_id, effect, first_day, note, made_by, made_at, from_at)
    select ${groupId}, id, 'open', ${addDays(today, firstInDays)}, ${note}, ${administrator.id}, ${since}, ${since} from course_set_now where name = ${set}`);
  await refreshEntitlements(tx, { sets: 'all', persons: 'all', courses: 'all' });
}

export async function copyGrants(
  client: pg.PoolClient,
  groups: readonly PlacedGroup[],
  { units }: CourseContent,
  { administrator }: Named,
  today: Day,
): Promise<void> {
  const groupAt = (at: string): number => groups.find(({ path }) => path === at)?.id ?? 0;
  const row = (grant: GrantPlan): Cell[] => [
    groupAt(grant.at),
    courses.findIndex(({ name }) => name === grant.course) + 1,
    grant.effect ?? 'open',
    grant.firm ?? false,
    grant.from === undefined ? null : addDays(today, grant.from),
    grant.units === undefined ? null : (units.get(grant.course) ?? []).slice(0, grant.units),
    grant.due && 'day' in grant.due ? addDays(today, grant.due.day) : null,
    grant.due && 'days' in grant.due ? grant.due.days : null,
    grant.due && 'least' in grant.due ? grant.due.least : null,
    grant.paidBy === undefined ? null : [licences.findIndex(({ name }) => name === grant.paidBy) + 1],
    false,
    administrator.id,
    ...[0, 1].map(() => `${addDays(today, -400)}T08:00:00Z`),
  ];
  await copy(
    client,
    'access_grant',
    [
      'group_id',
      'course_id',
      'effect',
      'firm',
      'first_day',
      'units',
      'due_day',
      'due_days',
      'due_least_days',
      'licences',
      'other_licences',
      'made_by',
      'made_at',
      'from_at',
    ],
    grants.map(row),
  );
}
