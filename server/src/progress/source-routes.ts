import { routes, voidStatement, xapiStatement } from '@gate-roster/contract';
import { sql } from 'drizzle-orm';
import type { z } from 'zod';
import { maybeRow, rows } from '../database/connect.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { found, ProblemError } from '../http/problem.ts';
import { sourceOf } from '../http/signed-source.ts';
import { openNow } from '../splits/running.ts';
import { takeWork } from '../work/take-work.ts';
import { type Report, takeReports, type Voiding } from './take-report.ts';
import { dayOfMoment, type FinishedBy } from '@gate-roster/core';

export function sourceHandlers(deps: Deps): Handlers {
  const { db, now, settings } = deps;
  return {
    async report({ request, body }) {
      const { id: sourceId } = await sourceOf(deps, request);
      return { taken: await takeReports(db, sourceId, body.map(readStatement), now()) };
    },

    async sourceWork({ request, body: { id, launchId, activityId, words, link } }) {
      const { id: sourceId } = await sourceOf(deps, request);
      const work = { id, launchId, activityId, words, link };
      return { versionId: await takeWork(db, sourceId, work, { now: now(), publicUrl: settings.publicUrl }) };
    },

    async outline({ request, params }) {
      const { id: sourceId } = await sourceOf(deps, request);
      const launch = found(
        await maybeRow<{ person_id: number; course_id: number; name: string; learner: string; time_zone: string }>(
          db,
          sql`
        select l.person_id, l.course_id, c.name, n.given_name as learner, o.time_zone from launch l join course x on x.id = l.course_id join course_now c on c.id = x.id join personal_now n on n.person_id = l.person_id cross join organisation o
        where exists (select 1 from person_state s where s.person_id = l.person_id and s.until_at is null and s.state = 'active') and l.id = ${params.launchId} and x.source_id = ${sourceId} and l.ends_at > ${now().toISOString()}`,
        ),
      );
      const today = dayOfMoment(now(), launch.time_zone);
      const { units: open } = await openNow(db, { personId: launch.person_id, today, sight: null }, launch.course_id);
      const units = await rows<{
        id: number;
        name: string;
        activities: {
          id: number;
          name: string;
          scored: boolean;
          finishedBy: FinishedBy;
          finished: boolean;
          score: number | null;
        }[];
      }>(
        db,
        sql`
        select u.id, u.name, jsonb_agg(jsonb_build_object('id', a.id, 'name', a.name, 'scored', a.scored, 'finishedBy', a.finished_by, 'finished', coalesce(r.finished, false), 'score', r.score) order by a.position) as activities
        from unit_now u join activity_now a on a.unit_id = u.id
        left join enrolment e on e.person_id = ${launch.person_id} and e.course_id = u.course_id and e.is_current
        left join activity_result r on r.enrolment_id = e.id and r.activity_id = a.id
        where u.course_id = ${launch.course_id} group by u.id, u.name, u.position order by u.position`,
      );
      return {
        course: { id: launch.course_id, name: launch.name },
        learner: launch.learner,
        units: units.filter(({ id }) => open.includes(id)),
      };
    },
  };
}

/** @throws ProblemError `bad-request` when the object does not name an activity. */
function readStatement(given: z.output<typeof routes.report.body>[number]): Report | Voiding {
  const taken = voidStatement.safeParse(given);
  if (taken.success) return { voids: taken.data.object.id };
  const statement = xapiStatement.parse(given);
  const activity = /\/activities\/(\d{1,15})$/u.exec(statement.object.id);
  if (!activity) throw new ProblemError('bad-request', { where: [{ place: 'body.object.id', what: 'Ends in /activities/ and a number' }] });
  const scaled = statement.result?.score?.scaled;
  return {
    id: statement.id,
    launchId: statement.actor.account.name,
    activityId: Number(activity[1]),
    finished: statement.result?.completion ?? /\/(?:completed|passed)$/u.test(statement.verb.id),
    score: scaled === undefined ? null : Math.round(scaled * 1000) / 10,
    at: new Date(statement.timestamp),
    seconds: secondsIn(statement.result?.duration ?? ''),
  };
}

/** Seconds of an ISO 8601 duration of days and less; what is not said is 0. */
function secondsIn(duration: string): number {
  const [, days = 0, hours = 0, minutes = 0, seconds = 0] =
    /^P(?:(\d+)D)?(?:T(?:(\d+)H)?(?:(\d+)M)?(?:(\d+(?:\.\d+)?)S)?)?$/u.exec(duration) ?? [];
  return ((Number(days) * 24 + Number(hours)) * 60 + Number(minutes)) * 60 + Number(seconds);
}

export const sourcePaths = { report: routes.report.path, outline: routes.outline.path };
