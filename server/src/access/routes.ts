import { pathTo } from '../groups/queries.ts';
import type { Deps } from '../http/deps.ts';
import type { Handlers } from '../http/handle.ts';
import { accessGrid } from './grid.ts';

export const accessHandlers = ({ db }: Deps): Handlers => ({
  async accessGrid({ actor, params }) {
    await pathTo(db, actor, params.groupId);
    return accessGrid(db, actor, params.groupId);
  },
});
