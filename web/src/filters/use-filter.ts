import type { FilterPart } from '@gate-roster/core';
import type { Ref } from 'vue';
import { type UrlCode, useUrlState } from '../shell/url-state.ts';
import { newParts } from './new-parts.ts';

/** A filter in the address is its JSON. One that was cut off, or is of another time, is none; the chips say so. */
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

/** The same fields as a new part of that name has, each of the same kind; days may be there or not. */
function isPart(value: unknown): value is FilterPart {
  if (typeof value !== 'object' || value === null || !('part' in value)) return false;
  const model: object | undefined = newParts[value.part as keyof typeof newParts];
  if (!model) return false;
  const isAlike = (was: unknown, is: unknown): boolean =>
    was === null ? is === null || typeof is === 'string' : Array.isArray(was) ? Array.isArray(is) : typeof was === typeof is;
  return (
    Object.keys(value).length === Object.keys(model).length &&
    Object.entries(model).every(([key, was]) => key in value && isAlike(was, value[key as keyof typeof value]))
  );
}

/** The filter of a screen: it stays when one goes from view to view, and a link takes it along. */
export const useFilter = (): Ref<FilterPart[]> => useUrlState('filter', [], filterCode);
