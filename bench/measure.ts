/** Median rates of several implementations, measured in turn so that noise affects all alike. */
export function ratesOf(
  ways: Readonly<Record<string, () => number>>,
  rounds = 7,
  atLeastMs = 250,
): Record<string, number> {
  const rates = new Map<string, number[]>(Object.keys(ways).map((name) => [name, []]));
  for (let round = 0; round <= rounds; round++) {
    for (const [name, way] of Object.entries(ways)) {
      const start = performance.now();
      let done = 0;
      let spent = 0;
      while (spent < atLeastMs) {
        done += way();
        spent = performance.now() - start;
      }
      // The first round warms up.
      if (round > 0) rates.get(name)?.push((done / spent) * 1000);
    }
  }
  return Object.fromEntries([...rates].map(([name, found]) => [name, median(found)]));
}

/** Milliseconds that something takes: the median of some times. */
export function timeOf(work: () => unknown, times = 9): number {
  const spent = Array.from({ length: times }, () => {
    const start = performance.now();
    work();
    return performance.now() - start;
  });
  return median(spent);
}

const median = (values: readonly number[]): number =>
  [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? 0;
