import { type WhoList } from '@gate-roster/contract';
import type { Effects, Who } from '@gate-roster/core';
import { and, eq, sql } from 'drizzle-orm';
import { ids, maybeRow, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { wrongCodeLimiter } from '../entry/codes.ts';
import { pathTo } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { found } from '../http/problem.ts';
import { queueChange } from '../jobs/run-jobs.ts';
import { applyChange, planChange } from './apply.ts';
import { lookOf, peopleOfSets } from './look.ts';
import { seenGroups } from '../accounts/reach.ts';
import { peopleByNumber } from '../people/matching.ts';
import { onlyGroups, seenPerson, visiblePerson } from '../people/scope.ts';
import { logPage } from './log.ts';

const namesAtOnce = 100;

export function changeHandlers(deps: Deps): Handlers {
  const { db, pool, settings, largeChanges } = deps;
  const guesses = wrongCodeLimiter(pool);
  return {
    async look({ actor, body }) {
      const change = await peopleByNumber(deps, actor, body.change);
      // Whether a chosen code is taken tells a code of others: each such question counts as a wrong code.
      const isGuess =
        (change.kind === 'make-code' || change.kind === 'edit-code') && Boolean(change.values.chosen) && actor.role !== 'administrator';
      const large = isGuess ? null : await largeChanges?.ask('look', { actor, change });
      if (large) return large;
      if (isGuess) await guesses.take(`person ${actor.personId}`);
      const { effects } = await planChange(db, actor, change, settings.publicUrl);
      if (isGuess && !effects.conflicts.some(({ code }) => code === 'code taken')) await guesses.giveBack(`person ${actor.personId}`);
      return lookOf(db, actor, effects);
    },

    async apply({ actor, body }) {
      const { digest, requestId } = body;
      const change = await peopleByNumber(deps, actor, body.change);
      const actorId = actor.personId;
      return (await largeChanges?.ask('apply', { actorId, change, digest, requestId })) ?? applyChange(deps, actorId, change, body);
    },

    async startJob({ actor, body }) {
      return { jobId: await queueChange(deps, actor.personId, { ...body, change: await peopleByNumber(deps, actor, body.change) }) };
    },

    async job({ actor, params: { jobId } }) {
      const job = found(
        await maybeRow<{
          state: 'waiting' | 'done' | 'failed' | 'stopped';
          done: number;
          of_all: number | null;
          outcome: { changeId?: number; newPeople?: number; fileName?: string; problem?: string } | null;
        }>(db, sql`select state, done, of_all, outcome from job where id = ${jobId} and made_by = ${actor.personId}`),
      );
      return {
        id: jobId,
        state: job.state,
        done: job.done,
        ofAll: job.of_all,
        changeId: job.outcome?.changeId ?? null,
        newPeople: job.outcome?.newPeople ?? 0,
        fileName: job.outcome?.fileName ?? null,
        problem: job.outcome?.problem ?? null,
      };
    },

    async stopJob({ actor, params: { jobId } }) {
      const stopped = await db
        .update(tables.job)
        .set({ state: 'stopped', endedAt: sql`now()` })
        .where(and(eq(tables.job.id, jobId), eq(tables.job.madeBy, actor.personId), eq(tables.job.state, 'waiting')))
        .returning({ id: tables.job.id });
      found(stopped[0]);
    },

    async lookPeople({ actor, body }) {
      const { effects } = await planChange(db, actor, await peopleByNumber(deps, actor, body.change), settings.publicUrl);
      const parts = whoOf(effects, body);
      const persons = [
        ...new Set([
          ...(await peopleOfSets(
            db,
            parts.flatMap(({ sets }) => sets),
          )),
          ...parts.flatMap((who) => who.persons),
        ]),
      ].sort((a, b) => a - b);
      const page = persons.filter((id) => id > (body.after ?? 0)).slice(0, namesAtOnce);
      const own = await seenGroups(db, actor);
      const people = await rows<{ id: number; name: string; group: string | null }>(
        db,
        sql`
        with named as (select person_id as id, trim(given_name || ' ' || family_name) as name, family_name, given_name from personal_now where person_id = any(${ids(persons)}) and ${seenPerson(actor, sql`person_id`)})
        select n.id, n.name,
          case when exists (select 1 from named o where o.name = n.name and o.id <> n.id) then (
            select g.name from membership m join group_now g on g.id = m.group_id where m.person_id = n.id and m.until_at is null and ${onlyGroups(sql`m.group_id`, own)} order by m.row_id limit 1) end as "group"
        from named n where n.id = any(${ids(page)}) order by n.family_name collate people_order, n.given_name collate people_order`,
      );
      const classes = [...new Set(parts.flatMap(({ newcomers }) => newcomers))];
      return {
        people,
        newcomers: classes.reduce((sum, index) => sum + (effects.newcomers[index] ?? 0), persons.filter((id) => id < 0).length),
        next: page.length === namesAtOnce ? (page.at(-1) ?? null) : null,
      };
    },

    async changePeople({ actor, params: { changeId } }) {
      const made = await rows<{ id: number; email: string | null }>(
        db,
        sql`
        select s.after_row as id, n.email from change_log c join change_subject s on s.change_id = c.id and s.kind = 'person' and s.after_row is not null
        join personal_now n on n.person_id = s.after_row join person p on p.id = n.person_id and p.erased_at is null
        where c.id = ${changeId} and c.actor_id = ${actor.personId} and ${seenPerson(actor, sql`p.id`)} order by s.id`,
      );
      return { ids: made.map(({ id }) => id), withoutAddress: made.flatMap(({ id, email }) => (email === null ? [id] : [])) };
    },

    async log({ actor, query }) {
      if (query.groupId) await pathTo(db, actor, query.groupId);
      if (query.personId) await visiblePerson(db, actor, query.personId);
      return logPage(db, actor, query);
    },
  };
}

function whoOf(effects: Effects, { list, courseId, groupId }: { list: WhoList; courseId: number | null; groupId: number | null }): Who[] {
  const persons = (ids: number[]): Who[] => [{ sets: [], persons: ids, newcomers: [] }];
  if (list === 'takenBack') return persons(effects.takenBack);
  if (list === 'reached') return persons(effects.reached);
  if (list === 'reordered') return persons(effects.reordered);
  if (list === 'byLetter') return persons(effects.byLetter);
  if (list === 'guardians') return persons(effects.guardians);
  if (list === 'changed') return persons(effects.changedPeople);
  if (list === 'seatsNeeded') return persons([...effects.seats.given, ...effects.seats.line.map(({ key }) => key)]);
  if (list === 'fromLine') return persons(effects.seats.fromLine);
  if (list === 'seatsEnded') return persons(effects.seats.ended);
  if (list === 'seatsMoved') return persons(effects.seats.moved);
  if (list === 'leftLine') return persons(effects.seats.leftLine);
  if (list === 'inLine') return persons(effects.seats.line.map(({ key }) => key));
  if (list === 'joins' || list === 'leaves')
    return effects[list].filter((effect) => groupId === null || effect.groupId === groupId).map(({ who }) => who);
  return effects[list].filter((effect) => courseId === null || effect.courseId === courseId).map(({ who }) => who);
}
