const NOUNS: ReadonlyMap<string, string> = new Map([
  ['ships', 'ship date'],
  ['releases', 'release date'],
]);

/** What people call one of a product's dates, such as "ship date". `quote` marks a name that is not a plain word. */
export const dateName = (name: string, quote = (other: string) => other): string =>
  NOUNS.get(name) ?? `${quote(name)} date`;
