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

/**
 * The address of a product's page in its one spelling: its path, as `samePath` has it, and what stands after `?`, in
 * order, each name and value percent-decoded: shops whose products all have one path tell them apart by it.
 */
export function sameAddress(address: string): string {
  const [, query = ''] = /^[^?#]*\?([^#]*)/s.exec(address) ?? [];
  const pairs = query.replaceAll('+', ' ').split('&').filter(Boolean).map(decoded).sort();
  return samePath(address) + (pairs.length === 0 ? '' : `?${pairs.join('&')}`);
}

/** Keys under which a product with this address may be stored, with and without insignificant endings. */
export const addressesOf = (address: string): readonly string[] => [
  ...new Set([sameAddress(address), samePath(address)]),
];

/** The same address with these parameters alone, in their order. */
export function addressWith(address: string, parameters: readonly string[]): string {
  const [path = '', query = ''] = address.replace(/#.*$/s, '').split(/\?(.*)/s);
  const pairs = query.split('&');
  const kept = parameters.flatMap((name) => pairs.find((pair) => pair.startsWith(`${name}=`)) ?? []);
  return path + (kept.length === 0 ? '' : `?${kept.join('&')}`);
}

/** Names of the query parameters of an address. */
export function parametersIn(addresses: readonly string[]): string[] {
  const names = addresses.flatMap((address) => {
    const [, query = ''] = /^[^?#]*\?([^#]*)/s.exec(address) ?? [];
    return query.split('&').map((pair) => decoded(pair.replace(/=.*/s, '')));
  });
  return [...new Set(names)].filter(Boolean).sort();
}

/** A path without host, query, fragment or trailing slash, percent-decoded where that is possible. */
export function samePath(path: string): string {
  return decoded(path.replace(/[?#].*$/s, '').replace(/(?<=.)\/+$/, ''));
}

/** Percent-decoded where that is possible. */
function decoded(text: string): string {
  try {
    const found = decodeURIComponent(text).normalize('NFC');
    // A NUL names nothing, and databases refuse it.
    return found.includes('\0') ? text : found;
  } catch {
    return text;
  }
}
