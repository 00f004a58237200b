import { onListingOf } from '../decide/present.ts';
import { DEFAULT_LABELS } from '../texts/ownWords.ts';
import type { Control, ListingControl, Outcome } from './outcome.ts';
import { speech, textWords, type Names } from './phrases.ts';
import { words, type Segment } from './segment.ts';

/** What a rule says, aspect by aspect. */
export function outcomeSegments(then: Outcome, names: Names): Segment[] {
  const aspects = [
    then.control && controlSegments(then.control, names),
    then.price && [outcome(priceWords(then.price, names), '/then/price')],
    then.express && [outcome(`${then.express} express pay`, '/then/express')],
  ].filter((segments): segments is Segment[] => segments !== undefined);
  if (aspects.length === 0) {
    return [{ kind: 'phrase', about: 'outcome', text: 'nothing is said yet', pointer: '/then', lacking: true }];
  }
  return aspects.flatMap((segments, index) => (index === 0 ? segments : [words('; '), ...segments]));
}

const outcome = (text: string, pointer: string): Segment => ({ kind: 'phrase', about: 'outcome', text, pointer });

function controlSegments(control: Control, names: Names): Segment[] {
  const own = controlWords(control, '/then/control', names);
  if (!control.onListing) return own;
  const pointer = '/then/control/onListing';
  if ('kind' in control.onListing) {
    return [...own, words(', and on listings '), ...controlWords(control.onListing, pointer, names)];
  }
  const listing = onListingOf(control);
  const said = listing.kind === 'notice' ? listing.text : 'label' in listing ? listing.label : undefined;
  return [
    ...own,
    words(' ('),
    outcome(`${said === undefined ? '' : textWords(said, names)} on listings`, pointer),
    words(')'),
  ];
}

function controlWords(control: ListingControl, pointer: string, names: Names): Segment[] {
  switch (control.kind) {
    case 'buy':
      return control.label === undefined
        ? [outcome('keep the button', pointer)]
        : [
            outcome('keep the button', pointer),
            words(', labelled '),
            outcome(textWords(control.label, names), `${pointer}/label`),
          ];
    case 'link':
    case 'signIn': {
      const text = control.label ?? DEFAULT_LABELS[control.kind];
      const tab = control.kind === 'link' && control.newTab === true ? ' in a new tab' : '';
      return [
        outcome(control.kind === 'link' ? 'show a link' : 'ask to sign in', pointer),
        words(' with '),
        outcome(textWords(text, names), `${pointer}/label`),
        words(', leading to '),
        outcome(speech(control.href) + tab, `${pointer}/href`),
      ];
    }
    case 'notice':
      return [
        outcome('say', pointer),
        words(' '),
        outcome(textWords(control.text, names), `${pointer}/text`),
        words(' in the button’s place'),
      ];
    case 'nothing':
      return [outcome('show nothing', pointer), words(' in the button’s place')];
  }
}

function priceWords(price: NonNullable<Outcome['price']>, names: Names): string {
  if (price.show) return 'show the price';
  return price.text === undefined ? 'hide the price' : `in the price’s place say ${textWords(price.text, names)}`;
}
