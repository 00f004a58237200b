const NAME = 'understudy-picker';

/** Another page of the shop, looked at in a frame. */
export interface Framed {
  readonly path: string;
  readonly element: HTMLIFrameElement;
  /** Null while it loads, and when the shop lets no page be framed. */
  readonly page: () => Document | null;
}

/** Opens a page of the shop in a frame; calls `changed` when the page changes. */
export function frame(path: string, changed: () => void): Framed {
  const element = document.createElement('iframe');
  // By this name the storefront script leaves the page as it is.
  element.name = NAME;
  element.title = path;
  element.tabIndex = -1;
  element.src = path;
  const page = () => {
    try {
      const { contentDocument } = element;
      return contentDocument && contentDocument.URL !== 'about:blank' ? contentDocument : null;
    } catch {
      return null;
    }
  };
  element.addEventListener('load', () => {
    const loaded = page();
    if (loaded) new MutationObserver(changed).observe(loaded, { childList: true, subtree: true });
    changed();
  });
  return { path, element, page };
}
