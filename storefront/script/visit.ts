import type { Visit } from '#core/engine/decision.ts';
import type { ScriptPageMap as PageMap } from '#core/contract/pageMap.ts';
import { pageOf } from './areas.ts';
import { mark, place, restore } from './place.ts';
import { findAll } from './roots.ts';

/** Whether the page depends on the visit: it links to cart or checkout, or is one of them. */
export function concernsVisit(pageMap: PageMap): boolean {
  const { cart, checkout } = pageMap;
  const links = [cart?.links, checkout?.links, checkout?.order, checkout?.methods].filter(Boolean).join();
  return pageOf(pageMap) !== null || (links !== '' && findAll(document, links, pageMap).length > 0);
}

/** Applies the visit's decision to cart and checkout; without one they are the shop's own. */
export function applyVisit(visit: Visit | null, pageMap: PageMap): void {
  const page = pageOf(pageMap);
  const closed = page && visit && !visit[page].open ? visit[page] : null;
  if (closed) {
    leaveFor(closed.redirectTo);
    return;
  }
  for (const name of ['cart', 'checkout'] as const) {
    for (const link of findAll(document, pageMap[name]?.links, pageMap)) {
      if (visit && !(visit[name].open && visit.cart.open)) place(link, 'link', true, null);
      else restore(link);
    }
  }
  const { order, methods } = pageMap.checkout ?? {};
  const { show = true, text = null } = visit?.checkout.submitOrder ?? {};
  for (const button of findAll(document, order, pageMap)) {
    if (show) restore(button);
    else place(button, 'order', true, text === null ? null : { tag: 'div', html: text });
  }
  payBy(findAll(document, methods, pageMap), new Set(visit?.checkout.hideMethods));
}

/** Redirects to another page, never to the same one, which would loop. */
export function leaveFor(address: string | null): void {
  const to = new URL(address ?? '/', location.href);
  if (to.pathname !== location.pathname || to.host !== location.host) location.replace(to);
}

/** Shows only the payment methods that are left, and chooses one of them. */
function payBy(methods: readonly Element[], hidden: ReadonlySet<string>): void {
  const fields = methods.map((method) => {
    const field = method.matches('input') ? method : method.querySelector('input');
    const isAway = hidden.has(field?.value ?? method.getAttribute('data-method') ?? '');
    if (isAway) place(method, 'method', true, null);
    else mark(method, 'shown');
    return { field, isAway };
  });
  if (!fields.some(({ field, isAway }) => isAway && field?.checked)) return;
  const left = fields.find(({ isAway }) => !isAway)?.field;
  if (left) left.click();
  else for (const { field } of fields) if (field) field.checked = false;
}
