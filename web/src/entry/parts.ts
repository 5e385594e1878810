/** The parts of the area Ways in, in the order in which people need them. */
export const entryParts = ['asking', 'codes', 'invitations', 'file', 'letters'] as const;
export type EntryPart = (typeof entryParts)[number];
