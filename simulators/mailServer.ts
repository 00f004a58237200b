import { simpleParser } from 'mailparser';
import { SMTPServer } from 'smtp-server';
import type { Kept } from './kept.ts';

/** Takes whatever is sent, from anybody to anybody (RFC 5321), and passes nothing on. */
export function mailServer(kept: Kept): SMTPServer {
  return new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS'],
    size: 10_000_000,
    onData(stream, session, done) {
      simpleParser(stream).then(({ from, subject = '', text = '', html }) => {
        kept.add({
          at: new Date(),
          from: from?.text ?? '',
          to: session.envelope.rcptTo.map(({ address }) => address).join(', '),
          subject,
          text,
          html: html || '',
        });
        done();
      }, done);
    },
  });
}
