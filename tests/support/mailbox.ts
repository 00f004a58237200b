import type { AddressInfo } from 'node:net';
import { simpleParser, type ParsedMail } from 'mailparser';
import { SMTPServer } from 'smtp-server';

export interface Letter {
  readonly to: string;
  readonly subject: string;
  readonly text: string;
  readonly html: string;
  readonly messageId: string;
  /** Reply-To address; empty if replies go to the sender. */
  readonly replyTo: string;
}

/** A real mail server that keeps what it is sent. */
export interface Mailbox {
  readonly smtpUrl: string;
  readonly letters: readonly Letter[];
  /** The first letter that fits, as soon as it is there. */
  letter(fits: (letter: Letter) => boolean): Promise<Letter>;
  /** Refuses so many letters before it takes one again. */
  refuse(times: number): void;
  stop(): Promise<void>;
}

/** @param port any that is free when it is 0 @param before letters that it has already */
export async function startMailbox(port = 0, before: readonly Letter[] = []): Promise<Mailbox> {
  const letters: Letter[] = [...before];
  const waiting: { fits: (letter: Letter) => boolean; resolve: (letter: Letter) => void }[] = [];
  let refusals = 0;
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS'],
    onData(stream, session, done) {
      const take = ({ subject = '', text = '', html, messageId = '', replyTo }: ParsedMail) => {
        if (refusals > 0) {
          refusals -= 1;
          done(Object.assign(new Error('not now'), { responseCode: 451 }));
          return;
        }
        const to = session.envelope.rcptTo.map(({ address }) => address).join();
        const letter = { to, subject, text, html: html || '', messageId, replyTo: replyTo?.text ?? '' };
        letters.push(letter);
        done();
        for (const one of waiting.filter(({ fits }) => fits(letter))) one.resolve(letter);
      };
      // The sender may disconnect before the end.
      simpleParser(stream).then(take, () => undefined);
    },
  });
  // The sender may be killed in the middle.
  server.on('error', () => undefined);
  server.listen(port, '127.0.0.1');
  await new Promise((resolve) => server.server.once('listening', resolve));
  return {
    smtpUrl: `smtp://127.0.0.1:${(server.server.address() as AddressInfo).port}`,
    letters,
    letter: (fits) => {
      const there = letters.find(fits);
      return there ? Promise.resolve(there) : new Promise((resolve) => waiting.push({ fits, resolve }));
    },
    refuse: (times) => {
      refusals = times;
    },
    stop: () =>
      new Promise((resolve) => {
        server.close(resolve);
      }),
  };
}

/** The address of the link in a letter whose words are these. */
export function linkIn({ html }: Letter, words: string): string {
  const found = [...html.matchAll(/<a[^>]* href="([^"]+)"[^>]*>([^<]*)<\/a>/g)].find((match) => match[2] === words);
  if (!found?.[1]) throw new Error(`no link “${words}” in ${html}`);
  return found[1].replaceAll('&amp;', '&');
}
