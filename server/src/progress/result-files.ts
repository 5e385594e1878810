import type { ResultFile, resultFileRoutes, ResultTrouble } from '@gate-roster/contract';
import { addTo, type Day, emailKey, nameKey } from '@gate-roster/core';
import { and, eq, isNull, sql } from 'drizzle-orm';
import { createHash } from 'node:crypto';
import type { z } from 'zod';
import type { SignedIn } from '../accounts/actor.ts';
import { firstOf, iso, onlyOne, type Queryable, rows, texts } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { notFound } from '../http/problem.ts';
import { sourceSecret } from '../http/signed-source.ts';
import { ensureStatementMonth } from '../standards/statement-months.ts';
import { openThen } from './open-then.ts';
import { openWindows } from './open-windows.ts';
import { type Report, takeReports, type Voiding } from './take-reports.ts';

/* Results from a file are reports of a source of its own: each line counts once, and taking the file back voids them. */

type Rows = z.output<typeof resultFileRoutes.checkResults.body>['rows'];

export const resultsKey = 'results of files';

const filesShown = 100;

/** An administrator brings in results of files, and takes them back. */
export function resultFileHandlers(deps: Deps): Handlers {
  const { db, now } = deps;
  const source = async (): Promise<number> => {
    await sourceSecret(db, resultsKey, 'Results from files', createHash('sha256').update(deps.requestKey).digest('base64url'));
    return (await onlyOne(db.select({ id: tables.source.id }).from(tables.source).where(eq(tables.source.key, resultsKey)))).id;
  };
  return {
    async checkResults({ actor, body }) {
      const { reports, troubles } = await matched(db, actor, body.rows, now());
      const troubled = new Set(troubles.map(({ row }) => row));
      return {
        counts: body.rows.filter(({ row }) => !troubled.has(row)).length,
        people: new Set(reports.map(({ personId }) => personId)).size,
        troubles,
      };
    },

    async takeResults({ actor, body: { name, rows: list } }) {
      const at = now();
      const { reports, troubles } = await matched(db, actor, list, at);
      const troubled = new Set(troubles.map(({ row }) => row));
      const counts = list.filter(({ row }) => !troubled.has(row)).length;
      const { id: fileId } = await onlyOne(
        db.insert(tables.resultFile).values({ name, byId: actor.personId, rows: counts }).returning({ id: tables.resultFile.id }),
      );
      await ensureStatementMonth(db, at);
      await takeReports(
        db,
        await source(),
        reports.map(({ row, ...each }) => ({ ...each, id: idOf(fileId, row, each.activityId), digest: '', said: null, vouchedBy: fileId })),
        at,
      );
      return { fileId, counts };
    },

    async resultFiles() {
      const files = await rows<ResultFile>(
        db,
        sql`
        select f.id, f.name, trim(n.given_name || ' ' || n.family_name) as by, f.at, f.rows, f.taken_back_at as "takenBackAt"
        from result_file f join personal_now n on n.person_id = f.by_id order by f.id desc limit ${filesShown}`,
      );
      return { files: files.map((each) => ({ ...each, at: iso(each.at), takenBackAt: each.takenBackAt && iso(each.takenBackAt) })) };
    },

    async takeBackResults({ params: { fileId } }) {
      const file = await firstOf(
        db
          .update(tables.resultFile)
          .set({ takenBackAt: sql`now()` })
          .where(and(eq(tables.resultFile.id, fileId), isNull(tables.resultFile.takenBackAt)))
          .returning({ id: tables.resultFile.id }),
      );
      if (!file) throw notFound();
      const brought = await db
        .select({ id: tables.report.id })
        .from(tables.report)
        .where(eq(tables.report.resultFileId, fileId))
        .orderBy(tables.report.id);
      const voids = brought.map(({ id }): Voiding => ({ id: idOf(fileId, 0, 0, id), digest: '', said: null, voids: id }));
      if (voids.length > 0) await takeReports(db, await source(), voids, now());
    },
  };
}

