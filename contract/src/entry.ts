import { type JoinCodeState, type KnownPerson, letterKinds, powers, rosterFields } from '@gate-roster/core';
import { z } from 'zod';
import { joinAsks, rosterRow, rowsAtOnce } from './entry.changes.ts';
import { joinOffer } from './join.ts';
import { defineRoutes } from './route.ts';
import { groupParams, id, idInPath, moment, named, numberInAddress, scopeQuery } from './shapes.ts';

const codeState = z.enum(['open', 'paused', 'not yet', 'ended', 'full']) satisfies z.ZodType<JoinCodeState>;
const codeParams = z.object({ codeId: idInPath });

/** A group that a code opens, with the names above it as far as they may be known. */
const opened = z.object({ id, name: z.string(), path: z.array(z.string()) });

export const joinCode = z.object({
  id,
  code: z.string(),
  isChosen: z.boolean(),
  state: codeState,
  note: z.string().nullable(),
  groups: z.array(opened),
  tags: z.array(z.string()),
  powers: z.array(z.enum(powers)).nullable(),
  firstAt: moment.nullable(),
  lastAt: moment.nullable(),
  useLimit: z.number().int().nullable(),
  uses: z.number().int(),
  emailEnding: z.string().nullable(),
  needsDecision: z.boolean(),
  paused: z.boolean(),
  asks: joinAsks,
  /** What coming in costs without tax, in minor units; null: nothing. */
  price: z.number().int().nullable(),
  /** How many hold one of its uses while they pay. */
  paying: z.number().int(),
  youngLearners: z.boolean(),
  madeBy: z.string().nullable(),
  madeAt: moment,
  /** May the reader change it? */
  mine: z.boolean(),
});
export type JoinCode = z.output<typeof joinCode>;

/** One of a code's questions, as it was asked, and what was answered. */
export const answered = z.object({ label: z.string(), answer: z.string() });

export const joinRequest = z.object({
  /** The rows that stand for it: one for each group. */
  ids: z.array(id),
  personId: id,
  name: z.string(),
  email: z.string().nullable(),
  signInName: z.string().nullable(),
  /** An account that is not known yet. */
  isNew: z.boolean(),
  groups: z.array(opened),
  code: z.string(),
  askedAt: moment,
  answers: z.array(answered),
  idNumber: z.string().nullable(),
  matches: z.array(
    z.object({ id, name: z.string(), why: z.enum(['ID number', 'name']), idNumber: z.string().nullable(), group: z.string().nullable() }),
  ),
});
export type JoinRequest = z.output<typeof joinRequest>;

export const sentInvitation = z.object({
  id,
  email: z.string(),
  name: z.string(),
  group: named,
  leads: z.boolean(),
  state: z.enum(['on its way', 'sent', 'opened', 'joined', 'bounced', 'over']),
  at: moment,
  until: moment,
  trouble: z.string().nullable(),
});
export type SentInvitation = z.output<typeof sentInvitation>;

export const letterOfBranch = z.object({
  kind: z.enum(letterKinds),
  subject: z.string(),
  body: z.string(),
  /** Where the text comes from; null: the one to begin with. */
  from: named.nullable(),
});
export type LetterOfBranch = z.output<typeof letterOfBranch>;

export const knownPerson = z.object({
  id,
  givenName: z.string(),
  familyName: z.string(),
  email: z.string().nullable(),
  idNumber: z.string().nullable(),
  signInName: z.string().nullable(),
  guardianEmail: z.string().nullable(),
  nameHidden: z.boolean(),
  isAdministrator: z.boolean(),
  isTheirs: z.boolean(),
  groups: z.array(id),
  leads: z.array(id),
  tags: z.array(z.string()),
}) satisfies z.ZodType<KnownPerson>;

export const keptMapping = z.object({
  id,
  name: z.string(),
  headersKey: z.string(),
  columns: z.array(z.enum(rosterFields).nullable()).max(200),
  dateOrder: z.enum(['dayFirst', 'monthFirst', 'yearFirst']).nullable(),
});
export type KeptMapping = z.output<typeof keptMapping>;
export const keptMend = z.strictObject({ field: z.enum(rosterFields), was: z.string().max(2000), becomes: z.string().max(2000) });
export type KeptMend = z.output<typeof keptMend>;

