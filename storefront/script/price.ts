import type { SharedDecision } from '#core/engine/decision.ts';
import type { ScriptTexts } from './settings.ts';
import type { StandIn } from './place.ts';

type Price = SharedDecision['price'];

/** Exponent of the currency's minor unit. */
const exponentOf = (currency: string) =>
  new Intl.NumberFormat('en', { style: 'currency', currency }).resolvedOptions().maximumFractionDigits ?? 2;

/** An amount in the currency's own units, with a point, as structured data has it. */
export const plainAmount = (minor: number, currency: string): string => {
  const exponent = exponentOf(currency);
  return (minor / 10 ** exponent).toFixed(exponent);
};

/** Stand-in for the price; null if the shop's own price is right. */
export function priceStandIn(price: Price, isDecided: boolean, texts: ScriptTexts): StandIn | null {
  if (!price.show) return price.text === null ? null : { tag: 'span', html: price.text };
  if (!isDecided || price.amount === null) return null;
  const { lang } = document.documentElement;
  const money = new Intl.NumberFormat(lang || undefined, { style: 'currency', currency: price.currency });
  const format = (minor: number) => money.format(minor / 10 ** exponentOf(price.currency));
  const from = price.from ? texts.from : '';
  return {
    tag: 'span',
    text: [from, format(price.amount), price.suffix].filter(Boolean).join(' '),
    ...(price.was === null ? {} : { struck: format(price.was) }),
  };
}
