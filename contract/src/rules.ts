import { z } from 'zod';
import { defineRoutes } from './route.ts';
import { ruleValues } from './rules.changes.ts';
import { groupParams, id, idInPath, moment, named, scopeQuery } from './shapes.ts';

export const ruleOutcomes = ['acted', 'before', 'nothing to do', 'chain', 'undo', 'asked', 'left alone'] as const;

export const ruleRow = z.object({
  id,
  group: named,
  values: ruleValues,
  isOn: z.boolean(),
  onSince: moment.nullable(),
  pausedFor: z.enum(['powers', 'gone']).nullable(),
  /** null: somebody whose word goes further than the reader’s. */
  by: z.string().nullable(),
  /** How often it acted, and when last. */
  acted: z.number().int(),
  lastAt: moment.nullable(),
  /** People for whom it waits until a leader says so; some of them by name. */
  waiting: z.object({ count: z.number().int(), people: z.array(named) }),
  may: z.object({ edit: z.boolean(), end: z.boolean(), answer: z.boolean() }),
});
export type RuleRow = z.output<typeof ruleRow>;

/** Names of what rules speak of, as far as the reader may know them. */
const ruleNames = z.object({
  groups: z.array(named),
  courses: z.array(named),
  units: z.array(named),
  tags: z.array(named),
  activities: z.array(named),
  licences: z.array(named),
});
export type RuleNames = z.output<typeof ruleNames>;

const ruleDone = z.object({
  id,
  person: named,
  at: moment,
  outcome: z.enum(ruleOutcomes),
  changeId: id.nullable(),
});

export const whyNotReasons = [
  'off',
  'paused',
  'not in branch',
  'not happened',
  'before switched on',
  'acted',
  'undone',
  'nothing to do',
  'chain',
  'filter',
  'too often today',
  'soon',
  'asked',
  'left alone',
] as const;

export const ruleRoutes = defineRoutes({
  rules: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/rules',
    room: 'rules',
    who: 'leader',
    summary: 'Automatic rules of the scope, and of the groups above it that the reader may know of',
    params: groupParams,
    query: scopeQuery,
    response: z.object({
      rules: z.array(ruleRow),
      above: z.array(ruleRow),
      names: ruleNames,
      may: z.object({ make: z.boolean() }),
    }),
  },
  ruleActs: {
    method: 'GET',
    path: '/api/v1/rules/:ruleId/acts',
    room: 'rules',
    who: 'leader',
    summary: 'What a rule did last, a page at a time',
    params: z.object({ ruleId: idInPath }),
    query: z.strictObject({ after: idInPath.optional() }),
    response: z.object({ acts: z.array(ruleDone), next: id.nullable() }),
  },
  rehearseRule: {
    method: 'POST',
    path: '/api/v1/groups/:groupId/rules/rehearsal',
    room: 'rules',
    who: 'leader',
    summary: 'Whom a rule fits today, and how often it would have been set off in the last 90 days',
    params: groupParams,
    body: z.strictObject({ values: ruleValues }),
    response: z.object({
      fits: z.number().int(),
      /** Some of them, latest first; `at` null: no moment is kept. */
      people: z.array(z.object({ id, name: z.string(), at: moment.nullable() })),
      /** The last 13 weeks, oldest first, whoever fits the filter today or not; null: its past is not kept. */
      weeks: z.array(z.number().int()).nullable(),
      happened: z.object({ people: z.number().int(), days: z.number().int() }),
    }),
  },
  whyNot: {
    method: 'GET',
    path: '/api/v1/rules/:ruleId/people/:personId',
    room: 'rules',
    who: 'leader',
    summary: 'Why a rule acted on somebody, or did not',
    params: z.object({ ruleId: idInPath, personId: idInPath }),
    response: z.object({ reason: z.enum(whyNotReasons), at: moment.nullable() }),
  },
});
