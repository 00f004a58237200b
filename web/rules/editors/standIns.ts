import { isSafeHref, isWebHref } from '#core/texts/href.ts';
import { textFault } from '#core/texts/placeholders.ts';
import type { ControlKind, ListingControl } from '#core/rulebook/outcome.ts';
import type { LocalisedText } from '#core/rulebook/localisedText.ts';

/** A stand-in as it is being written: all that any kind needs, complete or not. */
export interface Writing {
  readonly kind: ControlKind;
  readonly label: LocalisedText | undefined;
  readonly text: LocalisedText | undefined;
  readonly href: string;
  readonly newTab: boolean;
}

export const KINDS: readonly { value: ControlKind; label: string }[] = [
  { value: 'buy', label: 'The button' },
  { value: 'link', label: 'A link' },
  { value: 'signIn', label: 'A sign-in prompt' },
  { value: 'notice', label: 'A line of text' },
  { value: 'nothing', label: 'Nothing' },
];

export function writingOf(control: ListingControl | undefined): Writing {
  return {
    kind: control?.kind ?? 'buy',
    label: control && 'label' in control ? control.label : undefined,
    text: control && 'text' in control ? control.text : undefined,
    href: control && 'href' in control ? control.href : '',
    newTab: control?.kind === 'link' && control.newTab === true,
  };
}

/** What a rule can say of it; null while something is missing. */
export function toControl({ kind, label, text, href, newTab }: Writing): ListingControl | null {
  const labelled = label === undefined ? {} : { label };
  switch (kind) {
    case 'buy':
      return { kind, ...labelled };
    case 'link':
      return hrefFault(kind, href) ? null : { kind, ...labelled, href, ...(newTab ? { newTab } : {}) };
    case 'signIn':
      return hrefFault(kind, href) ? null : { kind, ...labelled, href };
    case 'notice':
      return text === undefined ? null : { kind, text };
    case 'nothing':
      return { kind };
  }
}

/** What is wrong with where a stand-in leads; null when nothing is. */
export function hrefFault(kind: 'link' | 'signIn', href: string): string | null {
  const isAllowed = kind === 'link' ? isSafeHref(href) : isWebHref(href);
  if (isAllowed) return textFault(href);
  return kind === 'link'
    ? 'An address that begins with https://, mailto:, tel: or /'
    : 'An address that begins with https:// or /';
}
