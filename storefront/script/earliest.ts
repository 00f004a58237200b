/** A timer longer than this is set in steps. */
const LONGEST_MS = 12 * 60 * 60 * 1000;

/** Does something after a delay, in ms; asked several times before it does, the earliest counts. */
export function earliest(work: () => void): (delay: number) => void {
  let timer: ReturnType<typeof setTimeout> | undefined;
  let due = Infinity;
  const after = (delay: number) => {
    const at = Date.now() + delay;
    if (timer !== undefined && due <= at) return;
    clearTimeout(timer);
    due = at;
    timer = setTimeout(
      () => {
        timer = undefined;
        if (delay > LONGEST_MS) after(delay - LONGEST_MS);
        else work();
      },
      Math.min(delay, LONGEST_MS),
    );
  };
  return after;
}
