/** Runs on pages that are not ours: whatever goes wrong, they must not notice, and keep their own controls. */
export function quietly(work: () => void, instead?: () => void): void {
  try {
    work();
  } catch {
    instead?.();
  }
}
