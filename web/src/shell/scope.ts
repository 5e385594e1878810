import { computed, type ComputedRef } from 'vue';
import type { EntryPart } from '../entry/parts.ts';
import { type Area, areas } from './areas.ts';
import { type LocationQueryRaw, useRoute, useRouter } from 'vue-router';

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

/** The scope is kept in the address, so a link opens the same view for a colleague. */
export function useScope(): Scope {
  const route = useRoute();
  const router = useRouter();
  const groupId = computed(() => Number(route.params['groupId']));
  const withSubgroups = computed(() => route.query['subgroups'] !== 'no');
  // The filter goes along, so that a list and its report are one click apart.
  const kept = (): LocationQueryRaw => ({
    ...(withSubgroups.value ? {} : { subgroups: 'no' }),
    ...(typeof route.query['filter'] === 'string' ? { filter: route.query['filter'] } : {}),
  });
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
        query: kept(),
      });
    },
    linkTo: (area, part) => ({ name: area, params: { groupId: groupId.value, ...(part ? { part } : {}) }, query: kept() }),
  };
}
