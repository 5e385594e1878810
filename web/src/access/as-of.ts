import type { Ref } from 'vue';
import { type UrlCode, useUrlState } from '../shell/url-state.ts';

export const dayCode: UrlCode<string | null> = {
  read: (text) => (/^\d{4}-\d{2}-\d{2}$/u.test(text) && !Number.isNaN(Date.parse(text)) ? text : undefined),
  write: (value) => value ?? '',
};

/** The day that is looked at, kept in the address; null: today. */
export const useAsOf = (): Ref<string | null> => useUrlState('day', null, dayCode);
