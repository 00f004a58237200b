const KEPT = 'understudy-picker';

/**
 * Opens the picker over the page when the owner came with a token for it, in the address (`#understudy-picker=…`) or from
 * the page before in this tab. The page is then left as the shop made it.
 */
export function pick(origin: string): boolean {
  if (window.top !== window) return takesPart();
  try {
    const given = new RegExp(`#${KEPT}=([\\w.-]+)`).exec(location.hash)?.[1];
    if (given !== undefined) {
      sessionStorage.setItem(KEPT, given);
      window.name = KEPT;
      history.replaceState(history.state, '', location.pathname + location.search);
    }
    // Asked first, since a storage costs every shopper a wait.
    if (window.name !== KEPT) return false;
    const token = sessionStorage.getItem(KEPT);
    if (token === null) return false;
    const script = document.createElement('script');
    script.src = `${origin}/picker.js?token=${encodeURIComponent(token)}`;
    // A token that is over opens nothing, and is not tried again.
    script.onerror = () => {
      sessionStorage.removeItem(KEPT);
    };
    document.head.append(script);
    return true;
  } catch {
    return false;
  }
}

/** A page that the picker looks at in a frame is left as it is as well. */
function takesPart(): boolean {
  try {
    return window.name === KEPT && window.parent.sessionStorage.getItem(KEPT) !== null;
  } catch {
    return false;
  }
}
