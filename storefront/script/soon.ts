const channel = new MessageChannel();
const queue: (() => void)[] = [];
channel.port1.onmessage = () => queue.shift()?.();

/** Runs work in a separate task, soon, so that the page can draw and respond in between. */
export function soon(work: () => void): void {
  queue.push(work);
  channel.port2.postMessage(null);
}
