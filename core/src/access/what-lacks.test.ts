import { type CourseStanding, whatLacks } from './what-lacks.ts';

const closed: CourseStanding = { open: false, opensLater: null, inLine: null, noLicence: false, asked: false, why: [] };
const decided = (kind: CourseStanding['why'][number]['kind'], effect: 'open' | 'block' | null = null): CourseStanding['why'] => [
  { kind: 'grant', verdict: 'overruled', effect: 'block' },
  { kind, verdict: 'decided', effect },
];

it.each<[string, Partial<CourseStanding>, ReturnType<typeof whatLacks>]>([
  ['nothing where it is open', { open: true, why: decided('grant', 'open') }, null],
  ['a seat, with the place in line', { open: true, inLine: 3 }, { what: 'seat', place: 3 }],
  ['a seat, where they wait for none', { open: true, noLicence: true }, { what: 'seat', place: null }],
  ['a day', { opensLater: '2027-01-11', asked: true }, { what: 'day', day: '2027-01-11' }],
  ['a decision', { asked: true, why: decided('terms') }, { what: 'decision' }],
  ['an account that works, before all else', { opensLater: '2027-01-11', why: decided('inactive') }, { what: 'account' }],
  ['a course that is not archived', { asked: true, why: decided('archived') }, { what: 'archived' }],
  ['the end of a block', { why: decided('firm', 'block') }, { what: 'blocked' }],
  ['somebody who opens it: what was overruled does not count', { why: decided('terms') }, { what: 'opening' }],
])('somebody lacks %s', (_, facts, lack) => {
  expect(whatLacks({ ...closed, ...facts })).toEqual(lack);
});
