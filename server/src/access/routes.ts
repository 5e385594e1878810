import { pathTo } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { comingPeople, comingUp } from './coming-up.ts';
import { accessGrid } from './grid.ts';

export const accessHandlers = ({ db }: Deps): Handlers => ({
  async accessGrid({ actor, params }) {
    await pathTo(db, actor, params.groupId);
    return accessGrid(db, actor, params.groupId);
  },

  async comingUp({ actor, params: { groupId }, query }) {
    await pathTo(db, actor, groupId, 'seeProgress');
    return comingUp(db, actor, { groupId, withSubgroups: query.subgroups === 'yes' }, query);
  },

  async comingPeople({ actor, params: { groupId }, query }) {
    await pathTo(db, actor, groupId, 'seeProgress');
    return comingPeople(db, actor, { groupId, withSubgroups: query.subgroups === 'yes' }, query);
  },
});
