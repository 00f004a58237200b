import { SignJWT } from 'jose';

/** Token of a customer's browser, valid for an hour. */
export const tokenOf = (secret: string, customer: string) => signed(secret, (token) => token.setSubject(customer));

/** Token of the shop's own server. */
export const shopTokenOf = (secret: string) => signed(secret, (token) => token.setAudience('understudy-shop'));

const signed = (secret: string, of: (token: SignJWT) => SignJWT) =>
  of(new SignJWT()).setProtectedHeader({ alg: 'HS256' }).setExpirationTime('1h').sign(new TextEncoder().encode(secret));

/** Calls as a shop's page or server does. @throws {Error} with the answer, where it is no yes */
export async function post(
  address: string,
  body: object,
  headers: Readonly<Record<string, string>> = {},
): Promise<void> {
  await asking(address, body, headers);
}

/** The same, where the answer is wanted. */
export async function asking<T>(
  address: string,
  body: object,
  headers: Readonly<Record<string, string>> = {},
): Promise<T> {
  const response = await fetch(address, {
    method: 'POST',
    headers: { 'Content-Type': 'application/json', ...headers },
    body: JSON.stringify(body),
  });
  const answer = await response.text();
  if (!response.ok || answer.includes('"ok":false'))
    throw new Error(`${address} answered ${response.status}: ${answer}`);
  return (answer === '' ? undefined : JSON.parse(answer)) as T;
}