export const entryRoutes = defineRoutes({
  codes: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/codes',
    room: 'entry',
    who: 'leader',
    summary: 'Join codes that open groups of the scope',
    params: groupParams,
    query: scopeQuery,
    response: z.object({
      codes: z.array(joinCode),
      may: z.object({ make: z.boolean(), makeForLeaders: z.boolean() }),
      /** In which prices are; null: there is no payment service, so a code can have none. */
      currency: z.string().nullable(),
    }),
  },
  codeUses: {
    method: 'GET',
    path: '/api/v1/codes/:codeId/uses',
    room: 'entry',
    who: 'leader',
    summary: 'Who came in by a code, latest first',
    params: codeParams,
    query: z.strictObject({ after: idInPath.optional() }),
    response: z.object({
      uses: z.array(z.object({ personId: id, name: z.string(), at: moment, answers: z.array(answered) })),
      next: id.nullable(),
    }),
  },
  codeUsesFile: {
    method: 'GET',
    path: '/api/v1/codes/:codeId/uses.csv',
    room: 'entry',
    who: 'leader',
    summary: 'The same, with what each answered, as a CSV file',
    params: codeParams,
    response: 'csv',
  },
  door: {
    method: 'GET',
    path: '/api/v1/codes/:codeId/door',
    room: 'entry',
    who: 'leader',
    summary: 'What a door sheet shows: what one joins, who leads it, how many have come in',
    params: codeParams,
    response: joinOffer.pick({ code: true, organisation: true, groups: true, courses: true, until: true, price: true }).extend({
      link: z.string(),
      uses: z.number().int(),
      useLimit: z.number().int().nullable(),
      state: codeState,
    }),
  },
  requests: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/requests',
    room: 'entry',
    who: 'leader',
    summary: 'Who asks to join groups of the scope, the longest-waiting first',
    params: groupParams,
    query: scopeQuery,
    response: z.object({ requests: z.array(joinRequest), more: z.number().int() }),
  },
  waiting: {
    method: 'GET',
    path: '/api/v1/requests/waiting',
    room: 'entry',
    who: 'leader',
    summary: 'How many ask to join where the reader decides',
    response: z.object({ people: z.number().int() }),
  },
  invitations: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/invitations',
    room: 'entry',
    who: 'leader',
    summary: 'Invitations to groups of the scope, and what came of them',
    params: groupParams,
    query: scopeQuery.extend({ after: idInPath.optional() }),
    response: z.object({ invitations: z.array(sentInvitation), next: id.nullable(), out: z.number().int() }),
  },
  letters: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/letters',
    room: 'messages',
    who: 'leader',
    summary: 'The texts of letters as they count for a group',
    params: groupParams,
    response: z.object({
      letters: z.array(letterOfBranch),
      /** What counts here; `from` null: set above the reader's branches, or nowhere. */
      look: z.object({ senderName: z.string().nullable(), logoId: id.nullable(), from: named.nullable() }),
      may: z.object({ edit: z.boolean() }),
    }),
  },
  entryFigures: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/entry',
    room: 'entry',
    who: 'leader',
    summary: 'The ways into a scope in numbers',
    params: groupParams,
    query: scopeQuery,
    response: z.object({ asking: z.number().int(), codesOpen: z.number().int(), invitationsOut: z.number().int() }),
  },
  myRequests: {
    method: 'GET',
    path: '/api/v1/my/requests',
    room: 'entry',
    who: 'signed in',
    summary: 'What one asks to join oneself, and what one has paid to come in',
    response: z.object({
      paid: z.array(z.object({ number: id, groups: z.array(z.string()), total: z.number().int(), currency: z.string() })),
      requests: z.array(
        z.object({
          group: z.string(),
          askedAt: moment,
          state: z.enum(['asking', 'turned away']),
          word: z.string().nullable(),
          deciders: z.array(z.string()),
        }),
      ),
    }),
  },
  rosterKnown: {
    method: 'POST',
    path: '/api/v1/groups/:groupId/roster/known',
    room: 'entry',
    who: 'leader',
    summary: 'Whom rows of a file may mean, as far as the reader may know, for checking in the browser',
    params: groupParams,
    body: z.strictObject({
      emails: z.array(z.string().max(2000)).max(rowsAtOnce),
      idNumbers: z.array(z.string().max(2000)).max(rowsAtOnce),
      signInNames: z.array(z.string().max(2000)).max(rowsAtOnce),
    }),
    response: z.object({
      known: z.array(knownPerson),
      takenSignInNames: z.array(z.string()),
      /** Of this issuer, and of somebody whom the reader may not see. */
      takenIdNumbers: z.array(z.string()),
      presets: z.array(z.enum(['head', 'helper', 'auditor'])),
    }),
  },
  putRosterPart: {
    method: 'PUT',
    path: '/api/v1/roster-files/:fileId/parts/:part',
    room: 'entry',
    who: 'leader',
    summary: 'Put rows of a large file on the server, a part at a time; kept for seven days',
    params: z.object({ fileId: z.uuid(), part: numberInAddress(0, 2000) }),
    body: z.strictObject({ rows: z.array(rosterRow).min(1).max(rowsAtOnce) }),
    response: 'nothing',
  },
  keptMappings: {
    method: 'GET',
    path: '/api/v1/my/mappings',
    room: 'entry',
    who: 'leader',
    summary: 'How one’s own files read, and what one mended before',
    response: z.object({ mappings: z.array(keptMapping), mends: z.array(keptMend) }),
  },
  keepMapping: {
    method: 'PUT',
    path: '/api/v1/my/mappings',
    room: 'entry',
    who: 'leader',
    summary: 'Keep how a file reads, under a name',
    body: z.strictObject({
      name: z.string().trim().min(1).max(100),
      headersKey: z.string().max(4000),
      columns: keptMapping.shape.columns,
      dateOrder: keptMapping.shape.dateOrder,
    }),
    response: 'nothing',
  },
  dropMapping: {
    method: 'DELETE',
    path: '/api/v1/my/mappings/:mappingId',
    room: 'entry',
    who: 'leader',
    summary: 'Drop a kept mapping',
    params: z.object({ mappingId: idInPath }),
    response: 'nothing',
  },
  keepMends: {
    method: 'PUT',
    path: '/api/v1/my/mends',
    room: 'entry',
    who: 'leader',
    summary: 'Keep what was mended in columns that hold nothing of a person, to propose it next time',
    body: z.strictObject({ mends: z.array(keptMend).max(500) }),
    response: 'nothing',
  },
});
