import { MutationCache, QueryCache, QueryClient } from '@tanstack/react-query';
import { ApiError } from './client.ts';
import { keys } from './keys.ts';

/** Asks users to sign in once their session has ended. */
const onError = (error: Error) => {
  if (error instanceof ApiError && error.status === 401) void queryClient.invalidateQueries({ queryKey: keys.session });
};

export const queryClient = new QueryClient({
  queryCache: new QueryCache({ onError }),
  mutationCache: new MutationCache({ onError }),
  defaultOptions: {
    queries: {
      staleTime: 30_000,
      retry: (count, error) => count < 2 && !(error instanceof ApiError && error.status >= 400),
    },
  },
});
