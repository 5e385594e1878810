import { sql } from 'drizzle-orm';
import type { RequestHandler } from 'express';
import { timingSafeEqual } from 'node:crypto';
import { collectDefaultMetrics, Gauge, type OpenMetricsContentType, Registry } from 'prom-client';
import { changesWaiting, lockTotals } from './changes/roster-lock.ts';
import { oneRow } from './database/connect.ts';
import type { Deps } from './http/deps.ts';
import { notFound } from './http/problem.ts';

interface Waiting {
  jobs: number;
  oldest_job: number;
  letters: number;
  marked: number;
  changes: number;
}

/** Numbers of this process and its database in OpenMetrics form, for callers who hold the key. */
export function metrics(deps: Deps, key: string): RequestHandler {
  const registry = new Registry<OpenMetricsContentType>();
  registry.setContentType(Registry.OPENMETRICS_CONTENT_TYPE);
  collectDefaultMetrics({ register: registry });
  const gauge = (name: string, help: string): Gauge => new Gauge({ name: `gate_roster_${name}`, help, registers: [registry] });
  const gauges = {
    lockWaits: gauge('lock_waits', 'Changes of this process that were given the roster lock'),
    lockSeconds: gauge('lock_wait_seconds', 'Seconds that they waited for it, together'),
    changesWaiting: gauge('changes_waiting', 'Changes of this process that wait for their turn'),
    changes: gauge('changes', 'Changes in the log'),
    jobs: gauge('jobs_waiting', 'Jobs that wait'),
    oldestJob: gauge('oldest_job_seconds', 'How long the oldest of them has waited'),
    letters: gauge('letters_waiting', 'Letters that wait to be sent'),
    marked: gauge('tallies_marked', 'Membership sets whose cached tallies hold no more'),
    streams: gauge('streams', 'Live streams to browsers'),
  };
  return async (request, response) => {
    const given = Buffer.from(request.get('authorization') ?? '');
    const wanted = Buffer.from(`Bearer ${key}`);
    if (given.length !== wanted.length || !timingSafeEqual(given, wanted)) throw notFound();
    const waiting = await oneRow<Waiting>(
      deps.db,
      sql`
      select (select count(*)::int from job where state = 'waiting') as jobs,
        (select coalesce(extract(epoch from now() - min(starts_at)), 0)::float from job where state = 'waiting' and starts_at <= now()) as oldest_job,
        (select count(*)::int from letter where state = 'waiting') as letters, (select count(distinct set_id)::int from standing_mark) as marked,
        (select coalesce(max(id), 0)::int from change_log) as changes`,
    );
    gauges.lockWaits.set(lockTotals.waits);
    gauges.lockSeconds.set(lockTotals.seconds);
    gauges.changesWaiting.set(changesWaiting());
    gauges.changes.set(waiting.changes);
    gauges.jobs.set(waiting.jobs);
    gauges.oldestJob.set(waiting.oldest_job);
    gauges.letters.set(waiting.letters);
    gauges.marked.set(waiting.marked);
    gauges.streams.set(deps.streams.size);
    response.setHeader('Content-Type', registry.contentType).send(await registry.metrics());
  };
}
