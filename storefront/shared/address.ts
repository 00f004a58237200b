/**
 * Returns the address of a product's page: its path, with only those query parameters that identify a product.
 * @param parameters names of the parameters that do
 */
export function addressIn(
  { pathname, search }: Pick<URL, 'pathname' | 'search'>,
  parameters: readonly string[] = [],
): string {
  const kept = new URLSearchParams(search);
  for (const name of [...kept.keys()]) if (!parameters.includes(name)) kept.delete(name);
  return pathname + (String(kept) && `?${String(kept)}`);
}