/** The same line of a file has the same id whenever it is asked for. */
function idOf(fileId: number, row: number, activityId: number, voids = ''): string {
  const hex = createHash('sha256').update(`${fileId}/${row}/${activityId}/${voids}`).digest('hex');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-8${hex.slice(13, 16)}-a${hex.slice(17, 20)}-${hex.slice(20, 32)}`;
}

interface Matched {
  reports: (Pick<Report, 'personId' | 'courseId' | 'unitId' | 'activityId' | 'finished' | 'score' | 'at' | 'seconds'> & { row: number })[];
  troubles: { row: number; code: ResultTrouble }[];
}

/** Whom and which activities the lines are about. A line without an activity is about all of its course that a player finishes. */
async function matched(db: Queryable, { today, timeZone }: SignedIn, list: Rows, now: Date): Promise<Matched> {
  const people = await peopleNamed(
    db,
    list.map(({ person }) => person),
  );
  const courses = await coursesNamed(db);
  const troubles: Matched['troubles'] = [];
  const found = list.flatMap((line): Matched['reports'] => {
    const trouble = (code: ResultTrouble): [] => {
      troubles.push({ row: line.row, code });
      return [];
    };
    const [personId, other] = people.get(emailKey(line.person)) ?? [];
    if (personId === undefined) return trouble('nobody');
    if (other !== undefined) return trouble('several people');
    const course = courses.get(nameKey(line.course));
    if (!course) return trouble('no such course');
    if (line.day !== null && line.day > today) return trouble('day to come');
    const named = line.activity === null ? course.activities : course.activities.filter(({ key }) => key === nameKey(line.activity ?? ''));
    if (named.length === 0) return trouble('no such activity');
    const played = named.filter(({ isPlayed }) => isPlayed);
    if (played.length === 0) return trouble('not by the player');
    const at = line.day === null || line.day === today ? now : noonOf(line.day, timeZone);
    return played.map(({ id, unitId, scored }) => ({
      row: line.row,
      personId,
      courseId: course.id,
      unitId,
      activityId: id,
      finished: line.finished,
      score: scored ? line.score : null,
      at,
      seconds: 0,
    }));
  });
  return leaveOutClosed(db, found, troubles, { now, today, timeZone });
}

/** What was never open to somebody, neither then nor now, cannot count; of a line it is enough that something of it was. */
async function leaveOutClosed(
  db: Queryable,
  found: Matched['reports'],
  troubles: Matched['troubles'],
  { now, today, timeZone }: { now: Date; today: Day; timeZone: string },
): Promise<Matched> {
  if (found.length === 0) return { reports: [], troubles };
  const then = await openThen(db, found, now, timeZone);
  const windows = await openWindows(
    db,
    found.map(({ personId, courseId }) => ({ personId, courseId, day: today })),
  );
  const reports = found.filter(({ unitId }, place) => then[place]?.isOpen || windows[place]?.units.includes(unitId));
  const open = new Set(reports.map(({ row }) => row));
  const closed = [...new Set(found.map(({ row }) => row))].filter((row) => !open.has(row));
  return { reports, troubles: [...troubles, ...closed.map((row) => ({ row, code: 'not open' as const }))].sort((a, b) => a.row - b.row) };
}

/** The middle of a day in the platform's time zone, to the hour. */
function noonOf(day: Day, timeZone: string): Date {
  const noon = new Date(`${day}T12:00:00Z`);
  const there = new Date(noon.toLocaleString('en-US', { timeZone }));
  const here = new Date(noon.toLocaleString('en-US', { timeZone: 'UTC' }));
  return new Date(noon.getTime() - (there.getTime() - here.getTime()));
}

/** By sign-in name, confirmed address or ID number; more than one is told apart by nobody. */
async function peopleNamed(db: Queryable, named: readonly string[]): Promise<Map<string, number[]>> {
  const keys = texts([...new Set(named.map(emailKey))]);
  const found = await rows<{ key: string; id: number }>(
    db,
    sql`
    select distinct lower(k.key) as key, n.person_id as id from personal_now n
    cross join lateral (values (n.sign_in_name::text), (n.confirmed_email::text), (n.id_number)) k(key)
    where (n.sign_in_name = any(${keys}::citext[]) or n.confirmed_email = any(${keys}::citext[]) or lower(n.id_number) = any(${keys})) and lower(k.key) = any(${keys})`,
  );
  const people = new Map<string, number[]>();
  for (const { key, id } of found) addTo(people, key, id);
  return people;
}

interface NamedCourse {
  id: number;
  activities: { id: number; unitId: number; key: string; scored: boolean; isPlayed: boolean }[];
}

/** By name and by code; own courses of branches are ticked off, not reported. */
async function coursesNamed(db: Queryable): Promise<Map<string, NamedCourse>> {
  const found = await rows<{
    id: number;
    name: string;
    code: string | null;
    activities: { id: number; unitId: number; name: string; scored: boolean; isPlayed: boolean }[];
  }>(
    db,
    sql`
    select c.id, c.name, c.code, coalesce((
      select jsonb_agg(jsonb_build_object('id', a.id, 'unitId', a.unit_id, 'name', a.name, 'scored', a.scored, 'isPlayed', a.finished_by = 'player') order by a.id)
      from activity_now a where a.course_id = c.id), '[]') as activities
    from course_now c where c.home_id is null`,
  );
  const courses = new Map<string, NamedCourse>();
  for (const { id, name, code, activities } of found) {
    const course = { id, activities: activities.map(({ name: own, ...each }) => ({ ...each, key: nameKey(own) })) };
    if (code !== null && !courses.has(nameKey(code))) courses.set(nameKey(code), course);
    courses.set(nameKey(name), course);
  }
  return courses;
}
