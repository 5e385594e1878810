import { computed, type ComputedRef } from 'vue';
import type { EntryPart } from '../entry/parts.ts';
import { type Area, areas } from './areas.ts';
import { type LocationQuery, type LocationQueryRaw, useRoute, useRouter } from 'vue-router';

export interface Scope {
  groupId: ComputedRef<number>;
  withSubgroups: ComputedRef<boolean>;
  /** As the contract asks for it. */
  query: ComputedRef<{ subgroups: 'yes' | 'no' }>;
  setSubgroups: (wanted: boolean) => void;
  goTo: (groupId: number) => void;
  /** The same scope in another area. */
  linkTo: (area: Area, part?: EntryPart) => { name: Area; params: { groupId: number; part?: EntryPart }; query: LocationQueryRaw };
}

/** What stays in the address from area to area: a list and its report are one click apart, with one filter. */
export const keptQuery = ({ subgroups, filter }: LocationQuery): LocationQueryRaw => ({
  ...(subgroups === 'no' ? { subgroups } : {}),
  ...(typeof filter === 'string' ? { filter } : {}),
});

/** The scope is kept in the address, so a link opens the same view for a colleague. */
export function useScope(): Scope {
  const route = useRoute();
  const router = useRouter();
  const groupId = computed(() => Number(route.params['groupId']));
  const withSubgroups = computed(() => route.query['subgroups'] !== 'no');
  const kept = (): LocationQueryRaw => keptQuery(route.query);
  return {
    groupId,
    withSubgroups,
    query: computed(() => ({ subgroups: withSubgroups.value ? 'yes' : 'no' })),
    setSubgroups(wanted) {
      const { subgroups: _dropped, ...rest } = route.query;
      void router.replace({ query: wanted ? rest : { ...rest, subgroups: 'no' } });
    },
    goTo(id) {
      void router.push({
        name: areas.find(({ name }) => name === route.name)?.name ?? 'groups',
        params: { groupId: id, ...(route.params['part'] ? { part: route.params['part'] } : {}) },
        // Within an area its view stays.
        query: { ...kept(), ...(typeof route.query['view'] === 'string' ? { view: route.query['view'] } : {}) },
      });
    },
    linkTo: (area, part) => ({ name: area, params: { groupId: groupId.value, ...(part ? { part } : {}) }, query: kept() }),
  };
}
