/** What was typed for a piece and not saved: numbers as they were typed. */
export interface MarkDraft {
  score: string;
  points: string[];
  skillIds: number[];
  comment: string;
}

/** By version of work, while the page is open. */
export const markDrafts = new Map<number, MarkDraft>();
