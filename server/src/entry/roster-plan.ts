import type { RosterPerson, WishedGroup } from '@gate-roster/core';

/** Of the whole work; the rest is writing. */
export const checkShare = 0.3;

/** What a roster comes to: worked out for the look, and for writing. */
export interface Roster {
  issuer: number;
  byLeader: boolean;
  cameBy: 'file' | 'hand';
  into: number;
  /** Rows that were on the server already: their passwords are hashes. */
  fileId: string | null;
  /** New and known people who come in or change. */
  people: RosterPerson[];
  newGroups: WishedGroup[];
  /** Membership rows that end because their people are not in the list. */
  leaving: { row_id: number; person_id: number; group_id: number }[];
  write: { at: string | null } | null;
}
