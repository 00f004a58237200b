import type { Page } from '@playwright/test';
import type { PageMap } from '#core/contract/pageMap.ts';
import type { Decision } from '#core/engine/decision.ts';

/** One product as a shopper sees it on the sample shop. */
export interface Sight {
  /** The shop's own control: its words, or null where it is out of sight. */
  readonly control: string | null;
  /** Stand-in in its place or beside it. */
  readonly standIn: { readonly tag: string; readonly text: string; readonly href: string | null } | null;
  readonly price: string | null;
  readonly express: boolean | null;
  readonly quantity: { readonly min: string | null; readonly max: string | null; readonly step: string | null } | null;
  readonly stock: boolean | null;
  /** Place and words, sorted. */
  readonly notes: readonly string[];
  readonly style: readonly string[];
}

/** Reads what the page shows, shadow roots looked into, in the area around a product. */
export const sightOf = (
  page: Page,
  map: PageMap,
  { area, path }: { area: string; path?: string },
): Promise<Sight | null> =>
  page.evaluate(
    ({ map, area, path }) => {
      const roots = (tree: ParentNode): ParentNode[] => [
        tree,
        ...[...tree.querySelectorAll('*')].flatMap(({ shadowRoot }) => (shadowRoot ? roots(shadowRoot) : [])),
      ];
      const shadowRoots = (element: Element): ParentNode[] => [
        ...roots(element),
        ...(element.shadowRoot ? roots(element.shadowRoot) : []),
      ];
      const areas = roots(document).flatMap((tree) => [...tree.querySelectorAll(area)]);
      const around = areas.find(
        (one) =>
          path === undefined ||
          one.getAttribute('data-href') === path ||
          shadowRoots(one).some((tree) => tree.querySelector(`a[href="${path}"]`)),
      );
      if (!around) return null;
      const others = map.card.area;
      const all = (selector: string | undefined) =>
        shadowRoots(around)
          .flatMap((tree) => (selector === undefined ? [] : [...tree.querySelectorAll(selector)]))
          .filter((element) => path !== undefined || !nearest(element, others));
      const nearest = (element: Element, selector: string): Element | null => {
        for (let at: Element | null = element; at;) {
          const found = at.closest(selector);
          if (found) return found;
          const root = at.getRootNode();
          at = root instanceof ShadowRoot ? root.host : null;
        }
        return null;
      };
      const text = (element: Element) => element.textContent.replace(/\s+/g, ' ').trim();
      const isSeen = (element: Element) => element.checkVisibility({ visibilityProperty: true });
      const first = (selector: string | undefined) =>
        all(selector).find((element) => !element.hasAttribute('data-understudy-stand-in'));
      const standInOf = (part: string) => all(`[data-understudy-stand-in=${part}]`)[0];
      const control = first(map.control);
      const express = first(map.express);
      const stock = first(map.stock);
      const price = first(map.price);
      const box = first(map.quantity) as HTMLInputElement | undefined;
      const standIn = standInOf('control');
      const priceShown = standInOf('price') ?? (price && isSeen(price) ? price : undefined);
      return {
        control: control && isSeen(control) ? text(control) : null,
        standIn: standIn ? { tag: standIn.localName, text: text(standIn), href: standIn.getAttribute('href') } : null,
        price: priceShown ? text(priceShown) : null,
        express: express ? isSeen(express) : null,
        quantity:
          box && isSeen(box)
            ? { min: box.getAttribute('min'), max: box.getAttribute('max'), step: box.getAttribute('step') }
            : null,
        stock: stock ? isSeen(stock) : null,
        notes: all('[data-understudy-stand-in=note]')
          .filter((note) => !note.shadowRoot)
          .map((note) => `${note.getAttribute('data-place') ?? ''}: ${text(note)}`)
          .sort(),
        style: [...around.classList].sort(),
      };
    },
    { map, area, path },
  );

/** Page without any rules. */
export type Original = Sight;

/** Markup as its words. */
export const wordsOf = (html: string) =>
  html
    .replace(/<[^>]*>/g, ' ')
    .replace(/&lt;/g, '<')
    .replace(/&gt;/g, '>')
    .replace(/&quot;/g, '"')
    .replace(/&#39;/g, "'")
    .replace(/&amp;/g, '&')
    .replace(/\s+/g, ' ')
    .trim();

const SOLD: readonly string[] = ['buy', 'preorder', 'ownPrice', 'severalAtOnce'];

export interface Where {
  readonly surface: 'product' | 'listing' | 'quickView';
  readonly path: string;
  /** Chosen where the product is bought. */
  readonly variant: string;
  readonly understudy: string;
  /** Whether the visit takes no orders. */
  readonly isShut: boolean;
}

/** Expected view according to the proof, from the page without rules. */
export function expectedSight(
  original: Original,
  decision: Omit<Decision, 'productId' | 'variantId' | 'surface'>,
  where: Where,
): Sight {
  const { control, price, express, limits, notes, style } = decision;
  const byCart = (control.kind === 'buy' || control.kind === 'preorder') && !control.beside;
  const isInline = control.kind === 'enquiry' && control.open === 'inline' && where.surface !== 'listing';
  const isSold = SOLD.includes(control.kind) || control.beside || express === 'show';
  const waiting =
    control.kind === 'waitlist' ? `${control.html ?? ''}${control.length > 0 ? ` ${control.length} waiting` : ''}` : '';
  const money = (minor: number) =>
    new Intl.NumberFormat('en', { style: 'currency', currency: price.currency }).format(minor / 100);
  const priceWords = !price.show
    ? price.text === null
      ? null
      : wordsOf(price.text)
    : decision.reasons.price.length === 0 || price.amount === null
      ? original.price
      : [price.from ? 'from' : '', money(price.amount), price.suffix, price.was === null ? '' : money(price.was)]
          .filter(Boolean)
          .join(' ')
          .replace(/\s+/g, ' ');
  const isLimited = limits.min !== 1 || limits.max !== null || limits.step !== 1;
  const most = Math.min(limits.max ?? Infinity, Number(original.quantity?.max ?? Infinity));
  return {
    control: byCart
      ? control.label === null
        ? original.control
        : wordsOf(control.label)
      : control.beside
        ? original.control
        : null,
    standIn: byCart || control.kind === 'nothing' || isInline ? null : standIn(control, where),
    price: priceWords,
    express: original.express === null ? null : express === 'show' && !where.isShut,
    quantity:
      original.quantity === null || !(isSold || control.kind === 'quote')
        ? null
        : isLimited
          ? { min: String(limits.min), max: most === Infinity ? null : String(most), step: String(limits.step) }
          : original.quantity,
    stock: original.stock === null ? null : isSold,
    notes: [
      ...(waiting === '' ? [] : [`belowControl: ${wordsOf(waiting)}`]),
      ...notes.map(({ place, html }) => `${place}: ${wordsOf(html)}`),
    ].sort(),
    style: [...new Set([...original.style, ...style])].sort(),
  };
}

function standIn(control: Decision['control'], { path, variant, surface, understudy }: Where): Sight['standIn'] {
  if (control.kind === 'notice') return { tag: 'div', text: wordsOf(control.html ?? ''), href: null };
  const about = new URLSearchParams({ path, ...(surface !== 'listing' ? { variant } : {}) });
  const page = control.kind === 'enquiry' && typeof control.form !== 'string' ? control.form.page : null;
  const href = 'href' in control ? control.href : (page ?? `${understudy}/ask/${control.kind}?${about.toString()}`);
  return { tag: 'a', text: wordsOf(control.label ?? ''), href };
}
