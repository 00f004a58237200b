/** Nonce that the security policy requires of styles. */
export const STYLE_NONCE = document.querySelector<HTMLMetaElement>('meta[name=style-nonce]')?.content ?? '';
