import { z } from 'zod';
import { certificateValues } from './certificates.changes.ts';
import { defineRoutes } from './route.ts';
import { day, groupParams, id, idInPath, moment, named, scopeQuery } from './shapes.ts';

const form = z.object({
  id,
  group: named,
  /** Name of the course or set; null: all that the group opens. */
  about: z.string().nullable(),
  values: certificateValues,
  /** In the scope: who has one, and who has earned one and has none. */
  given: z.number().int(),
  earned: z.number().int(),
  mayEdit: z.boolean(),
});
export type CertificateForm = z.output<typeof form>;

export const certificateLists = ['given', 'earned', 'withdrawn'] as const;
const states = z.enum(['valid', 'expired', 'withdrawn', 'replaced']);

const holder = z.object({
  personId: id,
  givenName: z.string(),
  familyName: z.string(),
  day,
  score: z.number().nullable(),
  /** null: it is not given yet. */
  number: z.string().nullable(),
  state: states.nullable(),
  validUntil: day.nullable(),
  givenAt: moment.nullable(),
  /** null: by itself. */
  givenBy: z.string().nullable(),
});
export type CertificateHolder = z.output<typeof holder>;

const myCertificate = z.object({
  number: z.string(),
  title: z.string(),
  about: z.string(),
  day,
  validUntil: day.nullable(),
  state: states,
  nameShown: z.boolean(),
});
export type MyCertificate = z.output<typeof myCertificate>;

const numberParams = z.object({ number: z.string().min(1).max(40) });
const paper = z.enum(['A4', 'Letter']).default('A4');

export const certificateRoutes = defineRoutes({
  certificates: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/certificates',
    room: 'certificates',
    who: 'leader',
    summary: 'Certificates that learners of the scope can be given, and how many have them',
    params: groupParams,
    query: scopeQuery,
    response: z.object({ forms: z.array(form), mayGive: z.boolean() }),
  },
  certificateHolders: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/certificates/:formId',
    room: 'certificates',
    who: 'leader',
    summary: 'Who of the scope has a certificate, has earned it, or had it withdrawn',
    params: groupParams.extend({ formId: idInPath }),
    query: scopeQuery.extend({ list: z.enum(certificateLists).default('given'), after: idInPath.optional() }),
    response: z.object({ people: z.array(holder), next: id.nullable() }),
  },
  certificatesFile: {
    method: 'GET',
    path: '/api/v1/groups/:groupId/certificates/:formId/file',
    room: 'certificates',
    who: 'leader',
    summary: 'All certificates of a kind in the scope, or one of them, as one PDF',
    params: groupParams.extend({ formId: idInPath }),
    query: scopeQuery.extend({ paper, number: z.string().max(40).optional() }),
    response: 'file',
  },
  myCertificates: {
    method: 'GET',
    path: '/api/v1/my/certificates',
    room: 'certificates',
    who: 'signed in',
    summary: 'The own certificates, latest first',
    response: z.object({ certificates: z.array(myCertificate) }),
  },
  myCertificateFile: {
    method: 'GET',
    path: '/api/v1/my/certificates/:number/file',
    room: 'certificates',
    who: 'signed in',
    summary: 'An own certificate as a PDF',
    params: numberParams,
    query: z.strictObject({ paper }),
    response: 'file',
  },
  showMyName: {
    method: 'POST',
    path: '/api/v1/my/certificates/:number/name',
    room: 'certificates',
    who: 'signed in',
    summary: 'Let the check page show the own name, or not',
    params: numberParams,
    body: z.strictObject({ shown: z.boolean() }),
    response: z.object({}),
  },
  checkCertificate: {
    method: 'GET',
    path: '/api/v1/certificates/:number',
    room: 'certificates',
    who: 'anyone',
    summary: 'What is true of a certificate, by its number',
    params: numberParams,
    response: z.object({
      number: z.string(),
      state: states,
      about: z.string(),
      organisation: z.string(),
      day,
      validUntil: day.nullable(),
      /** null: the holder has not allowed it. */
      name: z.string().nullable(),
    }),
  },
});
