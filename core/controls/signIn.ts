import { speakingIn } from '../facts/wording.ts';
import { ownTextInAll } from '../texts/shopTexts.ts';
import { z } from 'zod';
import { speech, textWords } from '../facts/wording.ts';
import { isWebHref } from '../texts/href.ts';
import { WebHref } from '../texts/hrefSchema.ts';
import { LocalisedText } from '../texts/localisedTextSchema.ts';
import { href, label } from '../texts/textRenderers.ts';
import { beside, defineControl, kind, labelled, shared, LABELLED } from './control.ts';
import { term, verb } from './telling.ts';

const TEXTS = {
  'label.signIn': {
    en: 'Sign in to buy',
    fr: 'Se connecter pour acheter',
    de: 'Zum Kaufen anmelden',
    es: 'Iniciar sesión para comprar',
    it: 'Accedi per acquistare',
    nl: 'Inloggen om te kopen',
    pt: 'Iniciar sessão para comprar',
    pl: 'Zaloguj się, aby kupić',
    sv: 'Logga in för att köpa',
    ja: 'ログインして購入',
  },
  'label.join': {
    en: 'See how to join',
    fr: 'Voir comment adhérer',
    de: 'So werden Sie Mitglied',
    es: 'Ver cómo hacerse socio',
    it: 'Come diventare socio',
    nl: 'Zo word je lid',
    pt: 'Ver como aderir',
    pl: 'Zobacz, jak dołączyć',
    sv: 'Så blir du medlem',
    ja: '会員になるには',
  },
} as const;

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
      label: label(control.join.label ?? ownTextInAll('label.join', TEXTS['label.join'], shop), shop),
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
  shape: 'tab',
  defaultLabel: 'label.signIn',
  texts: TEXTS,
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
        `for signed-in customers labelled ${textWords(control.join.label ?? ownTextInAll('label.join', TEXTS['label.join'], speakingIn(telling.names)), telling.names)}, leading to ${speech(control.join.href)}`,
      'join',
      telling,
    ),
  ],
  offered: {
    label: 'A sign-in prompt',
    means: 'Shoppers are asked to sign in first.',
    first: { kind: 'signIn', href: '/sign-in' },
    parts: [...LABELLED, 'href', 'join'],
  },
});
