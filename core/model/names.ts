import { memoize } from './memoize.ts';

/** Names that people type are compared after trimming, Unicode NFC and lower-casing in the root locale. */
export const sameName = memoize((name: string): string => name.trim().normalize('NFC').toLowerCase());

/**
 * The id of a category: its path in slugs (`Plants > Bulbs` is `plants/bulbs`). Lower case, accents stripped, letters
 * (with the marks that belong to them) and digits of any script kept, every run of other characters a hyphen.
 * @returns null when a name on the path has no letter or digit, and so no slug
 */
export function categoryId(path: readonly string[]): string | null {
  const slugs = path.map(slug);
  return slugs.length > 0 && slugs.every((part) => part !== '') ? slugs.join('/') : null;
}

function slug(name: string): string {
  return name
    .toLowerCase()
    .normalize('NFD')
    .replace(/[\u0300-\u036f]/g, '')
    .normalize('NFC')
    .replace(/[^\p{L}\p{M}\p{Nd}]+/gu, '-')
    .replace(/^-+|-+$/g, '');
}

/** Whether a category is another or lies below it, at any depth. */
export function isWithin(categoryId: string, ancestorId: string): boolean {
  return categoryId === ancestorId || categoryId.startsWith(`${ancestorId}/`);
}

/** A path without host, query, fragment or trailing slash, percent-decoded where that is possible. */
export function samePath(path: string): string {
  const bare = path.replace(/[?#].*$/s, '').replace(/(?<=.)\/+$/, '');
  try {
    const decoded = decodeURIComponent(bare).normalize('NFC');
    // A NUL names nothing, and databases refuse it.
    return decoded.includes('\0') ? bare : decoded;
  } catch {
    return bare;
  }
}
