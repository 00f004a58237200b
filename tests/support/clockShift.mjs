// Runs a program under another clock: node --import ./tests/support/clockShift.mjs, with CLOCK_SHIFT_MS.

/** Moves what `Date` takes for now by a fixed time, in ms. Timers keep real time. Also runs in pages, so it refers to nothing outside. */
export function shiftClock(shift) {
  const RealDate = Date;
  const now = () => RealDate.now() + shift;
  globalThis.Date = new Proxy(RealDate, {
    construct: (target, args, newTarget) => Reflect.construct(target, args.length === 0 ? [now()] : args, newTarget),
    apply: () => new RealDate(now()).toString(),
    get: (target, key, receiver) => (key === 'now' ? now : Reflect.get(target, key, receiver)),
  });
}

if (globalThis.process?.env.CLOCK_SHIFT_MS) shiftClock(Number(process.env.CLOCK_SHIFT_MS));
