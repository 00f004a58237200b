import type { StaffRole } from '#core/contract/permissions.ts';
import type { Session } from '#core/contract/sessionCalls.ts';
import type { TestServer } from './testServer.ts';

export const PASSWORD = 'rook-and-lantern-9';

/** A colleague in a session of their own. */
export interface SignedIn {
  readonly id: number;
  readonly headers: Readonly<Record<string, string>>;
}

/** Invites a colleague by a link that is handed over, and takes it. Who invites is a program with the owner's key, unless it is said. */
export async function signedInAs(
  server: TestServer,
  role: StaffRole,
  { email = `${role}@quillfern.example`, by }: { readonly email?: string; readonly by?: SignedIn } = {},
): Promise<SignedIn> {
  const invited = await server.send('POST', '/api/colleagues', {
    body: { name: `The ${role}`, email, role },
    ...(by ? { headers: by.headers, asNobody: true } : {}),
  });
  const { id, link } = invited.body as { id: number; link: string };
  const token = new URL(link).searchParams.get('token');
  const answer = await server.send('POST', '/api/password', { body: { token, password: PASSWORD }, asNobody: true });
  const cookie = answer.headers
    .getSetCookie()
    .map((line) => line.split(';')[0])
    .join('; ');
  return { id, headers: { cookie, 'X-CSRF-Token': (answer.body as Session).csrfToken ?? '' } };
}
