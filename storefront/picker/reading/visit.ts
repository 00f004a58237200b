import { CART_NAME, CHECKOUT_NAME } from '../words.ts';
import { contains } from '../deep.ts';
import { best } from '../naming.ts';
import { actionOf } from './controls.ts';
import { leadsTo, samePath } from './paths.ts';
import type { PageView } from './pageView.ts';
import { exactly } from './visitPages.ts';

/** Words for the cart in accessible names. */
const CART_WORDS =
  /(^|[^\p{L}])(cart|basket|bag|trolley|panier|warenkorb|korb|carrello|carrito|cesta|carrinho|sacola|mandje|winkelwagen|varukorg|kurv|kori|koszyk|košík|kosár|coș|sepet|корзина|кошик|סל|السلة|عربة|حقيبة|حقيبتي)([^\p{L}]|$)|カート|かご|购物车|購物車|장바구니/iu;

/** Finds the paths of cart and checkout: by addresses, by words, or because product forms post there. */
export function cartPathsOf(
  { elements, url, name }: Pick<PageView, 'elements' | 'url'> & { name: (element: Element) => string },
  submits: readonly Element[],
): string[] {
  const actions = submits.map(actionOf).filter((path) => path !== '');
  return [
    ...new Set(
      elements.flatMap((element) => {
        const to = element.matches('a[href]') ? leadsTo(element) : null;
        if (to?.origin !== url.origin || to.pathname === '/' || CHECKOUT_NAME.test(to.pathname)) return [];
        const isPosted = actions.some(
          (action) => samePath(action, to.pathname) || action.startsWith(`${to.pathname.replace(/\/$/, '')}/`),
        );
        const isCart = isPosted || CART_NAME.test(to.pathname) || CART_WORDS.test(name(element)) || isEmpty(element);
        return isCart ? [to.pathname] : [];
      }),
    ),
  ];
}

/** Says by a nought of any script, standing alone, that there is nothing in it; or shows a trolley. */
const isEmpty = (element: Element) =>
  element.textContent.length <= 40 &&
  [element, ...element.querySelectorAll('*')].some(({ textContent }) => NOTHING.test(textContent));

const NOTHING = /(^|[^\p{L}\p{N},.])[0٠۰०๐](?![\p{N}]|[,.]\p{N}*[1-9])|[🛒🛍]/u;

export interface VisitParts {
  readonly cart?: { path?: string; links: string };
  readonly checkout?: { path: string; links: string };
}

/** The links to the cart and the checkout, or the button that opens the cart. */
export function visitParts(view: PageView, areas: readonly Element[], controls: readonly Element[]): VisitParts {
  const { page, url, elements } = view;
  const outside = elements.filter((element) => !areas.some((area) => contains(area, element)));
  const paths = cartPathsOf({ elements: outside, url, name: (element) => view.name(element) }, controls);
  const isTo = (element: Element, wanted: (path: string) => boolean) => {
    const to = element.matches('a[href]') ? leadsTo(element) : null;
    return to !== null && to.origin === url.origin && !samePath(to.pathname, url.pathname) && wanted(to.pathname);
  };
  const [cartPath] = paths;
  const cart =
    cartPath === undefined ? [] : outside.filter((element) => isTo(element, (path) => samePath(path, cartPath)));
  const checkout = outside.filter((element) => isTo(element, (path) => CHECKOUT_NAME.test(path)));
  const drawer =
    cart.length > 0
      ? []
      : outside
          .filter(
            (element) =>
              element.matches('button, [role=button], a[href^="#"]') &&
              (CART_WORDS.test(view.name(element)) || isEmpty(element)),
          )
          .slice(0, 1);
  const part = (found: readonly Element[]) => best(found, page) ?? best(found.slice(0, 1), page);
  const [links, leads, opens] = [part(cart), part(checkout), part(drawer)];
  const patternOf = (link: Element | undefined) => exactly(link ? (leadsTo(link)?.pathname ?? '') : '');
  return {
    ...(links !== undefined
      ? { cart: { path: patternOf(cart[0]), links } }
      : opens === undefined
        ? {}
        : { cart: { links: opens } }),
    ...(leads === undefined ? {} : { checkout: { path: patternOf(checkout[0]), links: leads } }),
  };
}
