import type { StaffRole } from '#core/contract/permissions.ts';
import type { Session } from '#core/contract/sessionCalls.ts';
import { passwordLink } from '../../server/session/staffLetters.ts';
import { staffById } from '../../server/session/staffQueries.ts';
import type { TestServer } from './testServer.ts';

export const PASSWORD = 'rook-and-lantern-9';

/** A colleague in a session of their own. */
export interface SignedIn {
  readonly id: number;
  readonly headers: Readonly<Record<string, string>>;
}

/** Invites a colleague by a link that is handed over, and takes it. Who invites is a program with the owner's key, unless it is said. */
export const signedInAs = (
  server: TestServer,
  role: StaffRole,
  { email = `${role}@quillfern.example`, by }: { readonly email?: string; readonly by?: SignedIn } = {},
): Promise<SignedIn> => invited(server, '/api/colleagues', { name: `The ${role}`, email, role }, by);

/** The same of somebody who decides for a seller. */
export const signedInFor = (server: TestServer, seller: string, email: string): Promise<SignedIn> =>
  invited(server, `/api/sellers/${seller}/people`, { name: `Of ${seller}`, email });

async function invited(server: TestServer, path: string, body: object, by?: SignedIn): Promise<SignedIn> {
  const answered = await server.send('POST', path, { body, ...(by ? { headers: by.headers, asNobody: true } : {}) });
  const { id, link } = answered.body as { id: number; link: string | null };
  // Links sent by e-mail are created as the e-mail does.
  const { needs } = server;
  const made = link ?? (await passwordLink(needs, (await staffById(needs.db, id))!));
  const token = new URL(made).searchParams.get('token');
  const answer = await server.send('POST', '/api/password', { body: { token, password: PASSWORD }, asNobody: true });
  const cookie = answer.headers
    .getSetCookie()
    .map((line) => line.split(';')[0])
    .join('; ');
  return { id, headers: { cookie, 'X-CSRF-Token': (answer.body as Session).csrfToken ?? '' } };
}
