/** What two names are compared by: trimmed, inner spaces joined, Unicode NFC, without case. */
export function nameKey(name: string): string {
  return tidyName(name).toLowerCase();
}

/** A name as it is kept. */
export function tidyName(name: string): string {
  return name.normalize('NFC').trim().replace(/\s+/gu, ' ');
}

export const longestGroupName = 120;
