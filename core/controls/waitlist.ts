import { z } from 'zod';
import { words } from '../facts/segment.ts';
import { speech } from '../facts/wording.ts';
import { isWebHref } from '../texts/href.ts';
import { WebHref } from '../texts/hrefSchema.ts';
import { LocalisedText } from '../texts/localisedTextSchema.ts';
import { href, html } from '../texts/textRenderers.ts';
import { beside, defineControl, kind, labelled, shared, LABELLED } from './control.ts';
import { outcome, quoting, term } from './telling.ts';

/** Shoppers leave their names, and are invited in turn. */
export const waitlist = defineControl({
  kind: 'waitlist',
  schema: z.strictObject({
    ...kind('waitlist'),
    ...labelled,
    ...beside,
    per: z.enum(['variant', 'product']),
    text: LocalisedText.optional(),
    joinedText: LocalisedText.optional(),
    account: z.enum(['optional', 'required']).optional(),
    /** Where visitors without an account sign in or create one. */
    signInAt: WebHref.optional(),
  }),
  decided: z.strictObject({
    ...kind('waitlist'),
    ...shared,
    per: z.enum(['variant', 'product']),
    length: z.int().min(0).describe('People waiting'),
    account: z.enum(['optional', 'required']),
    signInAt: z.string().nullable().describe('Where those without an account sign in or get one'),
  }),
  resolve: ({ per, account = 'optional', text, signInAt }, { shop, parts }) => {
    const render = text === undefined ? null : html(text, shop);
    const signIn = signInAt ?? shop.signInAt;
    const address = signIn === undefined ? null : href(signIn, shop, isWebHref);
    return (subject) => ({
      kind: 'waitlist' as const,
      ...parts(subject),
      html: render?.(subject) ?? null,
      per,
      length: (per === 'product' ? subject.product : subject.variant).waiting,
      account,
      signInAt: address?.(subject) ?? null,
    });
  },
  lacksSignIn: ({ account, signInAt }, shop) => account === 'required' && (signInAt ?? shop.signInAt) === undefined,
  name: 'a waitlist',
  shortName: 'waitlist',
  shape: 'dashed',
  defaultLabel: 'label.waitlist',
  texts: {
    'label.waitlist': {
      en: 'Join the waitlist',
      fr: 'Rejoindre la liste d’attente',
      de: 'Auf die Warteliste',
      es: 'Unirse a la lista de espera',
      it: 'Entra in lista d’attesa',
      nl: 'Op de wachtlijst',
      pt: 'Entrar na lista de espera',
      pl: 'Zapisz się na listę',
      sv: 'Ställ dig på väntelistan',
      ja: '入荷待ちに登録',
    },
  },
  sells: false,
  awaitsStock: true,
  takesRequests: true,
  statusText: ({ joinedText }) => joinedText,
  formTitle: 'label',
  refusal: 'notForSale',
  availability: 'OutOfStock',
  listingOrder: 1,
  answers: ['waiting', 'invited'],
  verb: ({ per }, { pointer }) => [
    outcome('keep a waitlist', pointer),
    words(' '),
    outcome(per === 'variant' ? 'for each variant' : 'for the product as a whole', `${pointer}/per`),
  ],
  labelled: ', labelled ',
  terms: ({ text, joinedText, account, signInAt }, telling) => [
    ...term(quoting('with the text', text, telling), 'text', telling),
    ...term(quoting('showing', joinedText, telling, ' after joining'), 'joinedText', telling),
    ...term(account === 'required' && 'only with an account', 'account', telling),
    ...term(signInAt !== undefined && `created at ${speech(signInAt)}`, 'signInAt', telling),
  ],
  details: ({ length, account }) => [`${length} waiting`, account === 'required' && 'account needed'],
  offered: {
    label: 'A waitlist',
    means: 'Shoppers leave their names, and you invite them in turn.',
    first: { kind: 'waitlist', per: 'variant' },
    parts: [...LABELLED, 'per', 'text', 'joinedText', 'account', 'signInAt'],
  },
});
