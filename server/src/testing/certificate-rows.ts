import { type Expected, type Ids, inBranch, is, nowhere } from './looks-of-everybody.ts';
import { gullhaven } from './outside-changes.ts';

const ofForm = { groupId: gullhaven, formId: 1 };
/** Seen and given by who holds the power to mark. */
const byMarkers = { ...inBranch, helper: 404, auditor: 404 };

/** Routes of certificates as everybody. The first of the demo is Gullhaven's, the second Ternholm's. */
export const certificateRows = {
  certificates: [{ given: () => ({ params: { groupId: gullhaven } }), expected: byMarkers }],
  certificateHolders: [
    { given: () => ({ params: ofForm }), expected: byMarkers },
    { given: () => ({ params: { ...ofForm, formId: 2 } }), expected: is(200, 404, 404, 404, 404, 401) },
  ],
  certificatesFile: [{ given: () => ({ params: ofForm }), expected: byMarkers }],
  myCertificates: [{ given: () => ({}), expected: is(200, 200, 200, 200, 200, 401) }],
  myCertificateFile: [{ given: () => ({ params: { number: 'AAAACCCCDDDD' } }), expected: nowhere }],
  showMyName: [{ given: () => ({ params: { number: 'AAAACCCCDDDD' }, body: { shown: true } }), expected: nowhere }],
  checkCertificate: [{ given: () => ({ params: { number: 'AAAACCCCDDDD' } }), expected: is(404, 404, 404, 404, 404, 404) }],
} satisfies Record<string, { given: (ids: Ids) => object; expected: Expected }[]>;
