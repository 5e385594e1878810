import fc from 'fast-check';
import { canonicalStatement, joinStatement, partStatement, scoreOf, secondsOf, tryOf, verbOf } from './statements.ts';

const home = 'http://adlnet.gov/expapi/verbs/';

test('verbs are read by their whole address, in either place where the vocabulary is kept', () => {
  expect(['completed', 'voided', 'experienced'].map((verb) => verbOf(home + verb))).toEqual(['completed', 'voided', null]);
  expect(verbOf('https://w3id.org/xapi/adl/verbs/passed')).toBe('passed');
  expect(verbOf('https://example.test/verbs/passed')).toBeNull();
});

test('what each verb says of the activity, with and without its own word on completion', () => {
  const score = { scaled: 0.456 };
  const said = (['completed', 'passed', 'failed', 'progressed', 'scored', 'answered'] as const).map((verb) =>
    [undefined, true, false].map((completion) => tryOf(verb, { completion, score })),
  );
  expect(said.map((list) => list.map(({ finished }) => finished))).toEqual([
    [true, true, false],
    [true, true, false],
    [false, false, false],
    [false, true, false],
    [false, true, false],
    [false, false, false],
  ]);
  expect(said.map(([each]) => each?.score)).toEqual([45.6, 45.6, 45.6, 45.6, 45.6, null]);
});

test.each([
  [{ scaled: -0.4 }, 0],
  [{ scaled: 1 }, 100],
  [{ raw: 3, max: 4 }, 75],
  [{ raw: 30, min: 20, max: 40 }, 50],
  [{ raw: 9, max: 4 }, 100],
  [{ raw: 3 }, null],
  [{ raw: 3, min: 4, max: 4 }, null],
  [{}, null],
])('%j scores %s', (score, expected) => {
  expect(scoreOf(score)).toBe(expected);
});

test.each([
  ['PT90S', 90],
  ['P1DT1H1M1.5S', 90_061.5],
  ['P2W', 1_209_600],
  ['', 0],
  ['an hour', 0],
])('%s lasts %s seconds', (duration, seconds) => {
  expect(secondsOf(duration)).toBe(seconds);
});

const name = fc.constantFrom(
  'id',
  'actor',
  'verb',
  'object',
  'result',
  'context',
  'score',
  'response',
  'definition',
  'name',
  'raw',
  'type',
);
const { tree } = fc.letrec<{ tree: Record<string, unknown> }>((tie) => ({
  tree: fc.dictionary(name, fc.oneof({ maxDepth: 4 }, fc.string(), fc.integer(), fc.array(fc.string(), { maxLength: 2 }), tie('tree')), {
    maxKeys: 6,
    noNullPrototype: true,
  }),
}));

test('parted and joined it is the same', () => {
  fc.assert(
    fc.property(tree, (statement) => {
      const { plain, personal } = partStatement(statement);
      expect(joinStatement(plain, personal)).toEqual(statement);
    }),
  );
});

test('nothing that may name somebody is in the plain part; numbers and addresses of verbs and activities are', () => {
  const secret = 'Bao';
  const statement = {
    id: '1',
    actor: { name: secret, mbox: `mailto:${secret}@b.example` },
    verb: { id: 'v', display: { en: secret } },
    object: { id: 'o', definition: { type: 't', name: { en: secret }, correctResponsesPattern: [secret], extensions: { 'x:y': secret } } },
    result: { score: { scaled: 0.5 }, response: secret, extensions: { 'x:y': secret } },
    context: { registration: 'r', instructor: { name: secret }, platform: secret, contextActivities: { other: [{ id: secret }] } },
    attachments: [{ display: { en: secret } }],
    timestamp: 'now',
  };
  const { plain, personal } = partStatement(statement);
  expect(plain).toEqual({
    id: '1',
    verb: { id: 'v' },
    object: { id: 'o', definition: { type: 't' } },
    result: { score: { scaled: 0.5 } },
    context: { registration: 'r' },
    timestamp: 'now',
  });
  expect(joinStatement(plain, personal)).toEqual(statement);
  expect(JSON.stringify(plain)).not.toContain(secret);
});

test('the same statement in another order is the same; another actor, verb or score makes another', () => {
  const statement = {
    id: '1',
    actor: { mbox: 'mailto:a@b.example' },
    verb: { id: 'v', display: { en: 'x' } },
    result: { score: { raw: 1, max: 2 } },
  };
  const same = {
    result: { score: { max: 2, raw: 1 } },
    verb: { display: { en: 'x' }, id: 'v' },
    stored: 'later',
    actor: { account: {} },
    id: '2',
  };
  expect(canonicalStatement(same, '7')).toBe(canonicalStatement(statement, '7'));
  const others = [
    { ...statement, verb: { id: 'w' } },
    { ...statement, result: { score: { raw: 2, max: 2 } } },
    { ...statement, timestamp: 'then' },
  ];
  for (const other of others) expect(canonicalStatement(other, '7')).not.toBe(canonicalStatement(statement, '7'));
  expect(canonicalStatement(statement, '8')).not.toBe(canonicalStatement(statement, '7'));
});
