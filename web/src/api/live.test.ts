import { QueryClient, QueryObserver } from '@tanstack/vue-query';
import { refetch } from './live.ts';

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
