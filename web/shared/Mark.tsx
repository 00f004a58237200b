/** One disc stepping in front of another. */
export function Mark() {
  return (
    <svg width="34" height="22" viewBox="0 0 34 22" aria-hidden="true">
      <circle cx="11" cy="11" r="8.5" fill="none" stroke="currentColor" strokeOpacity="0.6" strokeWidth="2" />
      <circle cx="21" cy="11" r="9.5" fill="var(--draft)" />
    </svg>
  );
}
