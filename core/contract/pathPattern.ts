/**
 * Pattern of paths: with stars, `{ like: ['/plants/*'] }`, or a regular expression. One star matches one segment of a path,
 * two match any number.
 */
export type PathPattern = string | { readonly like: readonly string[] };

/** The source of the expression that a pattern is. Where it is made of stars it takes a time that grows with the path alone. */
export function patternSource(pattern: PathPattern): string {
  if (typeof pattern === 'string') return pattern;
  const alternatives = pattern.like.map((like) =>
    like
      .replace(/\/+$/, '')
      .split(/(\*+)/)
      .map((part) =>
        part.startsWith('*') ? (part.length > 1 ? '.*' : '[^/]+') : part.replace(/[\\^$.|?+()[\]{}]/g, '\\$&'),
      )
      .join(''),
  );
  return `^(?:${alternatives.join('|')})/?$`;
}
