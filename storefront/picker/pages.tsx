import type { View } from './view.ts';
import { allOf } from './deep.ts';
import { foundOn, PARTS, type Part } from './parts.ts';
import type { Draft, PageKind } from './reading/reading.ts';

/** A page that a shop may have, what it is called, and what a map should find on it. */
interface PageToRead {
  readonly kind: PageKind;
  readonly name: string;
  readonly parts: readonly Part['key'][];
  /** The link on this page that leads to one, where there is one. */
  readonly linkIn?: (map: Draft) => Element | undefined;
}

const linkTo = (selector: string | undefined): Element | undefined =>
  selector === undefined ? undefined : allOf(document, selector).find((element) => element.matches('a[href]'));

const PAGES: readonly PageToRead[] = [
  {
    kind: 'product',
    name: 'a product’s page',
    parts: ['productPage', 'control', 'price'],
    linkIn: ({ card }) => linkTo(card && `:is(${card.area}) :is(${card.link}), :is(${card.area}):is(${card.link})`),
  },
  { kind: 'listing', name: 'a listing', parts: ['card', 'cardLink'] },
  { kind: 'search', name: 'what a search finds', parts: ['card', 'cardLink'] },
  { kind: 'quickView', name: 'a quick view', parts: ['quickView'] },
  { kind: 'cart', name: 'the cart', parts: ['cartLine', 'checkoutLinks'], linkIn: ({ cart }) => linkTo(cart?.links) },
  {
    kind: 'checkout',
    name: 'the checkout',
    parts: ['order', 'methods'],
    linkIn: ({ checkout }) => linkTo(checkout?.links),
  },
];

const list = (names: readonly string[]) => new Intl.ListFormat('en').format(names);

/** Parts found on this page, and those missing. */
export function PageRead({ view: { map, read } }: { readonly view: View }) {
  if (!read) return null;
  const pages = PAGES.filter(({ kind }) => read.kinds.includes(kind));
  if (pages.length === 0)
    return (
      <small>
        No product, cart or checkout was found here. If there is one, press its lines below and show each part; a cart
        must have something in it.
      </small>
    );
  const added = PARTS.filter((part) => part.read(read.before) === undefined && part.read(map) !== undefined);
  const missing = PARTS.filter(
    (part) =>
      pages.some(({ parts }) => parts.includes(part.key)) &&
      foundOn(document, location.pathname, map, part).length === 0,
  );
  return (
    <small>
      {`Read as ${list(pages.map(({ name }) => name))}.`}
      {added.length > 0 && ` New: ${list(added.map(({ name }) => name))}.`}
      {missing.length > 0 && ` Not found: ${list(missing.map(({ name }) => name))}; press its line to show it.`}
    </small>
  );
}

/** Kinds of page read so far, with links to the others. */
export function PagesToRead({ view: { map, seen } }: { readonly view: View }) {
  const left = PAGES.filter(({ kind }) => !seen.includes(kind));
  if (left.length === 0) return <small>Every kind of page has been read.</small>;
  return (
    <small id="pages-to-read">
      {'Open these too, if the shop has them: '}
      {left.map(({ kind, name, linkIn }, index) => {
        const href = linkIn?.(map)?.getAttribute('href');
        return (
          <>
            {index > 0 && ', '}
            {href ? (
              <a key={kind} href={href}>
                {name}
              </a>
            ) : (
              <span key={kind}>{name}</span>
            )}
          </>
        );
      })}
      . Each is read as it opens.
    </small>
  );
}
