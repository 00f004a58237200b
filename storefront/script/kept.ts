/**
 * The token that the owner came with, in the address (`#name=…`), from which it is taken away, or on the page before in
 * this tab; null without one.
 * @throws where the page keeps nothing
 */
export function keptToken(name: string): string | null {
  const given = new RegExp(`#${name}=([\\w.-]+)`).exec(location.hash)?.[1];
  if (given !== undefined) {
    sessionStorage.setItem(name, given);
    window.name = name;
    history.replaceState(history.state, '', location.pathname + location.search);
  }
  return sessionStorage.getItem(name);
}

/** The page as always. A token that is over is not tried again. */
export function leave(name: string): void {
  window.name = '';
  try {
    sessionStorage.removeItem(name);
  } catch {
    // Then nothing was kept.
  }
  location.replace(location.pathname + location.search);
}
