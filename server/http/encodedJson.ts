import { createHash } from 'node:crypto';
import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import type { Request, Response } from 'express';

const compress = promisify(gzip);
/** Less is not worth compressing, in bytes. */
const WORTH = 1024;

/** A body that is written once, and may be sent many times. */
export class EncodedJson<Body> {
  readonly bytes: Buffer;
  private compressed: Promise<Buffer> | null = null;
  private hash: string | null = null;

  /** @param tagged the part whose hash identifies the content, for the ETag */
  constructor(
    body: Body,
    private readonly tagged: (body: Body) => unknown = (whole) => whole,
  ) {
    this.bytes = Buffer.from(JSON.stringify(body));
  }

  /** A weak entity tag (RFC 9110). */
  get etag(): string {
    const parsed = () => JSON.parse(this.bytes.toString()) as Body;
    this.hash ??= createHash('sha256')
      .update(JSON.stringify(this.tagged(parsed())))
      .digest('base64url')
      .slice(0, 22);
    return `W/"${this.hash}"`;
  }

  /** Sends it, compressed if the client accepts that. */
  async send(request: Request, response: Response): Promise<void> {
    response.vary('Accept-Encoding').set('Content-Type', 'application/json; charset=utf-8');
    const isCompressed = this.bytes.length > WORTH && request.acceptsEncodings('gzip', 'identity') === 'gzip';
    if (isCompressed) response.set('Content-Encoding', 'gzip');
    const bytes = isCompressed ? await (this.compressed ??= compress(this.bytes)) : this.bytes;
    response.set('Content-Length', String(bytes.length)).end(bytes);
  }
}
