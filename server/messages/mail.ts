import { createTransport } from 'nodemailer';
import type { Logger } from 'pino';
import type { Config } from '../config.ts';

export interface Mail {
  readonly to: readonly string[];
  readonly subject: string;
  readonly text: string;
}

/**
 * Sends by SMTP; without a server for it, the log says that nothing was sent.
 * @throws {Error} when the server does not take it
 */
export async function sendMail({ smtpUrl, mailFrom }: Config, log: Logger, mail: Mail): Promise<void> {
  if (mail.to.length === 0) return;
  if (smtpUrl === null) {
    log.warn({ subject: mail.subject }, 'no SMTP_URL is set, so a message was not sent');
    return;
  }
  const transport = createTransport(smtpUrl);
  try {
    await transport.sendMail({ ...mail, to: [...mail.to], from: mailFrom });
  } finally {
    transport.close();
  }
}
