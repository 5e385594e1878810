import type { JoinOffer } from '@gate-roster/contract';
import { afterEach, beforeEach, expect, test } from '@jest/globals';
import { createPinia, setActivePinia } from 'pinia';
import { answerWith } from '../testing/answers.ts';
import * as words from '../words.ts';
import { type Joining, type JoinStep, useJoin } from './use-join.ts';

let server: ReturnType<typeof answerWith>;
let paidAt: (string | null)[];
beforeEach(() => {
  server = answerWith({ json: {} });
  paidAt = [];
  setActivePinia(createPinia());
});
afterEach(() => {
  server.stop();
});

type Offered = JoinOffer & { confirmedEmail: string | null };
const question = { key: 'boat', label: 'Boat', kind: 'text' as const, choices: [], required: true };
const price = { net: 1000, vat: 200, total: 1200, currency: 'EUR' };
const offered = (some: Partial<Offered> = {}): Offered => ({
  code: 'GK7MTQX4RA',
  organisation: 'Brightwater',
  groups: [{ name: 'Inshore', path: [], leaders: [] }],
  courses: [],
  leads: false,
  youngLearners: false,
  needsDecision: false,
  emailEnding: null,
  until: null,
  asks: { email: 'may', idNumber: 'no', questions: [] },
  price: null,
  mine: null,
  confirmedEmail: null,
  ...some,
});
const nobody = { problem: { code: 'not-signed-in' as const } };
const somebody = { json: { givenName: 'Bao', leaderships: [], timeZone: 'UTC' } };

/** A code whose offer is looked at by somebody who is not signed in. */
async function shown(some: Partial<Offered> = {}, fragment = '#GK7MT-QX4RA'): Promise<Joining> {
  const joining = useJoin(fragment, (page) => void paidAt.push(page));
  server.answerWith(some.mine ? somebody : nobody, { json: offered(some) });
  await joining.look();
  server.sent.length = 0;
  return joining;
}
function givenBy(joining: Joining): void {
  Object.assign(joining.given.value, { givenName: 'Imke', familyName: 'Vos', email: 'imke@example.org' });
  joining.password.value = 'a long one, easily';
}
const paths = (): string[] => server.sent.map(({ path }) => path.replace('/api/v1/', ''));

test('what a link or a letter brought goes along, and what is shown comes before anything is asked', async () => {
  const joining = useJoin('#GK7MT-QX4RA/from%20letter', () => undefined);
  expect([joining.typed.value, joining.stage.value]).toEqual(['GK7MT-QX4RA', 'code']);
  server.answerWith(nobody, { json: offered() });
  await joining.look();
  expect([joining.stage.value, server.sent[1]?.body]).toEqual(['offer', { code: 'GK7MT-QX4RA', confirmed: 'from letter' }]);
  joining.another();
  expect([joining.stage.value, joining.typed.value, joining.offer.value]).toEqual(['code', '', null]);
});

test('the button does what is next for each who comes', async () => {
  const cases: [Partial<Offered>, 'new' | 'known', JoinStep][] = [
    [{}, 'new', 'register'],
    [{ needsDecision: true }, 'new', 'ask'],
    [{ price }, 'new', 'pay'],
    [{ emailEnding: '@example.org', price }, 'new', 'confirm address'],
    [{ emailEnding: '@example.org', confirmedEmail: 'imke@example.org', price }, 'new', 'pay'],
    [{ emailEnding: '@example.org', price }, 'known', 'sign in and join'],
    [{ mine: 'not in', emailEnding: '@example.org' }, 'new', 'join as myself'],
    [{ mine: 'not in', needsDecision: true }, 'known', 'ask as myself'],
    [{ mine: 'not in', needsDecision: true, price }, 'new', 'pay'],
  ];
  for (const [some, how, step] of cases) {
    setActivePinia(createPinia());
    const joining = await shown(some);
    joining.how.value = how;
    expect([some, how, joining.step.value]).toEqual([some, how, step]);
  }
});

test('nothing is sent while something is wrong; then one registers once, however often it is pressed', async () => {
  const joining = await shown({ asks: { email: 'must', idNumber: 'no', questions: [question] } });
  joining.given.value.email = 'not an address';
  await joining.submit();
  expect(server.sent).toEqual([]);
  expect(Object.keys(joining.wrong.value).sort()).toEqual(['boat', 'email', 'givenName', 'password']);
  givenBy(joining);
  joining.given.value.answers['boat'] = 'Tern';
  server.answerWith('no connection', {
    json: {
      outcome: 'in',
      signInName: 'imke',
      me: { givenName: 'Imke', leaderships: [], timeZone: 'UTC' },
      inLine: ['VHF radio'],
      page: null,
    },
  });
  await joining.submit();
  expect([joining.stage.value, joining.isBusy.value]).toEqual(['in', false]);
  expect([joining.signInName.value, joining.waits.value, joining.wrong.value]).toEqual(['imke', ['VHF radio'], {}]);
  const ids = server.sent.map(({ body }) => (body as { requestId: string }).requestId);
  expect([ids.length, new Set(ids).size]).toEqual([2, 1]);
});

