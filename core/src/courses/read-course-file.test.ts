import { coursesOfFile } from './read-course-file.ts';

const bytes = (text: string): Uint8Array => new TextEncoder().encode(text);
const plain = { code: null, subject: null, tags: [], description: null };

test('a line for each activity; what is empty is as in the line above; other columns are left out and said', () => {
  const file = coursesOfFile(
    bytes(
      'Course;Code;Unit;Activity;Price;Tags\nRope work;RW-1;Knots;Read the notes;3;"ashore, winter"\n;;;Tie five knots;;\n;;Splices;;;\nFirst aid;;;;;\nrope work;;Knots;Untie them;;Winter, rope',
    ),
  );
  expect(file).toEqual({
    courses: [
      {
        ...plain,
        name: 'Rope work',
        code: 'RW-1',
        tags: ['ashore', 'winter', 'rope'],
        units: [
          { name: 'Knots', activities: ['Read the notes', 'Tie five knots', 'Untie them'] },
          { name: 'Splices', activities: ['Splices'] },
        ],
      },
      { ...plain, name: 'First aid', units: [{ name: 'First aid', activities: ['First aid'] }] },
    ],
    problems: [],
    ignored: ['Price'],
  });
});

test('the same as JSON, with names alone or as objects', () => {
  const list = [
    {
      title: 'Rope work',
      code: 7,
      level: 2,
      tags: [' ashore ', 'Ashore', ''],
      units: ['Splices', { name: 'Knots', activities: ['Read', { name: 'Tie' }, ''] }],
    },
    'First aid',
    { code: 'X' },
  ];
  const file = coursesOfFile(bytes(`\uFEFF${JSON.stringify({ courses: list })}`.slice(1)));
  expect(file.courses).toEqual([
    {
      ...plain,
      tags: ['ashore'],
      name: 'Rope work',
      code: '7',
      units: [
        { name: 'Splices', activities: ['Splices'] },
        { name: 'Knots', activities: ['Read', 'Tie'] },
      ],
    },
    { ...plain, name: 'First aid', units: [{ name: 'First aid', activities: ['First aid'] }] },
  ]);
  expect(file.problems).toEqual([{ code: 'no name', row: 3 }]);
  expect(file.ignored).toEqual(['level']);
});

test.each([
  ['[{"name": "A"', 'cannot be read'],
  ['', 'cannot be read'],
  ['{"name": "A"}', 'no course column'],
  ['Unit,Activity\nKnots,Read', 'no course column'],
  ['Course,Code\nA,X1\nB,x1', 'code twice'],
  ['Course,Unit\n,Knots', 'no name'],
  [`Course\n${Array.from({ length: 1001 }, (_, index) => `Course ${index}`).join('\n')}`, 'too many courses'],
])('%j: %s', (text, code) => {
  expect(coursesOfFile(bytes(text)).problems.map((problem) => problem.code)).toEqual([code]);
});
