import { nameKey, tidyName } from '../groups/group-name.ts';

/** Tags as they are kept: without spaces around them, none that is empty, and each once, however it is written. */
export function tidyTags(tags: readonly string[]): string[] {
  const found = new Map<string, string>();
  for (const tag of tags.map(tidyName)) if (tag !== '' && !found.has(nameKey(tag))) found.set(nameKey(tag), tag);
  return [...found.values()];
}
