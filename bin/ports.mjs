// Fails, naming the variable to set, when a port that we need is taken.
import { createServer } from 'node:net';

for (const name of process.argv.slice(2)) {
  const port = Number(process.env[name]);
  await new Promise((resolve, reject) => {
    const probe = createServer();
    probe.once('error', reject);
    probe.listen(port, '127.0.0.1', () => probe.close(resolve));
  }).catch((error) => {
    const why = error.code === 'EADDRINUSE' ? 'is taken' : `cannot be used (${error.message})`;
    console.error(`Port ${process.env[name]} ${why}. Set ${name} to another port.`);
    process.exit(1);
  });
}
