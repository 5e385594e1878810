import type { ChosenPeople, MatchingPeople } from '@gate-roster/contract';
import { computed, type ComputedRef } from 'vue';
import { call } from '../api/call.ts';
import type { Selection } from '../ui/selection.ts';

/** People chosen in a list, as a change takes them, and how many they are. */
export interface Chosen {
  people: ChosenPeople;
  count: number;
}

export const nobodyChosen: Chosen = { people: [], count: 0 };
export const chosenByNumber = (people: readonly number[]): Chosen => ({ people: [...people], count: people.length });

/** Who is chosen in a list of people: those that were clicked, or all whom the list shows, by its filter. */
export const useChosen = (selection: Selection, listed: () => Omit<MatchingPeople, 'but'>): ComputedRef<Chosen> =>
  computed(() => ({
    people: selection.isAll.value ? { ...listed(), but: [...selection.leftOut.value] } : [...selection.chosen.value],
    count: selection.count.value,
  }));

/** Everybody's number, for what is printed or sent one by one. */
export const numbersOf = async ({ people }: Chosen): Promise<number[]> =>
  Array.isArray(people) ? people : (await call('chosenNumbers', { body: people })).ids;
