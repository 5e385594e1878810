import { z } from 'zod';
import { filter } from './filters.ts';
import { day, id, shortText, tagName } from './shapes.ts';

/** Of a course; an activity stands with its unit. */
const part = { unitId: id.nullable().optional(), activityId: id.nullable().optional() };

/** What sets a rule off; core says what each means (rules/rule.ts). */
export const ruleWhen = z.discriminatedUnion('when', [
  z.strictObject({ when: z.literal('enters'), groupId: id }),
  z.strictObject({ when: z.literal('leaves'), groupId: id }),
  z.strictObject({ when: z.literal('gets'), courses: z.array(id).min(1).max(50) }),
  z.strictObject({ when: z.literal('begins'), courseId: id, ...part }),
  z.strictObject({ when: z.literal('finishes'), courseId: id, unitId: id.nullable(), activityId: part.activityId }),
  z.strictObject({ when: z.literal('scores'), courseId: id, least: z.number().min(0).max(100), ...part }),
  z.strictObject({ when: z.literal('tagged'), tagId: id }),
  z.strictObject({ when: z.literal('idle'), days: z.number().int().min(1).max(3650) }),
  z.strictObject({
    when: z.literal('due'),
    courses: z.array(id).max(50),
    days: z.number().int().min(0).max(3650),
    side: z.enum(['before', 'after']),
  }),
  z.strictObject({ when: z.literal('day'), day }),
  z.strictObject({ when: z.literal('before end'), days: z.number().int().min(0).max(3650) }),
]);

export const ruleThing = z.discriminatedUnion('act', [
  z.strictObject({ act: z.literal('put in'), groupId: id }),
  z.strictObject({ act: z.literal('move'), fromId: id, intoId: id }),
  z.strictObject({ act: z.literal('take out'), groupId: id }),
  z.strictObject({ act: z.literal('tag'), name: tagName }),
  z.strictObject({ act: z.literal('open'), courseId: id }),
  z.strictObject({ act: z.literal('block'), courseId: id }),
  z.strictObject({ act: z.literal('more time'), courseId: id, days: z.number().int().min(1).max(3650) }),
  z.strictObject({ act: z.literal('give back a seat'), licenceId: id }),
  z.strictObject({ act: z.literal('write'), title: shortText, body: z.string().trim().max(10_000) }),
  z.strictObject({ act: z.literal('tell leaders'), words: z.string().trim().min(1).max(2000) }),
]);

export const ruleValues = z.strictObject({
  name: shortText,
  when: ruleWhen,
  filter,
  then: z.array(ruleThing).min(1).max(5),
  /** It does not act by itself: those it fits stand on a list until a leader says so. */
  asksFirst: z.boolean().optional(),
});
export type RuleValues = z.output<typeof ruleValues>;

export const ruleStates = ['off', 'later ones', 'those it fits too'] as const;

/** Kinds of change of this room. */
export const rulesChanges = [
  z.strictObject({
    kind: z.literal('set-rule'),
    /** null: a new one. */
    ruleId: id.nullable(),
    /** It speaks of people in the branch of this group. */
    groupId: id,
    values: ruleValues,
    /** Off; on for later ones only; or on, and it acts at once on those it fits today. */
    state: z.enum(ruleStates),
  }),
  z.strictObject({ kind: z.literal('end-rule'), ruleId: id }),
  /** A leader decides about people for whom a rule asks first: it acts on them, or leaves them alone for this occasion. */
  z.strictObject({ kind: z.literal('answer-rule'), ruleId: id, personIds: z.array(id).min(1).max(5000), acts: z.boolean() }),
] as const;
