import { routes, voidStatement, xapiStatement } from '@gate-roster/contract';
import { sql } from 'drizzle-orm';
import type { z } from 'zod';
import { maybeRow, rows } from '../database/connect.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { found, notFound, ProblemError } from '../http/problem.ts';
import { sourceOf } from '../http/signed-source.ts';
import { openNow } from '../splits/running.ts';
import { takeWork } from '../work/take-work.ts';
import { ensureStatementMonth } from '../standards/statement-months.ts';
import { plainOf, statementDigest } from '../standards/read-statements.ts';
import { type Incoming, type Report, takeReports } from './take-reports.ts';
import { dayOfMoment, type FinishedBy, partStatement, secondsOf, tryOf, verbOf } from '@gate-roster/core';

export function sourceHandlers(deps: Deps): Handlers {
  const { db, now, settings } = deps;
  return {
    async report({ request, body }) {
      const { id: sourceId } = await sourceOf(deps, request);
      const at = now();
      const incoming = await readSigned(deps, sourceId, body, at);
      await ensureStatementMonth(db, at);
      const { fresh, notOpen } = await takeReports(db, sourceId, incoming, at);
      // They are kept, and do not count.
      if (notOpen > 0) throw new ProblemError('not-open');
      return { taken: fresh };
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
          content: { words: string; link: string | null; hasFile: boolean } | null;
          finished: boolean;
          score: number | null;
        }[];
      }>(
        db,
        sql`
        select u.id, u.name, jsonb_agg(jsonb_build_object('id', a.id, 'name', a.name, 'scored', a.scored, 'finishedBy', a.finished_by, 'content',
          case when a.content is not null then jsonb_build_object('words', a.content->'words', 'link', a.content->'link', 'hasFile', a.content->'uploadId' <> 'null') end, 'finished', coalesce(r.finished, false), 'score', r.score) order by a.position) as activities
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

type Signed = z.output<typeof routes.report.body>;

interface Launched extends Pick<Report, 'personId' | 'courseId' | 'unitId' | 'activityId'> {
  launchId: string;
}

/**
 * What a player reports of the launches that it names.
 * @throws ProblemError `bad-request` when an object does not name an activity; `not-found` when a launch is over or unknown, or the
 * activity is not of its course.
 */
async function readSigned({ db, requestKey }: Deps, sourceId: number, list: Signed, now: Date): Promise<Incoming[]> {
  const read = list.map((given) => {
    const taken = voidStatement.safeParse(given);
    return taken.success ? { given, voids: taken.data.object.id } : { given, statement: xapiStatement.parse(given) };
  });
  const asked = read.flatMap(({ statement }) => {
    if (!statement) return [];
    const [, activity] = /\/activities\/(\d{1,15})$/u.exec(statement.object.id) ?? [];
    if (!activity)
      throw new ProblemError('bad-request', { where: [{ place: 'body.object.id', what: 'Ends in /activities/ and a number' }] });
    return [{ launch: statement.actor.account.name, activity: Number(activity), id: statement.id }];
  });
  const found = await rows<Launched & { id: string }>(
    db,
    sql`
    select q.id, l.id as "launchId", l.person_id as "personId", l.course_id as "courseId", a.unit_id as "unitId", a.id as "activityId"
    from jsonb_to_recordset(${JSON.stringify(asked)}::jsonb) as q(id uuid, launch uuid, activity bigint)
    join launch l on l.id = q.launch and l.ends_at > ${now.toISOString()} join course x on x.id = l.course_id and x.source_id = ${sourceId}
    join activity_now a on a.id = q.activity and a.course_id = l.course_id and a.finished_by = 'player'`,
  );
  const launched = new Map(found.map(({ id, ...each }) => [id, each]));
  return read.map(({ given, voids, statement }): Incoming => {
    const about = statement && launched.get(statement.id.toLowerCase());
    if (statement && !about) throw notFound();
    const id = given.id.toLowerCase();
    const personId = about?.personId ?? null;
    const digest = statementDigest(requestKey, given, personId);
    const said = { personId, ...(personId === null ? { plain: plainOf(given), personal: {} } : partStatement(given)) };
    if (!statement || !about) return { id, digest, said, voids: voids ?? '' };
    const verb = verbOf(statement.verb.id);
    const at = new Date(statement.timestamp);
    if (verb === null || verb === 'voided') return { id, digest, said, personId: about.personId, at };
    return { id, digest, said, ...about, ...tryOf(verb, statement.result), at, seconds: secondsOf(statement.result?.duration ?? '') };
  });
}

export const sourcePaths = { report: routes.report.path, outline: routes.outline.path };
