import { readFileSync } from 'node:fs';
import path from 'node:path';
import { courses } from './courses.ts';
import { makePeople } from './people.ts';
import { Random } from './random.ts';
import { grants, placedGroups } from './world.ts';

const intake = readFileSync(path.join(import.meta.dirname, '../samples/autumn-intake-north.csv'));
const make = (seed: number) => makePeople(new Random(seed), placedGroups(), '2026-11-23', intake);

test('the world is the same on every run, and another from another seed', () => {
  expect(make(1)).toEqual(make(1));
  expect(make(1).people[200]).not.toEqual(make(2).people[200]);
});

test('it has the size that was promised, and nobody shares an address or a sign-in name', () => {
  const { people } = make(1);
  const groups = placedGroups();
  expect([groups.length, courses.length, Math.max(...groups.map(({ path: at }) => at.split('/').length + 1))]).toEqual([45, 14, 5]);
  expect(people.length).toBeGreaterThan(1250);
  expect(people.length).toBeLessThan(1350);
  for (const field of ['signInName', 'email', 'idNumber'] as const) {
    const values = people.flatMap((person) => person[field] ?? []);
    expect(new Set(values).size).toBe(values.length);
  }
  expect(people.every(({ email }) => email === null || email.endsWith('.example'))).toBe(true);
});

test('every grant names a group and a course that exist', () => {
  const paths = new Set(placedGroups().map(({ path: at }) => at));
  expect(grants.filter(({ at, course }) => !paths.has(at) || !courses.some(({ name }) => name === course))).toEqual([]);
});
