import { z } from 'zod';
import { defineRoutes } from './route.ts';
import { id, idInPath, moment, named, shortText } from './shapes.ts';

/*
 * xAPI 1.0.3 (ADL): statements as an outside course platform sends them, and the platforms themselves. What the standard allows and is
 * not read is kept all the same.
 */

/** An internationalised resource identifier with its scheme. */
const iri = z
  .string()
  .max(2000)
  .regex(/^[A-Za-z][A-Za-z0-9+.-]*:\S+$/u, 'An address with its scheme');
const languageMap = z.record(z.string().regex(/^[A-Za-z]{1,8}(-[A-Za-z0-9]{1,8})*$/u, 'A language tag'), z.string().max(10_000));
const extensions = z.record(iri, z.unknown());

const account = z.strictObject({ homePage: iri, name: z.string().min(1).max(500) });
const identifiers = {
  mbox: z
    .string()
    .max(300)
    .regex(/^mailto:[^\s@]+@[^\s@]+$/u, 'mailto: and an address')
    .optional(),
  mbox_sha1sum: z
    .string()
    .regex(/^[0-9a-f]{40}$/iu)
    .optional(),
  openid: iri.optional(),
  account: account.optional(),
};
const isOnePerson = (given: object): boolean => Object.keys(identifiers).filter((key) => key in given).length === 1;
const agent = z
  .strictObject({ objectType: z.literal('Agent').optional(), name: z.string().max(500).optional(), ...identifiers })
  .refine(isOnePerson, 'Exactly one of mbox, mbox_sha1sum, openid and account');
export type StatementAgent = z.output<typeof agent>;
const group = z.strictObject({
  objectType: z.literal('Group'),
  name: z.string().max(500).optional(),
  ...identifiers,
  member: z.array(agent).max(1000).optional(),
});

const interaction = z.array(z.strictObject({ id: z.string().max(1000), description: languageMap.optional() })).max(500);
const activity = z.strictObject({
  objectType: z.literal('Activity').optional(),
  id: iri,
  definition: z
    .strictObject({
      name: languageMap.optional(),
      description: languageMap.optional(),
      type: iri.optional(),
      moreInfo: iri.optional(),
      interactionType: z
        .enum(['true-false', 'choice', 'fill-in', 'long-fill-in', 'matching', 'performance', 'sequencing', 'likert', 'numeric', 'other'])
        .optional(),
      correctResponsesPattern: z.array(z.string().max(10_000)).max(500).optional(),
      choices: interaction.optional(),
      scale: interaction.optional(),
      source: interaction.optional(),
      target: interaction.optional(),
      steps: interaction.optional(),
      extensions: extensions.optional(),
    })
    .optional(),
});
const statementRef = z.strictObject({ objectType: z.literal('StatementRef'), id: z.uuid() });

const score = z
  .strictObject({
    scaled: z.number().min(-1).max(1).optional(),
    raw: z.number().optional(),
    min: z.number().optional(),
    max: z.number().optional(),
  })
  .refine(({ raw, min = -Infinity, max = Infinity }) => min <= max && (raw === undefined || (raw >= min && raw <= max)), 'Out of range');

const activities = z.union([activity.transform((each) => [each]), z.array(activity).max(100)]);
const context = z.strictObject({
  registration: z.uuid().optional(),
  instructor: z.union([agent, group]).optional(),
  team: group.optional(),
  contextActivities: z
    .strictObject({
      parent: activities.optional(),
      grouping: activities.optional(),
      category: activities.optional(),
      other: activities.optional(),
    })
    .optional(),
  revision: z.string().max(1000).optional(),
  platform: z.string().max(1000).optional(),
  language: z.string().max(50).optional(),
  statement: statementRef.optional(),
  extensions: extensions.optional(),
});

const attachment = z.strictObject({
  usageType: iri,
  display: languageMap,
  description: languageMap.optional(),
  contentType: z.string().max(200),
  length: z.number().int().min(0),
  sha2: z.string().regex(/^[0-9a-f]{64}$/iu),
  /** Where it lies: bodies of attachments are not taken. */
  fileUrl: iri,
});

