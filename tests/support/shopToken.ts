import { SignJWT } from 'jose';
import type { TestServer } from './testServer.ts';

/** Token of the shop's own server, valid for an hour of the test's clock. */
export async function shopToken(server: TestServer): Promise<string> {
  const { body } = await server.send('GET', '/api/connection');
  return new SignJWT({})
    .setProtectedHeader({ alg: 'HS256' })
    .setAudience('understudy-shop')
    .setExpirationTime(Math.floor(server.now / 1000) + 3600)
    .sign(new TextEncoder().encode((body as { visitorSecret: string }).visitorSecret));
}
