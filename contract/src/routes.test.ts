import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { z } from 'zod';
import { change, changeKinds } from './changes.ts';
import type { Route } from './route.ts';
import { routes } from './routes.ts';

const all = Object.entries(routes) as [string, Route][];
const named = (wrong: readonly [string, Route][]): string[] => wrong.map(([name]) => name);
const inPath = ({ path }: Route): string[] => [...path.matchAll(/:(\w+)/gu)].map(([, name]) => name ?? '');

/** Does an object refuse what it does not know? */
const isStrict = (schema: unknown): boolean => schema instanceof z.ZodObject && schema.def.catchall instanceof z.ZodNever;

/** Objects in a schema that take what they do not know, and so drop it without a word. */
function loose(schema: unknown, at: string): string[] {
  if (schema instanceof z.ZodObject)
    return [...(isStrict(schema) ? [] : [at]), ...Object.entries(schema.shape).flatMap(([key, value]) => loose(value, `${at}.${key}`))];
  if (schema instanceof z.ZodArray) return loose(schema.element, `${at}[]`);
  if (schema instanceof z.ZodUnion) return schema.options.flatMap((option) => loose(option, at));
  if (schema instanceof z.ZodOptional || schema instanceof z.ZodNullable || schema instanceof z.ZodDefault)
    return loose(schema.unwrap(), at);
  return [];
}

test('no two routes answer the same request', () => {
  const places = all.map(([, { method, path }]) => `${method} ${path.replaceAll(/:\w+/gu, ':')}`);
  expect(places.filter((place, index) => places.indexOf(place) !== index)).toEqual([]);
});

test('what a path holds is described, and nothing else is', () => {
  for (const [name, route] of all) expect([name, Object.keys(route.params?.shape ?? {}).sort()]).toEqual([name, inPath(route).sort()]);
});

test('what is read has no body, and is not remembered as a write that takes place once', () => {
  expect(named(all.filter(([, { method, body }]) => method === 'GET' && body !== undefined))).toEqual([]);
  expect(named(all.filter(([, { method, once }]) => method === 'GET' && once))).toEqual([]);
});

test('what is asked and sent is known to the last key: a misspelt one is refused, not dropped', () => {
  expect(named(all.filter(([, { query }]) => query !== undefined && !isStrict(query)))).toEqual([]);
  // Statements of other systems may say more than we know.
  const foreign = ['report', 'sendStatements', 'putStatement'];
  const bodies = all.flatMap(([name, { body }]) => (foreign.includes(name) ? [] : loose(body, name)));
  expect(bodies).toEqual([]);
});

test('each kind of change has one shape, and takes nothing that it does not know', () => {
  expect(changeKinds.filter((kind, index) => changeKinds.indexOf(kind) !== index)).toEqual([]);
  expect(change.options.flatMap((option) => loose(option, option.shape.kind.value))).toEqual([]);
});

test('a number in an address is written in digits only, whatever else a number may look like; an id is never 0', () => {
  const numbers = all.flatMap(([name, { params, query }]) =>
    Object.entries({ ...params?.shape, ...query?.shape }).flatMap(([key, schema]) => {
      const shape = schema as z.ZodType;
      return shape.safeParse('12').data === 12 ? [{ name, key, shape }] : [];
    }),
  );
  expect(new Set(numbers.map(({ key }) => key)).size).toBeGreaterThan(20);
  const odd = ['-1', '1.0', '1e3', '0x10', ' 7', '7 ', '07', '+7', '７', '', 'NaN', 'Infinity', '99999999999999999999'];
  for (const { name, key, shape } of numbers)
    for (const text of key.endsWith('Id') ? ['0', ...odd] : odd)
      expect([name, key, text, shape.safeParse(text).success]).toEqual([name, key, text, false]);
  fc.assert(
    fc.property(fc.string(), fc.integer({ min: 0, max: numbers.length - 1 }), (text, at) => {
      const read = numbers[at]?.shape.safeParse(text);
      return !read?.success || (String(read.data) === text && Number.isSafeInteger(read.data));
    }),
  );
});

test('each route belongs to a room and says in a line what it is for', () => {
  for (const [name, { room, summary }] of all) {
    expect([name, /^[a-z]+$/u.test(room), summary.length > 5, summary.endsWith('.')]).toEqual([name, true, true, false]);
  }
  const summaries = all.map(([, { summary }]) => summary);
  expect(summaries.filter((summary, index) => summaries.indexOf(summary) !== index)).toEqual([]);
});
