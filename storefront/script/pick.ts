import { keptToken, leave } from './kept.ts';

/** Name of the picker's token in the address and in the tab's storage. */
export const PICKER = 'understudy-picker';

/**
 * Opens the picker over the page when the owner came with a token for it, in the address (`#understudy-picker=…`) or from
 * the page before in this tab. The page is left as the shop made it; where there is nothing to pick after all, it is
 * loaded again, as always.
 */
export function pick(origin: string): void {
  try {
    if (window.top !== window) {
      // A page that the picker looks at in a frame is left as it is as well.
      if (window.parent.sessionStorage.getItem(PICKER) === null) leave(PICKER);
      return;
    }
    const token = keptToken(PICKER);
    if (token === null) {
      leave(PICKER);
      return;
    }
    const script = document.createElement('script');
    script.src = `${origin}/picker.js?token=${encodeURIComponent(token)}`;
    script.onerror = () => {
      leave(PICKER);
    };
    document.head.append(script);
  } catch {
    leave(PICKER);
  }
}
