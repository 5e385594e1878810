import type { ActivityResult } from '../courses/status.ts';

/* Work that people hand in, and what its marks make of an activity (product.md, Marks). */

export type FinishedBy = 'player' | 'marker' | 'learner';
export type Asked = 'no' | 'may' | 'must';

/** A line of a rubric and the most points it gives. */
export interface RubricLine {
  name: string;
  best: number;
}

/** What an activity asks to be handed in, and how it is marked. */
export interface HandIn {
  asked: string;
  words: Asked;
  link: Asked;
  files: Asked;
  /** The highest score; with a rubric the sum of its lines. */
  bestScore: number;
  /** From which score it is passed; null: it is finished once it is marked. */
  passScore: number | null;
  /** Skills that the work can show. */
  skillIds: number[];
  /** How often it can be handed in; null: as often as it is sent back or not passed. */
  tries: number | null;
  /** A piece that comes after the due day counts, and is done late. */
  lateCounts: boolean;
  rubric: RubricLine[];
}

export interface MarkedVersion {
  handedInAt: string;
  isLate: boolean;
  /** The mark in force; null: it waits. */
  mark: { verdict: 'sent back' } | { verdict: 'marked'; score: number } | null;
}

export interface WorkResult extends Omit<ActivityResult, 'activityId'> {
  tries: number;
  lastAt: string;
}

/** With a rubric the best score is what its lines add up to. */
export const bestOf = ({ bestScore, rubric }: Pick<HandIn, 'bestScore' | 'rubric'>): number =>
  rubric.length > 0 ? rubric.reduce((sum, { best }) => sum + best, 0) : bestScore;

export const isPassed = (score: number, { passScore }: Pick<HandIn, 'passScore'>): boolean => passScore === null || score >= passScore;

/**
 * What the versions of one piece come to: of those that passed the best counts, else the best of those that were marked. It is
 * dated when the version that counts was handed in, so that nobody is late because of a marker.
 * @param versions Those that were handed in, in any order.
 * @returns The score from 0 to 100; null when nothing was handed in.
 */
export function resultOfWork(versions: readonly MarkedVersion[], handIn: HandIn): WorkResult | null {
  const first = versions.map(({ handedInAt }) => handedInAt).sort()[0];
  if (first === undefined) return null;
  const best = bestOf(handIn);
  const marked = versions.flatMap(({ handedInAt, isLate, mark }) =>
    mark?.verdict === 'marked' && (!isLate || handIn.lateCounts)
      ? [{ handedInAt, score: mark.score, passed: isPassed(mark.score, handIn) }]
      : [],
  );
  const counting = marked.sort(
    (a, b) => Number(b.passed) - Number(a.passed) || b.score - a.score || a.handedInAt.localeCompare(b.handedInAt),
  )[0];
  return {
    finished: counting?.passed ?? false,
    score: counting ? (counting.score * 100) / best : null,
    tries: versions.length,
    lastAt: counting?.handedInAt ?? first,
  };
}

export type Handing =
  'nothing' | 'words missing' | 'link missing' | 'file missing' | 'no words' | 'no link' | 'no files' | 'no such skill' | 'no tries left';

/** What keeps a draft from being handed in; empty: nothing does. `earlier`: how often it was handed in before. */
export function whyNotHandIn(
  draft: { words: string; link: string | null; files: number; skillIds: readonly number[] },
  handIn: HandIn,
  earlier: number,
): Handing[] {
  const words = draft.words.trim() !== '';
  const link = draft.link !== null;
  const files = draft.files > 0;
  return [
    ...(!words && !link && !files ? (['nothing'] as const) : []),
    ...(handIn.words === 'must' && !words ? (['words missing'] as const) : []),
    ...(handIn.link === 'must' && !link ? (['link missing'] as const) : []),
    ...(handIn.files === 'must' && !files ? (['file missing'] as const) : []),
    ...(handIn.words === 'no' && words ? (['no words'] as const) : []),
    ...(handIn.link === 'no' && link ? (['no link'] as const) : []),
    ...(handIn.files === 'no' && files ? (['no files'] as const) : []),
    ...(draft.skillIds.some((id) => !handIn.skillIds.includes(id)) ? (['no such skill'] as const) : []),
    ...(handIn.tries !== null && earlier >= handIn.tries ? (['no tries left'] as const) : []),
  ];
}
