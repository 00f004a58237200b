import { queryOptions, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { Session } from '#core/contract/sessionCalls.ts';
import { rememberCsrfToken, send, type BodyOf } from '../api/client.ts';
import { keys } from '../api/keys.ts';

async function readSession(): Promise<Session> {
  const { body } = await send('GET /api/session');
  rememberCsrfToken(body.csrfToken);
  return body;
}

/** The question who is signed in. */
export const sessionQuery = queryOptions({ queryKey: keys.session, queryFn: readSession, staleTime: Infinity });

/** The signed-in user. */
export const useSession = () => useQuery(sessionQuery);

function useNewSession<T>(start: (given: T) => Promise<{ body: Session }>) {
  const client = useQueryClient();
  return useMutation({
    mutationFn: start,
    onSuccess: ({ body }) => {
      rememberCsrfToken(body.csrfToken);
      client.setQueryData(keys.session, body);
    },
  });
}

export interface Credentials {
  readonly email: string;
  readonly password: string;
  readonly code?: string;
}

export const useSignIn = () => useNewSession((body: Credentials) => send('POST /api/session', { body }));

export const useSetup = () => useNewSession((body: BodyOf<'POST /api/setup'>) => send('POST /api/setup', { body }));

export const useChoosePassword = () =>
  useNewSession((body: { readonly token: string; readonly password: string; readonly code?: string }) =>
    send('POST /api/password', { body }),
  );

export const useAskForLetter = () =>
  useMutation({
    mutationFn: (body: { readonly email: string }) => send('POST /api/password/letter', { body }),
  });

/** Sessions of the signed-in user. */
export const useSessions = () =>
  useQuery({
    queryKey: keys.sessions,
    queryFn: async () => (await send('GET /api/sessions')).body,
  });

/** Ends one session of theirs, or all but this one. */
export function useEndSessions() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async (id: string | null) => {
      if (id === null) await send('DELETE /api/sessions');
      else await send('DELETE /api/sessions/{id}', { params: { id } });
    },
    onSettled: () => client.invalidateQueries({ queryKey: keys.sessions }),
  });
}

export function useSignOut() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: () => send('DELETE /api/session'),
    onSuccess: () => {
      client.clear();
    },
  });
}
