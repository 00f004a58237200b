import type { Pressed } from './pressed.ts';

/** A size, colour or other choice of a product. */
export interface Variant {
  readonly id: string;
  readonly title: string;
}

/** The variants of the product at a path; none where they cannot be read. */
export async function variantsAt(
  { origin, locale }: Pick<Pressed, 'origin' | 'locale'>,
  path: string,
): Promise<readonly Variant[]> {
  const query = new URLSearchParams({ path, ...(locale ? { locale } : {}) });
  try {
    const response = await fetch(`${origin}/v1/goods?${query.toString()}`, { credentials: 'omit' });
    return response.ok ? ((await response.json()) as { variants: Variant[] }).variants : [];
  } catch {
    return [];
  }
}

/** A product with its chosen variant, as a line names it. */
export const lineTitle = (title: string, variant: Variant | undefined): string =>
  [title, variant?.title].filter(Boolean).join(', ');
