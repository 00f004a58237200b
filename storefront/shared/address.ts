/**
 * The address of a product's page: its path, and of what stands after it only what tells products apart.
 * @param parameters the names of that
 */
export function addressIn(
  { pathname, search }: Pick<URL, 'pathname' | 'search'>,
  parameters: readonly string[] = [],
): string {
  const kept = new URLSearchParams(search);
  for (const name of [...kept.keys()]) if (!parameters.includes(name)) kept.delete(name);
  return pathname + (String(kept) && `?${String(kept)}`);
}
