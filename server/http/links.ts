import { randomUUID } from 'node:crypto';
import { decodeJwt, jwtVerify, SignJWT, type JWTPayload } from 'jose';

/** Signs links, and tells by its id which key signed one. */
export interface LinkKey {
  readonly id: string;
  readonly secret: string;
}

/** Before keys had ids, links were signed by the sessions' secret; they go on until they end. */
export const KEY_OF_OLD_LINKS = 'session';
const MAX_LENGTH = 8000;

/**
 * Signs and verifies tokens that permit their holder one thing, such as a link in a message (JWT, HS256, RFC 7519; `kid`
 * names the key, `jti` the link).
 */
export class Links {
  constructor(
    /** Newest first: the first signs, all verify. */
    private readonly keys: () => readonly LinkKey[],
    /** Epoch ms. */
    private readonly clock: () => number,
  ) {}

  /**
   * @param purpose the only use it is valid for
   * @param until epoch ms
   */
  sign(purpose: string, until: number, claims: JWTPayload): Promise<string> {
    const [key] = this.keys();
    if (!key) throw new Error('there is no key to sign links with');
    return new SignJWT(claims)
      .setProtectedHeader({ alg: 'HS256', kid: key.id })
      .setAudience(purpose)
      .setJti(randomUUID())
      .setExpirationTime(new Date(until))
      .sign(new TextEncoder().encode(key.secret));
  }

  /** Reads a link's claims; null if the token is invalid now or has another purpose. */
  async read(purpose: string, token: unknown): Promise<JWTPayload | null> {
    if (typeof token !== 'string' || token.length > MAX_LENGTH) return null;
    try {
      // Skips verification if the purpose differs.
      if (decodeJwt(token).aud !== purpose) return null;
      const { payload } = await jwtVerify(token, ({ kid = KEY_OF_OLD_LINKS }) => this.secretOf(kid), {
        algorithms: ['HS256'],
        audience: purpose,
        requiredClaims: ['exp'],
        currentDate: new Date(this.clock()),
      });
      return payload;
    } catch {
      return null;
    }
  }

  private secretOf(kid: string): Uint8Array {
    const key = this.keys().find(({ id }) => id === kid);
    if (!key) throw new Error('no such key');
    return new TextEncoder().encode(key.secret);
  }
}
