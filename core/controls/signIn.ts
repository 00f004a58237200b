import { speakingIn } from '../facts/wording.ts';
import { shopTextInAll } from '../texts/shopTexts.ts';
import { z } from 'zod';
import { speech, textWords } from '../facts/wording.ts';
import { isWebHref } from '../texts/href.ts';
import { WebHref } from '../texts/hrefSchema.ts';
import { LocalisedText } from '../texts/localisedTextSchema.ts';
import { href, label } from '../texts/textRenderers.ts';
import { beside, defineControl, kind, labelled, shared } from './control.ts';
import { term, verb } from './telling.ts';

/** Shoppers are asked to sign in; those who are signed in, to join. */
export const signIn = defineControl({
  kind: 'signIn',
  schema: z.strictObject({
    ...kind('signIn'),
    ...labelled,
    ...beside,
    href: WebHref,
    /** For those who are signed in, and still may not buy. */
    join: z.strictObject({ href: WebHref, label: LocalisedText.optional() }).optional(),
  }),
  decided: z.strictObject({ ...kind('signIn'), ...shared, href: z.string().nullable(), newTab: z.boolean() }),
  resolve: (control, { shop, parts }) => {
    const address = href(control.href, shop, isWebHref);
    const join = control.join && {
      address: href(control.join.href, shop, isWebHref),
      label: label(control.join.label ?? shopTextInAll('label.join', shop), shop),
    };
    return (subject) => ({
      kind: 'signIn' as const,
      ...parts(subject),
      ...(join && subject.visitor.signedIn
        ? { label: join.label(subject), href: join.address(subject) }
        : { href: address(subject) }),
      newTab: false,
    });
  },
  name: 'a sign-in prompt',
  shortName: 'sign in',
  defaultLabel: 'label.signIn',
  sells: false,
  leadsTo: ({ href, join }) => [href, ...(join ? [join.href] : [])],
  isShopOnly: true,
  refusal: 'signInFirst',
  isClosure: true,
  listingOrder: 4,
  answers: ['invited'],
  verb: verb('ask to sign in'),
  labelled: ', labelled ',
  terms: (control, telling) => [
    ...term(`leading to ${speech(control.href)}`, 'href', telling),
    ...term(
      control.join &&
        `for signed-in customers labelled ${textWords(control.join.label ?? shopTextInAll('label.join', speakingIn(telling.names)), telling.names)}, leading to ${speech(control.join.href)}`,
      'join',
      telling,
    ),
  ],
});
