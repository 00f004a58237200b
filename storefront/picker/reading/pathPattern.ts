import type { Known } from './pageProduct.ts';

/** Most paths that are listed one by one. */
const MOST = 20;

/** A pattern for the paths of product pages, from known paths. */
export function pathPattern(pathname: string, { products }: Known): string {
  const paths = [...new Set([pathname, ...products.map(({ path }) => path.replace(/\?.*$/s, ''))])];
  // Products told apart by their query share few paths, which belong to no other page.
  if (products.some(({ path }) => path.includes('?'))) return `^(?:${paths.slice(0, MOST).map(escape).join('|')})/?$`;
  const parts = paths.map((path) => path.split('/').filter(Boolean));
  const depth = parts[0]?.length ?? 1;
  if (!parts.every(({ length }) => length === depth)) return '^/.+';
  const columns = Array.from({ length: depth - 1 }, (_, index) => [...new Set(parts.map((part) => part[index] ?? ''))]);
  const columnValues = columns.map((values) =>
    values.length === 1 ? escape(values[0] ?? '') : values.length <= 6 ? `(${values.map(escape).join('|')})` : '[^/]+',
  );
  return `^/${[...columnValues, '[^/]+'].join('/')}/?$`;
}

const escape = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
