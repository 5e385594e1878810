import type { ShownView } from '@gate-roster/contract';
import type { RouteLocationRaw } from 'vue-router';
import { filterCode } from '../filters/use-filter.ts';

/** Where a view of progress is shown: its address, which a reload and a colleague understand too. */
export const placeOf = (groupId: number, { view, subgroups, filter, courseId, groups, sort }: ShownView): RouteLocationRaw => ({
  name: 'progress',
  params: { groupId },
  query: {
    ...(view === 'groups' ? {} : { view }),
    ...(subgroups === 'yes' ? {} : { subgroups }),
    ...(filter.length === 0 ? {} : { filter: filterCode.write(filter) }),
    ...(courseId === null ? {} : { course: String(courseId) }),
    ...(groups.length === 0 ? {} : { beside: groups.join() }),
    ...(sort === 'name' ? {} : { sort }),
  },
});
