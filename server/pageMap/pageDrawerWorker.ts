import { parentPort, workerData } from 'node:worker_threads';
import { lowerThreadPriority } from '../threads/threadPriority.ts';
import { Drawer, type Drawing } from './drawing.ts';
import type { PageToDraw } from './pageDrawer.ts';

/** Drawing thread; a null message ends it. */
lowerThreadPriority();
const drawer = new Drawer(workerData as Drawing);
const port = parentPort;
if (!port) throw new Error('this is a worker thread');
port.on('message', (page: PageToDraw | null) => {
  const work = page
    ? drawer.draw(new URL(page.address), page.html).then((answer) => {
        port.postMessage(answer);
      })
    : drawer.close().then(() => {
        port.close();
      });
  // Exit on failure: the caller is waiting for either an answer or the thread's end.
  work.catch(() => process.exit(1));
});
