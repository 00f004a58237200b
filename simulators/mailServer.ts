import { simpleParser } from 'mailparser';
import { SMTPServer } from 'smtp-server';
import type { Kept } from './kept.ts';

/** Accepts all mail (RFC 5321) and forwards none. */
export function mailServer(kept: Kept): SMTPServer {
  return new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS'],
    size: 10_000_000,
    onData(stream, session, done) {
      simpleParser(stream).then(({ from, subject = '', text = '', html, messageId }) => {
        const to = session.envelope.rcptTo.map(({ address }) => address).join(', ');
        const letter = { way: 'mail', from: from?.text ?? '', to, subject, text, html: html || '' } as const;
        kept.add(letter, messageId && `mail ${messageId} ${to} ${subject}`);
        done();
      }, done);
    },
  });
}
