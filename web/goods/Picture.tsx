/** A product's picture, or a placeholder if it cannot be reached. */
export function Picture({ src, className }: { readonly src: string | null; readonly className: string | undefined }) {
  return src !== null && /^https?:\/\//.test(src) ? (
    <img className={className} src={src} alt="" loading="lazy" />
  ) : (
    <span className={className} aria-hidden />
  );
}
