const NOUNS: ReadonlyMap<string, string> = new Map([
  ['ships', 'ship date'],
  ['releases', 'release date'],
]);

/** Readable name of a product date, such as "ship date". `quote` marks a name that is not a plain word. */
export const dateName = (name: string, quote = (other: string) => other): string =>
  NOUNS.get(name) ?? `${quote(name)} date`;
