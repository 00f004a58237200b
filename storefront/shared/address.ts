/**
 * The address of a product's page: its path, and of what stands after it only what tells products apart.
 * @param parameters the names of that
 */
export function addressIn(
  { pathname, search }: Pick<URL, 'pathname' | 'search'>,
  parameters: readonly string[] = [],
): string {
  const given = new URLSearchParams(search);
  const kept = String(
    new URLSearchParams(parameters.flatMap((name) => (given.has(name) ? [[name, given.get(name)!]] : []))),
  );
  return pathname + (kept && `?${kept}`);
}
