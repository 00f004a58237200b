import { z } from 'zod';
import { outcome } from '../controls/telling.ts';
import { joined, quoted, textWords, type Names } from '../facts/wording.ts';
import { WebHref } from '../texts/hrefSchema.ts';
import { LocalisedText } from '../texts/localisedTextSchema.ts';
import { html } from '../texts/textRenderers.ts';
import { defineVisitAspect, Html, optional, unionOf } from './aspect.ts';
import { doorChanges, redirect, sending } from './redirect.ts';

const Checkout = z
  .strictObject({
    open: z.boolean().optional(),
    redirectTo: WebHref.optional(),
    submitOrder: z.strictObject({ show: z.boolean(), text: LocalisedText.optional() }).optional(),
    hideMethods: z.array(z.string().min(1).max(100)).min(1).max(100).optional(),
  })
  .refine(
    ({ open, submitOrder, hideMethods }) =>
      open !== undefined || submitOrder !== undefined || hideMethods !== undefined,
    'at least one of open, submitOrder and hideMethods',
  );

const DecidedCheckout = z.strictObject({
  open: z.boolean(),
  redirectTo: z.string().nullable(),
  submitOrder: z.strictObject({ show: z.boolean(), text: Html.nullable() }),
  hideMethods: z.array(z.string()),
});

/** Whether an order can be placed, and which payment methods are offered. */
export const checkout = defineVisitAspect({
  schema: Checkout,
  decided: DecidedCheckout,
  prepare: ({ open, redirectTo, submitOrder, hideMethods }, shop) => ({
    open: open ?? true,
    redirectTo: redirect(redirectTo, shop),
    showsSubmitOrder: submitOrder?.show ?? true,
    submitOrderText: optional(submitOrder?.text, (text) => html(text, shop)),
    hideMethods: hideMethods ?? [],
  }),
  resolve: (winner, subject) => ({
    open: winner?.open ?? true,
    redirectTo: winner?.redirectTo?.(subject) ?? null,
    submitOrder: { show: winner?.showsSubmitOrder ?? true, text: winner?.submitOrderText?.(subject) ?? null },
    hideMethods: winner?.hideMethods ?? [],
  }),
  // The strictest of each: what is closed or hidden for any line. What it says and where it leads are that one's.
  join: (all) => {
    const { open, redirectTo } = all.find((one) => !one.open) ?? all[0];
    const { submitOrder } = all.find((one) => !one.submitOrder.show) ?? all[0];
    return { open, redirectTo, submitOrder, hideMethods: unionOf(all.map(({ hideMethods }) => hideMethods)) };
  },
  name: 'the checkout',
  shortName: 'checkout',
  changes: (before, after, nameOfMethod) => [
    ...doorChanges('checkout', before, after),
    ...buttonChanges(before.submitOrder, after.submitOrder),
    ...methodChanges(before.hideMethods, after.hideMethods, nameOfMethod),
  ],
  phrases: (value, names) => [outcome(wordsOf(value, names), '/then/checkout')],
});

function wordsOf({ open, redirectTo, submitOrder, hideMethods }: z.infer<typeof Checkout>, names: Names): string {
  const parts = [
    open !== undefined && (open ? 'keep the checkout open' : 'close the checkout'),
    submitOrder && `${submitOrder.show ? 'show' : 'hide'} the order button`,
    submitOrder?.text !== undefined && `saying ${textWords(submitOrder.text, names)}`,
    hideMethods &&
      `hide the payment method${hideMethods.length > 1 ? 's' : ''} ${joined(hideMethods.map(quoted), 'and')}`,
  ].filter((part) => typeof part === 'string');
  return parts.join(', ') + sending(redirectTo);
}

type Button = z.infer<typeof DecidedCheckout>['submitOrder'];

function buttonChanges(before: Button, after: Button): string[] {
  const saying = after.text === null ? '' : `, with “${withoutTags(after.text)}” in its place`;
  if (before.show !== after.show)
    return [after.show ? 'the order button is shown' : `the order button is hidden${saying}`];
  if (after.show || before.text === after.text) return [];
  return [
    after.text === null ? 'nothing is said in the order button’s place' : `the order button stays hidden${saying}`,
  ];
}

const withoutTags = (html: string) =>
  html
    .replace(/<[^>]*>/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();

function methodChanges(
  before: readonly string[],
  after: readonly string[],
  nameOf: (code: string) => string,
): string[] {
  const phrase = (codes: readonly string[], words: (names: string, verb: 'is' | 'are') => string) =>
    codes.length === 0
      ? []
      : [words(new Intl.ListFormat('en').format(codes.map(nameOf)), codes.length === 1 ? 'is' : 'are')];
  return [
    ...phrase(
      after.filter((code) => !before.includes(code)),
      (names, verb) => `payment by ${names} ${verb} hidden`,
    ),
    ...phrase(
      before.filter((code) => !after.includes(code)),
      (names, verb) => `payment by ${names} ${verb} shown again`,
    ),
  ];
}
