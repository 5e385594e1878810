import type { LiveTopic } from '@gate-roster/contract';
import { routes } from 'virtual:route-table';
import type { Query, QueryClient } from '@tanstack/vue-query';

/** Which queries are asked again when a topic changed: by the first part of their key. */
export const keysOfTopic: Record<Exclude<LiveTopic, 'session'>, readonly string[]> = {
  people: ['seats', 'splits', 'group', 'people', 'person', 'tree', 'tree-progress', 'tags', 'lists', 'filter-names', 'hanging', 'log'],
  access: ['seats', 'access', 'group', 'person', 'my-courses', 'log'],
  progress: [
    'progress',
    'splits',
    'people',
    'group',
    'tree-progress',
    'person',
    'my-courses',
    'cell',
    'handed-in',
    'work',
    'my-work',
    'certificates',
    'my-certificates',
  ],
  entry: ['entry-figures', 'codes', 'code-uses', 'door', 'requests', 'waiting', 'invitations', 'letters', 'my-requests', 'group', 'log'],
  messages: ['messages', 'my-messages', 'log'],
  groups: ['seats', 'splits', 'tree', 'tree-progress', 'group', 'access', 'progress', 'log', 'my-courses'],
};

/**
 * Keeps screens current. One tab of a browser holds the stream and tells the others, so that many tabs
 * cost the server one connection. `onReturn` runs when the stream came back after a break. @returns How to stop.
 */
export function followLive(queries: QueryClient, onReturn: () => void): () => void {
  const channel = new BroadcastChannel('gate-roster-live');
  const stopped = new AbortController();
  let stream: EventSource | null = null;
  const refresh = (topics: readonly string[]): void => {
    refetch(queries, new Set(topics.flatMap((topic) => keysOfTopic[topic as keyof typeof keysOfTopic] ?? [])));
  };
  channel.onmessage = ({ data }: MessageEvent<string[]>) => {
    refresh(data);
  };

  const hold = (): Promise<void> =>
    new Promise((release) => {
      let last: string | null = null;
      stream = new EventSource(routes.live.path);
      // After a reconnect another number means that something may have been missed.
      stream.addEventListener('hello', ({ data }: MessageEvent<string>) => {
        if (last !== null && last !== data) {
          onReturn();
          tell(Object.keys(keysOfTopic));
        }
        last = data;
      });
      stream.addEventListener('changed', (event: MessageEvent<string>) => {
        last = event.lastEventId;
        tell(event.data.split(' '));
      });
      const tell = (topics: string[]): void => {
        refresh(topics);
        channel.postMessage(topics);
      };
      stopped.signal.addEventListener('abort', () => {
        stream?.close();
        release();
      });
    });
  navigator.locks.request('gate-roster-live', { signal: stopped.signal }, hold).catch(() => undefined);
  return () => {
    stopped.abort();
    channel.close();
  };
}

/** Queries that are asked once more when the answer under way has arrived. */
const again = new WeakSet<Query>();

/**
 * Asks again what begins with one of these keys. An answer under way arrives first: where changes come in faster than an answer
 * takes, cancelling it would mean that none ever arrives.
 */
export function refetch(queries: QueryClient, keys: ReadonlySet<string>): void {
  for (const query of queries.getQueryCache().findAll({ predicate: ({ queryKey }) => keys.has(String(queryKey[0])) })) {
    const ask = (): void => {
      again.delete(query);
      void queries.invalidateQueries({ queryKey: query.queryKey, exact: true });
    };
    if (query.state.fetchStatus !== 'fetching' || !query.promise) ask();
    else if (!again.has(query)) {
      again.add(query);
      query.promise.then(ask, ask);
    }
  }
}
