// Prints a port that is free now.
import { createServer } from 'node:net';

const probe = createServer().listen(0, '127.0.0.1', () => {
  console.log(probe.address().port);
  probe.close();
});
