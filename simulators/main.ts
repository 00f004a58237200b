import { createServer } from 'node:http';
import { mailServer } from './mailServer.ts';
import { createPages } from './pages.ts';
import { Kept } from './kept.ts';

/**
 * Stands in for the services that messages go out by, so that everything can be tried on one machine: takes mail by SMTP,
 * text messages, chat and web hooks by HTTP, and payments, and shows what arrived. Nothing leaves it, and nothing is kept
 * when it ends.
 */
const port = Number(process.env.SIMULATORS_PORT ?? 4602);
const smtpPort = Number(process.env.SIMULATORS_SMTP_PORT ?? 4603);

const kept = new Kept();
const smtp = mailServer(kept);
smtp.listen(smtpPort, '127.0.0.1');
const http = createServer(createPages(kept)).listen(port, '127.0.0.1', () => {
  process.stdout.write(`serving on http://127.0.0.1:${port}, mail on port ${smtpPort}\n`);
});

for (const server of [http, smtp.server]) {
  server.on('error', (error: NodeJS.ErrnoException) => {
    const variable = server === http ? 'SIMULATORS_PORT' : 'SIMULATORS_SMTP_PORT';
    process.stderr.write(
      `${error.code === 'EADDRINUSE' ? `a port is taken: set ${variable} to another` : error.message}\n`,
    );
    process.exit(1);
  });
}
// Senders may disconnect in the middle of a message.
smtp.on('error', (error) => {
  process.stderr.write(`a letter broke off: ${error.message}\n`);
});
for (const end of ['SIGINT', 'SIGTERM', 'disconnect'] as const) {
  process.on(end, () => {
    http.closeAllConnections();
    smtp.close(() => http.close(() => process.exit(0)));
  });
}
