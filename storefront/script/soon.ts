const channel = new MessageChannel();
const queue: (() => void)[] = [];
channel.port1.onmessage = () => queue.shift()?.();

/** Runs work in a task of its own, as soon as there is room, so that the page can draw and answer in between. */
export function soon(work: () => void): void {
  queue.push(work);
  channel.port2.postMessage(null);
}