test('a refusal is told, and what the server finds wrong is shown at its field', async () => {
  const joining = await shown({ asks: { email: 'may', idNumber: 'no', questions: [question] } });
  givenBy(joining);
  joining.given.value.answers['boat'] = 'Tern';
  server.answerWith({ problem: { code: 'given-wrong', where: [{ place: 'boat', what: 'not a choice' }] } });
  await joining.submit();
  expect([joining.stage.value, joining.problem.value]).toEqual(['offer', words.failures['given-wrong']]);
  expect(joining.wrong.value).toEqual({ boat: words.join.given['not a choice'] });
});

test('where it is decided one asks, and where it costs one goes to pay', async () => {
  for (const [outcome, page] of [
    ['asking', null],
    ['paying', 'https://pay.example.org/1'],
    ['paying', null],
  ] as const) {
    setActivePinia(createPinia());
    const joining = await shown(outcome === 'paying' ? { price } : { needsDecision: true });
    givenBy(joining);
    server.answerWith({ json: { outcome, signInName: 'imke', me: null, inLine: [], page } });
    await joining.submit();
    expect(server.sent[0]?.body).toMatchObject({ total: outcome === 'paying' ? 1200 : null });
    expect(joining.stage.value).toBe(outcome === 'asking' ? 'asking' : 'offer');
  }
  expect(paidAt).toEqual(['https://pay.example.org/1', null]);
});

test('an address is confirmed by letter first', async () => {
  const joining = await shown({ emailEnding: '@example.org' });
  joining.given.value.email = 'imke@example.org';
  server.answerWith({ json: null });
  await joining.submit();
  expect([paths(), server.sent[0]?.body]).toEqual([['join/confirm'], { code: 'GK7MT-QX4RA', email: 'imke@example.org' }]);
  expect(joining.stage.value).toBe('letter');
});

test('who has an account signs in and is in, unless there is something to say yes to first', async () => {
  const cases: [Partial<Offered>, string[]][] = [
    [{}, ['session', 'join/look', 'my/join', 'session']],
    [{ courses: [{ name: 'VHF radio', opensOn: null, inLine: true }] }, ['session', 'join/look']],
    [{ asks: { email: 'no', idNumber: 'no', questions: [question] } }, ['session', 'join/look']],
    [{ price }, ['session', 'join/look']],
    [{ mine: 'in' }, ['session', 'join/look']],
  ];
  for (const [some, called] of cases) {
    setActivePinia(createPinia());
    const joining = await shown({ ...some, mine: null });
    joining.how.value = 'known';
    joining.known.value = { name: 'bao', password: 'lantern' };
    server.answerWith(
      somebody,
      { json: offered({ mine: 'not in', ...some }) },
      { json: { outcome: 'in', inLine: [], page: null } },
      somebody,
    );
    await joining.submit();
    expect([some, paths()]).toEqual([some, called]);
    expect(joining.stage.value).toBe(called.length > 2 ? 'in' : 'offer');
  }
});

test('who has not paid yet is taken there', async () => {
  const joining = await shown();
  joining.how.value = 'known';
  server.answerWith({ problem: { code: 'still-paying' } });
  await joining.submit();
  expect([paidAt, joining.problem.value]).toEqual([[null], null]);
  server.answerWith({ problem: { code: 'wrong-sign-in' } });
  await joining.submit();
  expect(paidAt).toEqual([null]);
});

test('somebody who is signed in joins as themselves and answers the questions of the code only; or says that it is not them', async () => {
  const joining = await shown({ mine: 'not in', asks: { email: 'must', idNumber: 'must', questions: [question] } });
  await joining.submit();
  expect([server.sent, Object.keys(joining.wrong.value)]).toEqual([[], ['boat']]);
  joining.given.value.answers['boat'] = 'Tern';
  server.answerWith({ json: { outcome: 'asking', inLine: [], page: null } }, somebody);
  await joining.submit();
  expect(server.sent[0]?.body).toMatchObject({ code: 'GK7MT-QX4RA', answers: { boat: 'Tern' }, total: null });
  expect(joining.stage.value).toBe('asking');
  server.answerWith({ json: null });
  await joining.signOut();
  expect([joining.offer.value?.mine, joining.step.value]).toEqual([null, 'register']);
});
