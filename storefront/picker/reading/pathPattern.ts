import type { Known } from './pageProduct.ts';

/** A pattern for the paths of products' pages, from those that are known. */
export function pathPattern(pathname: string, { products }: Known): string {
  const paths = [...new Set([pathname, ...products.map(({ path }) => path)])];
  const parts = paths.map((path) => path.split('/').filter(Boolean));
  const depth = parts[0]?.length ?? 1;
  if (!parts.every(({ length }) => length === depth)) return '^/.+';
  const columns = Array.from({ length: depth - 1 }, (_, index) => [...new Set(parts.map((part) => part[index] ?? ''))]);
  const escape = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
  const columnValues = columns.map((values) =>
    values.length === 1 ? escape(values[0] ?? '') : values.length <= 6 ? `(${values.map(escape).join('|')})` : '[^/]+',
  );
  return `^/${[...columnValues, '[^/]+'].join('/')}/?$`;
}
