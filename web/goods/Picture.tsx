/** The shop's picture of goods, where it can be reached from here; else the place of one. */
export function Picture({ src, className }: { readonly src: string | null; readonly className: string | undefined }) {
  return src !== null && /^https?:\/\//.test(src) ? (
    <img className={className} src={src} alt="" loading="lazy" />
  ) : (
    <span className={className} aria-hidden />
  );
}
