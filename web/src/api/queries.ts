import { QueryClient } from '@tanstack/vue-query';
import { Failure } from './call.ts';

const retries = 3;

/** What was asked of the server, for as long as it may be shown again. */
export const queryClient = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 30_000,
      // Answers are replaced, never altered: watching each field of five thousand groups took most of a second.
      shallow: true,
      // Only what may come back by itself is tried again.
      retry: (failures, error) =>
        error instanceof Failure && (error.code === 'offline' || error.code === 'database-away') && failures < retries,
    },
  },
});
