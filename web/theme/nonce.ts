/** What the page's styles must carry, so that its security policy lets them in. */
export const STYLE_NONCE = document.querySelector<HTMLMetaElement>('meta[name=style-nonce]')?.content ?? '';
