/** Runs work on pages that are not ours: on any error they must not notice, and keep their own controls. */
export function quietly(work: () => void, instead?: () => void): void {
  try {
    work();
  } catch {
    instead?.();
  }
}
