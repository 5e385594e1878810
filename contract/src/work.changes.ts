import { z } from 'zod';
import { id, shortText } from './shapes.ts';

const asked = z.enum(['no', 'may', 'must']);
const skillIds = z.array(id).max(40);

/** What an activity asks to be handed in, and how it is marked; core says what follows from it. */
export const handIn = z
  .strictObject({
    asked: z.string().trim().max(2000),
    words: asked,
    link: asked,
    files: asked,
    bestScore: z.number().int().min(1).max(1000),
    passScore: z.number().int().min(0).max(1000).nullable(),
    skillIds,
    tries: z.number().int().min(1).max(50).nullable(),
    lateCounts: z.boolean(),
    rubric: z.array(z.strictObject({ name: shortText, best: z.number().int().min(1).max(100) })).max(8),
  })
  .refine(({ words, link, files }) => [words, link, files].some((each) => each !== 'no'), 'Asks for nothing')
  .refine(
    ({ rubric, bestScore }) => rubric.length === 0 || rubric.reduce((sum, { best }) => sum + best, 0) === bestScore,
    'The best score is the sum of the lines',
  )
  .refine(({ passScore, bestScore }) => passScore === null || passScore <= bestScore, 'Passes beyond the best score');

/** What an activity of our own holds, to be read or opened before it is ticked off. */
export const activityContent = z
  .strictObject({
    words: z.string().trim().max(4000),
    link: z
      .url({ protocol: /^https?$/u, hostname: z.regexes.domain })
      .max(2000)
      .nullable(),
    uploadId: id.nullable(),
  })
  .refine(({ words, link, uploadId }) => words !== '' || link !== null || uploadId !== null, 'Says nothing');
export type ActivityContent = z.output<typeof activityContent>;

/** Who finishes an activity; one that is marked says what is to be handed in. */
export const finishing = {
  finishedBy: z.enum(['player', 'marker', 'learner']).default('player'),
  handIn: handIn.nullable().default(null),
  content: activityContent.nullable().default(null),
};
export const isFinishing = (given: { finishedBy: string; handIn: unknown; content: unknown }): boolean =>
  (given.finishedBy === 'marker') === (given.handIn !== null) && (given.finishedBy !== 'player' || given.content === null);

export const mostMarksAtOnce = 500;

const givenMark = z
  .strictObject({
    versionId: id,
    verdict: z.enum(['sent back', 'marked']),
    /** From 0 to the activity's best; null when it is sent back. */
    score: z.number().min(0).max(1000).nullable(),
    /** Points for each line of the rubric; null where there is none. */
    points: z.array(z.number().int().min(0).max(100)).max(8).nullable(),
    skillIds,
    comment: z.string().trim().max(4000),
    /** The mark that it corrects; null: the piece had none. */
    corrects: id.nullable(),
  })
  .refine(({ verdict, score }) => (verdict === 'marked') === (score !== null), 'A mark has a score; a piece sent back has none');
export type GivenMark = z.output<typeof givenMark>;

/** Kinds of change of this room. */
export const workChanges = [
  z.strictObject({ kind: z.literal('mark-work'), marks: z.array(givenMark).min(1).max(mostMarksAtOnce) }),
  /** The skills of a course, or (null) those that any course can show: those left out are no longer offered. */
  z.strictObject({
    kind: z.literal('set-skills'),
    courseId: id.nullable(),
    skills: z.array(z.strictObject({ id: id.nullable(), name: shortText })).max(100),
  }),
] as const;
