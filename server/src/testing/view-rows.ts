import { plainView } from '@gate-roster/contract';
import { type Expected, type Ids, inBranch, is, nowhere } from './looks-of-everybody.ts';
import { gullhaven } from './outside-changes.ts';

const inScope = { params: { groupId: gullhaven } };
const byLeaders = is(200, 200, 200, 200, 404, 401);
const link = { title: 'Gullhaven', shown: plainView, says: [], withNames: false, frozen: false, lastDay: '2999-01-01' };

/** Routes of kept and shared views as everybody. A link is made by who may take figures away. */
export const viewRows = {
  learnerStory: [
    { given: ({ member }) => ({ params: { personId: member } }), expected: inBranch },
    { given: ({ elsewhere }) => ({ params: { personId: elsewhere } }), expected: is(200, 404, 404, 200, 404, 401) },
  ],
  keptViews: [{ given: () => ({}), expected: byLeaders }],
  keepView: [{ given: () => ({ ...inScope, body: { name: 'All', forLeaders: false, shown: plainView } }), expected: inBranch }],
  keptTable: [{ given: () => ({ params: { viewId: 999_999 } }), expected: nowhere }],
  dropKeptView: [{ given: () => ({ params: { viewId: 999_999 } }), expected: nowhere }],
  viewLetter: [{ given: () => ({ params: { viewId: 999_999 } }), expected: nowhere }],
  sendViewByLetter: [{ given: () => ({ params: { viewId: 999_999 }, body: { every: 'week', readers: [1] } }), expected: nowhere }],
  endViewLetter: [{ given: () => ({ params: { viewId: 999_999 } }), expected: nowhere }],
  openReportLetter: [{ given: () => ({ params: { letterId: 999_999 } }), expected: nowhere }],
  startWithView: [{ given: () => ({ body: { viewId: 999_999 } }), expected: nowhere }],
  sharedViews: [{ given: () => ({}), expected: byLeaders }],
  shareView: [{ given: () => ({ ...inScope, body: link }), expected: { ...inBranch, helper: 404, auditor: 200 } }],
  endSharedView: [{ given: () => ({ params: { viewId: 999_999 } }), expected: nowhere }],
  openSharedView: [{ given: () => ({ body: { key: 'k'.repeat(32) } }), expected: is(410, 410, 410, 410, 410, 410) }],
} satisfies Record<string, { given: (ids: Ids) => object; expected: Expected }[]>;
