import { queryOptions, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type {
  deleteOneSession,
  deleteOtherSessions,
  deleteSession,
  getSession,
  listSessions,
  postSession,
  postSetup,
  Session,
} from '#core/contract/sessionCalls.ts';
import type { postPassword, postPasswordLetter } from '#core/contract/colleagueCalls.ts';
import { rememberCsrfToken, send } from '../api/client.ts';
import { keys } from '../api/keys.ts';

async function readSession(): Promise<Session> {
  const { body } = await send<typeof getSession>('get', '/api/session');
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

export const useSignIn = () =>
  useNewSession((body: Credentials) => send<typeof postSession>('post', '/api/session', { body }));

export const useSetup = () => useNewSession((body: unknown) => send<typeof postSetup>('post', '/api/setup', { body }));

export const useChoosePassword = () =>
  useNewSession((body: { readonly token: string; readonly password: string; readonly code?: string }) =>
    send<typeof postPassword>('post', '/api/password', { body }),
  );

export const useAskForLetter = () =>
  useMutation({
    mutationFn: (body: { readonly email: string }) =>
      send<typeof postPasswordLetter>('post', '/api/password/letter', { body }),
  });

/** Sessions of the signed-in user. */
export const useSessions = () =>
  useQuery({
    queryKey: keys.sessions,
    queryFn: async () => (await send<typeof listSessions>('get', '/api/sessions')).body,
  });

/** Ends one session of theirs, or all but this one. */
export function useEndSessions() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: async (id: string | null) => {
      if (id === null) await send<typeof deleteOtherSessions>('delete', '/api/sessions');
      else await send<typeof deleteOneSession>('delete', `/api/sessions/${id}`);
    },
    onSettled: () => client.invalidateQueries({ queryKey: keys.sessions }),
  });
}

export function useSignOut() {
  const client = useQueryClient();
  return useMutation({
    mutationFn: () => send<typeof deleteSession>('delete', '/api/session'),
    onSuccess: () => {
      client.clear();
    },
  });
}
