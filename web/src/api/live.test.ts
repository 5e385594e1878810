import { QueryClient, QueryObserver } from '@tanstack/vue-query';
import fs from 'node:fs';
import path from 'node:path';
import { keysOfTopic, refetch } from './live.ts';

/** Nobody else changes these while they are looked at, or they are asked each time they are opened. */
const notLive = [
  'address-link',
  'cards-ahead',
  'find',
  'help',
  'invitation',
  'my-account',
  'my-calendar',
  'paying-entry',
  'progress-news',
  'one-time',
  'site',
  'site-settings',
  'billing',
  'kept-views',
  'shared-views',
  'platforms',
  'history',
  'results',
];

test('every query is asked again by a live topic, or is one that nobody else changes', () => {
  const source = path.join(import.meta.dirname, '..');
  const keys = fs
    .readdirSync(source, { recursive: true, encoding: 'utf8' })
    .filter((file) => /\.(vue|ts)$/u.test(file) && !file.endsWith('.test.ts'))
    .flatMap((file) => [...fs.readFileSync(path.join(source, file), 'utf8').matchAll(/queryKey: (?:computed\(\(\) => )?\['([a-z-]+)'/gu)])
    .map(([, key]) => key ?? '');
  const live = new Set(Object.values(keysOfTopic).flat());
  expect(keys.length).toBeGreaterThan(25);
  expect([...new Set(keys)].filter((key) => !live.has(key) && !notLive.includes(key))).toEqual([]);
  // A topic names no query that is gone.
  expect([...live].filter((key) => !keys.includes(key))).toEqual([]);
});

test('an answer under way arrives, and is asked for once more afterwards', async () => {
  const queries = new QueryClient();
  const waiting: ((answer: number) => void)[] = [];
  const observer = new QueryObserver(queries, {
    queryKey: ['tree', 1],
    queryFn: () => new Promise<number>((resolve) => waiting.push(resolve)),
    retry: false,
  });
  const seen: number[] = [];
  const stop = observer.subscribe(({ data }) => {
    if (data !== undefined && seen.at(-1) !== data) seen.push(data);
  });
  for (let n = 0; n < 5; n++) refetch(queries, new Set(['tree']));
  refetch(queries, new Set(['people']));
  expect(waiting).toHaveLength(1);
  waiting[0]?.(1);
  await new Promise((resolve) => setTimeout(resolve, 20));
  expect([seen, waiting.length]).toEqual([[1], 2]);
  waiting[1]?.(2);
  await new Promise((resolve) => setTimeout(resolve, 20));
  expect([seen, waiting.length]).toEqual([[1, 2], 2]);
  stop();
  queries.clear();
});
