import type { ShownView } from '@gate-roster/contract';
import type { RouteLocationRaw } from 'vue-router';
import { filterCode } from '../filters/use-filter.ts';

/** A scope, a filter, and the past day as whose end it is told; left out: today. */
export interface ReportQuery {
  subgroups: 'yes' | 'no';
  filter: string;
  day?: string;
}

/** Where a view of progress is shown: its address, which a reload and a colleague understand too. */
export const placeOf = (
  groupId: number,
  { view, subgroups, filter, courseId, groups, sort, rows, scores, by, without, levels, unfold, count, day, from }: ShownView,
): RouteLocationRaw => ({
  name: 'progress',
  params: { groupId },
  query: {
    ...(view === 'groups' ? {} : { view }),
    ...(subgroups === 'yes' ? {} : { subgroups }),
    ...(filter.length === 0 ? {} : { filter: filterCode.write(filter) }),
    ...(courseId === null ? {} : { course: String(courseId) }),
    ...(groups.length === 0 ? {} : { beside: groups.join() }),
    ...(sort === 'name' ? {} : { sort }),
    ...(rows === 'groups' ? {} : { rows }),
    ...(scores === 'mean' ? {} : { scores }),
    ...(by === '' ? {} : { by }),
    ...(without.length === 0 ? {} : { without: without.join() }),
    ...(levels === 0 ? {} : { levels: String(levels) }),
    ...(unfold.length === 0 ? {} : { unfold: unfold.join() }),
    ...(count === 'own' ? {} : { count }),
    ...(day === null ? {} : { day }),
    ...(from === null ? {} : { from }),
  },
});
