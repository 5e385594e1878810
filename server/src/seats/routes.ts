import { may } from '@gate-roster/core';
import * as tables from '../database/schema.ts';
import { pathTo } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { peopleWithSeats } from './line.ts';
import { seatSheets } from './sheets.ts';
import { seatStory } from './story.ts';

export const seatHandlers = ({ db }: Deps): Handlers => ({
  async seats({ actor, params: { groupId } }) {
    await pathTo(db, actor, groupId);
    return {
      licences: await seatSheets(db, actor, groupId),
      mayMake: may(actor, 'administer', { path: [groupId] }),
      courseSets: await db
        .select({ id: tables.courseSetNow.id, name: tables.courseSetNow.name })
        .from(tables.courseSetNow)
        .orderBy(tables.courseSetNow.position),
    };
  },

  async seatStory({ actor, params: { groupId, licenceId } }) {
    await pathTo(db, actor, groupId);
    return seatStory(db, actor, groupId, licenceId);
  },

  async seatPeople({ actor, params: { groupId }, query }) {
    const path = await pathTo(db, actor, groupId);
    const handOut = may(actor, 'handOutSeats', { path: path.map(({ id }) => id) });
    return { ...(await peopleWithSeats(db, groupId, query)), may: { handOut } };
  },
});
