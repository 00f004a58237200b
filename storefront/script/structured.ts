import type { SharedDecision } from '#core/engine/decision.ts';
import type { Area } from './areas.ts';
import { write } from './marks.ts';
import { plainAmount } from './price.ts';

/** Decision for a product, by the variant's id if structured data names one. */
export type Decisions = (sku: string | undefined) => SharedDecision | undefined;

const SCHEMA = 'https://schema.org/';

export interface StructuredPage {
  /** Areas with their decisions. */
  readonly areas: readonly (readonly [Area, SharedDecision])[];
  /** By a product's path. */
  readonly decisionsAt: (url: Pick<URL, 'pathname' | 'search'>) => Decisions | undefined;
  /** Whether it has changed since the last call. */
  readonly isNew: boolean;
}

const MICRODATA = '[itemprop=availability], [itemprop=price]';

/**
 * Makes the page's JSON-LD and microdata say what is true of the products on it: `availability` and `price` of their
 * offers (schema.org/Offer). A price that is withheld is taken out.
 */
export function updateStructuredData({ areas, decisionsAt, isNew }: StructuredPage): void {
  for (const [{ parts }, decision] of areas) updateMicrodata(parts(MICRODATA), decision);
  if (isNew) read = new WeakMap();
  for (const script of document.querySelectorAll('script[type="application/ld+json"]')) {
    const text = script.textContent;
    if (read.get(script) === text) continue;
    try {
      const data: unknown = JSON.parse(text);
      visit(data, decisionsAt, undefined);
      const previous = JSON.stringify(data);
      if (previous !== JSON.stringify(JSON.parse(text))) script.textContent = previous;
      read.set(script, script.textContent);
    } catch {
      // Not JSON: the shop's own affair.
    }
  }
}

/** Scripts as they were left. */
let read = new WeakMap<Element, string>();

type Node = Record<string, unknown>;

function visit(
  value: unknown,
  decisionsAt: (url: Pick<URL, 'pathname' | 'search'>) => Decisions | undefined,
  about: Decisions | undefined,
) {
  if (typeof value !== 'object' || value === null) return;
  if (Array.isArray(value)) {
    for (const item of value) visit(item, decisionsAt, about);
    return;
  }
  const node = value as Node;
  const type = [node['@type']].flat().join(' ');
  let decisions = about;
  if (/\bProduct(Group)?\b/.test(type)) decisions = decisionsAt(urlOf(node)) ?? about;
  if (/\b(Aggregate)?Offer\b/.test(type) && decisions) updateOffer(node, decisions(text(node.sku)));
  for (const [name, inner] of Object.entries(node)) {
    // A variant among others names itself by its sku.
    const sku = text(node.sku);
    const productDecisions = decisions;
    visit(
      inner,
      decisionsAt,
      productDecisions && name === 'offers' && sku ? (offer) => productDecisions(offer ?? sku) : productDecisions,
    );
  }
}

const text = (value: unknown) => (typeof value === 'string' ? value : undefined);

function urlOf(node: Node): Pick<URL, 'pathname' | 'search'> {
  try {
    return new URL(text(node.url) ?? text(node['@id']) ?? '', document.baseURI);
  } catch {
    return location;
  }
}

function updateOffer(offer: Node, decision: SharedDecision | undefined): void {
  if (!decision) return;
  const { availability, price } = decision;
  offer.availability = SCHEMA + availability;
  for (const name of ['price', 'lowPrice', 'highPrice']) {
    if (!(name in offer)) continue;
    if (price.amount === null) Reflect.deleteProperty(offer, name);
    else if (name !== 'highPrice' && decision.reasons.price.length > 0)
      offer[name] = plainAmount(price.amount, price.currency);
  }
}

function updateMicrodata(elements: readonly Element[], { availability, price, reasons }: SharedDecision): void {
  const isChanged = price.amount === null || reasons.price.length > 0;
  for (const element of elements) {
    if (element.getAttribute('itemprop') === 'availability')
      write(element, element.hasAttribute('href') ? 'href' : 'content', SCHEMA + availability);
    else if (isChanged)
      write(element, 'content', price.amount === null ? '' : plainAmount(price.amount, price.currency));
  }
}
