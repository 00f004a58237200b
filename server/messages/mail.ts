import { createTransport, type SendMailOptions } from 'nodemailer';
import type { Config } from '../base/config.ts';

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

/**
 * Sends by SMTP.
 * @throws {Error} when there is no server for it, or it does not take it
 */
export async function sendMail({ smtpUrl, mailFrom }: Config, { to, ...mail }: Mail): Promise<void> {
  if (smtpUrl === null) throw new Error('no SMTP_URL is set: it names the mail server to send by');
  const transport = createTransport(smtpUrl);
  try {
    await transport.sendMail({ ...mail, to, from: mailFrom });
  } finally {
    transport.close();
  }
}
