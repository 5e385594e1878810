import { noEffects } from '@gate-roster/core';
import { and, isNull, sql } from 'drizzle-orm';
import { type Planner, summaryOf } from '../changes/plan.ts';
import { accessOfShift } from '../changes/shift.ts';
import { ids, isAmong, rows } from '../database/connect.ts';
import * as tables from '../database/schema.ts';
import { actableAccounts } from './account.ts';
import { idsOf, visiblePeople, withinGroupsOf } from './members.ts';

/** Lets accounts work, pauses or ends them, now or between days. Nothing they did is lost. */
export const planSetPersonState: Planner<'set-person-state'> = async (context, change) => {
  const { db, actor, tree } = context;
  const people = await visiblePeople(context, change.personIds);
  await actableAccounts(db, actor, tree, idsOf(people));
  const standing = await db
    .select({
      row_id: tables.personState.rowId,
      person_id: tables.personState.personId,
      state: tables.personState.state,
      first_day: tables.personState.firstDay,
      last_day: tables.personState.lastDay,
    })
    .from(tables.personState)
    .where(and(isAmong(tables.personState.personId, idsOf(people)), isNull(tables.personState.untilAt)));
  const turning = standing.filter(
    ({ state, first_day, last_day }) => state !== change.state || first_day !== change.firstDay || last_day !== change.lastDay,
  );
  const turned = new Set(turning.map(({ person_id }) => person_id));
  const effects = noEffects();
  Object.assign(
    effects,
    await accessOfShift(context, {
      people: {
        personIds: [...turned],
        afterwards: (person) => ({
          ...person,
          active: change.state === 'active',
          ended: change.state === 'ended',
          firstDay: change.firstDay,
          lastDay: change.lastDay,
        }),
      },
    }),
  );
  effects.changedPeople = [...turned].sort((a, b) => a - b);
  if (turning.length === 0) effects.conflicts.push({ code: 'nothing to do', blocks: true, count: 1 });
  if (change.firstDay && change.lastDay && change.lastDay < change.firstDay)
    effects.conflicts.push({ code: 'days out of order', blocks: true, count: 1 });
  if (turned.has(actor.personId)) effects.conflicts.push({ code: 'own account', blocks: true, count: 1 });
  const groups = [...new Set(people.flatMap(({ memberships }) => memberships.map(({ groupId }) => groupId)))];
  return {
    effects,
    groups,
    ...withinGroupsOf(people),
    summary: summaryOf({
      groups: groups.slice(0, 3),
      people: effects.changedPeople.slice(0, 3),
      counts: { people: turned.size },
      fields: [change.state],
    }),
    async write(tx, writer) {
      await writer.replace(
        'person state',
        turning.map(({ row_id }) => ({
          rowId: row_id,
          values: { state: change.state, first_day: change.firstDay, last_day: change.lastDay },
        })),
      );
      // Who is not signed in need not be told.
      const theirs = sql`session where sess ->> 'personId' = any(array(select unnest(${ids(turned)})::text))`;
      const signedIn = await rows<{ id: number }>(
        tx,
        change.state === 'active'
          ? sql`select (sess ->> 'personId')::bigint as id from ${theirs}`
          : sql`delete from ${theirs} returning (sess ->> 'personId')::bigint as id`,
      );
      return { people: [...turned], sessions: signedIn.map(({ id }) => id) };
    },
  };
};
