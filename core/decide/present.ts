import type { DecidedControl } from '../contract/decision.ts';
import type { Control, ListingControl, Outcome } from '../rulebook/outcome.ts';
import { DEFAULT_LABELS } from '../texts/ownWords.ts';
import { href, html, label, type Say } from '../texts/winnersWords.ts';
import type { ShopFacts, Subject } from './subject.ts';

/** What a rule's outcome says to a subject, should it win. */
export interface Present {
  readonly control: (subject: Subject) => DecidedControl;
  readonly priceText: Say | null;
}

const BASE = { label: null, html: null, beside: false, look: null, standing: null } as const;

/** The shop's own control, which stands where no rule speaks. */
export const OWN_CONTROL: DecidedControl = { kind: 'buy', ...BASE };

/** Prepares the words of a rule's outcome. */
export function preparePresent(then: Outcome, shop: ShopFacts): Present {
  const onPage = then.control ? prepareControl(then.control, shop) : () => OWN_CONTROL;
  const onListing = then.control ? prepareControl(onListingOf(then.control), shop) : onPage;
  return {
    control: (subject) => (subject.surface === 'listing' ? onListing(subject) : onPage(subject)),
    priceText: then.price?.show === false && then.price.text !== undefined ? html(then.price.text, shop) : null,
  };
}

/** The control as it stands on listings: another one where `onListing` names its kind, else the same with other words. */
export function onListingOf(control: Control): ListingControl {
  const { onListing, ...own } = control;
  if (onListing === undefined) return own;
  return 'kind' in onListing ? onListing : { ...own, ...onListing };
}

function prepareControl(control: ListingControl, shop: ShopFacts): (subject: Subject) => DecidedControl {
  switch (control.kind) {
    case 'buy': {
      const words = control.label === undefined ? null : label(control.label, shop);
      return (subject) => ({ ...OWN_CONTROL, label: words?.(subject) ?? null });
    }
    case 'link':
    case 'signIn': {
      const words = label(control.label ?? DEFAULT_LABELS[control.kind], shop);
      const address = href(control.href, shop);
      const newTab = control.kind === 'link' && control.newTab === true;
      return (subject) => ({
        kind: control.kind,
        ...BASE,
        label: words(subject),
        href: address(subject),
        newTab,
      });
    }
    case 'notice': {
      const words = html(control.text, shop);
      return (subject) => ({ kind: 'notice', ...BASE, html: words(subject) });
    }
    case 'nothing':
      return () => ({ kind: 'nothing', ...BASE });
  }
}
