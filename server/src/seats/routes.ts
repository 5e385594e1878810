import { may } from '@gate-roster/core';
import { sql } from 'drizzle-orm';
import { rows } from '../database/connect.ts';
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
      courseSets: await rows<{ id: number; name: string }>(db, sql`select id, name from course_set_now order by position`),
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