/** One statement of xAPI 1.0.3. Agents and statements as its object, and groups as actors, are valid and not taken here. */
export const workStatement = z
  .strictObject({
    id: z.uuid().optional(),
    actor: agent,
    verb: z.strictObject({ id: iri, display: languageMap.optional() }),
    object: z.union([statementRef, activity]),
    result: z
      .strictObject({
        score: score.optional(),
        success: z.boolean().optional(),
        completion: z.boolean().optional(),
        response: z.string().max(20_000).optional(),
        duration: z.iso.duration().optional(),
        extensions: extensions.optional(),
      })
      .optional(),
    context: context.optional(),
    timestamp: z.iso.datetime({ offset: true }).optional(),
    /** What only the receiver says; what is sent is not kept. */
    stored: z.iso.datetime({ offset: true }).optional(),
    authority: z.union([agent, group]).optional(),
    version: z
      .string()
      .regex(/^1\.0(\.\d+)?$/u, '1.0.x')
      .optional(),
    attachments: z.array(attachment).max(100).optional(),
  })
  .refine(
    ({ verb, object }) => !verb.id.endsWith('/voided') || ('objectType' in object && object.objectType === 'StatementRef'),
    'What is voided is a statement',
  );
export type WorkStatement = z.output<typeof workStatement>;

export const mostStatements = 1000;

/** A statement as it is given back. */
const toldStatement = z.looseObject({
  id: z.uuid(),
  actor: z.looseObject({}),
  verb: z.looseObject({ id: z.string() }),
  object: z.looseObject({}),
  timestamp: moment,
  stored: moment,
  authority: z.looseObject({}),
  version: z.string(),
});

export const statementRoutes = defineRoutes({
  statementsAbout: {
    method: 'GET',
    path: '/xapi/about',
    room: 'courses',
    who: 'anyone',
    summary: 'xAPI: the versions that are spoken',
    response: z.object({ version: z.array(z.string()) }),
  },
  sendStatements: {
    method: 'POST',
    path: '/xapi/statements',
    room: 'progress',
    who: 'source',
    summary: 'xAPI: one or many statements, all of them or none; the answer has their ids in order',
    body: z.union([workStatement.transform((one) => [one]), z.array(workStatement).min(1).max(mostStatements)]),
    response: z.array(z.uuid()),
  },
  putStatement: {
    method: 'PUT',
    path: '/xapi/statements',
    room: 'progress',
    who: 'source',
    summary: 'xAPI: one statement under its id',
    query: z.strictObject({ statementId: z.uuid() }),
    body: workStatement,
    response: 'nothing',
  },
  readStatement: {
    method: 'GET',
    path: '/xapi/statements',
    room: 'progress',
    who: 'source',
    summary: 'xAPI: one statement that the same platform sent; one that was voided only by that name',
    query: z.object({ statementId: z.uuid().optional(), voidedStatementId: z.uuid().optional() }).strict(),
    response: toldStatement,
  },
});

/** An outside course platform, which sends what learners did there. */
export const platform = z.object({
  id,
  name: z.string(),
  /** The user name of its Basic credentials. */
  key: z.string(),
  hasPassword: z.boolean(),
  allCourses: z.boolean(),
  /** On which it may report: those that come from it, and those that were named for it. */
  courses: z.array(named),
  /** In the last 30 days. */
  statements: z.number().int(),
  notCounted: z.number().int(),
  lastAt: moment.nullable(),
  /** It comes with the application: nothing of it can be altered. */
  isOwn: z.boolean(),
});
export type Platform = z.output<typeof platform>;

const platformValues = z.strictObject({ name: shortText, allCourses: z.boolean(), courses: z.array(id).max(1000) });

export const platformRoutes = defineRoutes({
  platforms: {
    method: 'GET',
    path: '/api/v1/platforms',
    room: 'courses',
    who: 'administrator',
    summary: 'Course platforms that send statements, and what came from them',
    response: z.object({ platforms: z.array(platform), address: z.string(), courses: z.array(named) }),
  },
  makePlatform: {
    method: 'POST',
    path: '/api/v1/platforms',
    room: 'courses',
    who: 'administrator',
    summary: 'A platform may send statements from now on; its password is told once',
    body: platformValues,
    response: z.object({ id, key: z.string(), password: z.string() }),
  },
  editPlatform: {
    method: 'PUT',
    path: '/api/v1/platforms/:platformId',
    room: 'courses',
    who: 'administrator',
    summary: 'Its name, and the courses on which it may report',
    params: z.object({ platformId: idInPath }),
    body: platformValues,
    response: 'nothing',
  },
  platformPassword: {
    method: 'POST',
    path: '/api/v1/platforms/:platformId/password',
    room: 'courses',
    who: 'administrator',
    summary: 'A new password, told once; the old one works no more',
    params: z.object({ platformId: idInPath }),
    response: z.object({ password: z.string() }),
  },
  endPlatform: {
    method: 'DELETE',
    path: '/api/v1/platforms/:platformId',
    room: 'courses',
    who: 'administrator',
    summary: 'Nothing more is taken from it; what it sent stays',
    params: z.object({ platformId: idInPath }),
    response: 'nothing',
  },
});
