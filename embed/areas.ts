import type { PageMap } from '#core/contract/shopCalls.ts';

/** A part of the page that shows one product: the product's own page, or its card on a listing. */
export interface Area {
  readonly element: Element;
  readonly path: string;
  readonly surface: 'product' | 'listing';
}

/** Every product that the page shows now. */
export function findAreas({ productPage, card }: PageMap): Area[] {
  const areas: Area[] = [];
  if (new RegExp(productPage.path).test(location.pathname)) {
    for (const element of document.querySelectorAll(productPage.area)) {
      areas.push({ element, path: location.pathname, surface: 'product' });
    }
  }
  for (const element of document.querySelectorAll(card.area)) {
    const link = element.matches(card.link) ? element : element.querySelector(card.link);
    if (link instanceof HTMLAnchorElement) areas.push({ element, path: link.pathname, surface: 'listing' });
  }
  return areas;
}

/** The variant that an area's switcher has chosen; undefined when it has none. */
export function chosenVariant(area: Element, { variant }: PageMap): string | undefined {
  if (variant === undefined) return undefined;
  for (const field of area.querySelectorAll<HTMLInputElement | HTMLSelectElement>(variant)) {
    const isRadio = field instanceof HTMLInputElement && field.type === 'radio';
    if (!isRadio || field.checked) return field.value;
  }
  return undefined;
}
