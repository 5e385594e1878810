import type { FilterPart } from '@gate-roster/core';
import type { Ref } from 'vue';
import { type UrlCode, useUrlState } from '../shell/url-state.ts';

/** A filter in the address is its JSON; the server says what is wrong with one that was cut off or made up. */
export const filterCode: UrlCode<FilterPart[]> = {
  read(text) {
    try {
      const parts: unknown = JSON.parse(text);
      return Array.isArray(parts) && parts.every(isPart) ? parts : undefined;
    } catch {
      return undefined;
    }
  },
  write: (parts) => (parts.length === 0 ? '' : JSON.stringify(parts)),
};
const isPart = (value: unknown): value is FilterPart => typeof value === 'object' && value !== null && 'part' in value;

/** The filter of a screen: it stays when one goes from view to view, and a link takes it along. */
export const useFilter = (): Ref<FilterPart[]> => useUrlState('filter', [], filterCode);
