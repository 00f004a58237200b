import { createTransport, type SendMailOptions } from 'nodemailer';
import type { Config } from '../config/config.ts';
import { ProblemError } from '../http/errors.ts';

export interface Mail {
  readonly to: string;
  readonly replyTo?: string;
  readonly subject: string;
  readonly text: string;
  readonly html: string;
  /** RFC 5322. */
  readonly messageId: string;
  readonly attachments: NonNullable<SendMailOptions['attachments']>;
}

/** Silence after which a mail server counts as absent. */
const SILENT_MS = 15_000;

/**
 * Sends by SMTP (RFC 5321).
 * @returns the server's answer
 * @throws {Error} if there is no server, or it refuses the message
 */
export async function sendMail({ smtpUrl, mailFrom }: Config, { to, ...mail }: Mail): Promise<string> {
  if (smtpUrl === null) throw new Error('no SMTP_URL is set: it names the mail server to send by');
  const transport = createTransport({ url: smtpUrl, connectionTimeout: SILENT_MS, greetingTimeout: SILENT_MS });
  try {
    return (await transport.sendMail({ ...mail, to, from: mailFrom })).response;
  } finally {
    transport.close();
  }
}

export const noMail = () =>
  new ProblemError(
    'no-mail',
    'Understudy has no way to send letters. Start it with SMTP_URL, which names the mail server to send by.',
  );
