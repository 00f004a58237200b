import type { MessageEvent } from './messageEvents.ts';

type Words = Readonly<Record<'en' | 'fr', string>>;

/** What messages say as long as the owner has not written other words. Bodies are Markdown. */
export const DEFAULT_TEMPLATES: Readonly<Record<MessageEvent, { readonly subject: Words; readonly body: Words }>> = {
  'pageMap.broken': {
    subject: {
      en: 'Understudy no longer finds something on your shop’s pages',
      fr: 'Understudy ne trouve plus un élément des pages de votre boutique',
    },
    body: {
      en: 'A part of your shop’s pages is not where the page map says: {parts}.\n\nUntil it is put right, the shop shows its own controls there; the guard still refuses what your rules withhold.\n\n[Put it right]({link})',
      fr: 'Une partie des pages de votre boutique n’est plus là où le plan l’indique : {parts}.\n\nEn attendant, la boutique y montre ses propres boutons ; le contrôle refuse toujours ce que vos règles retiennent.\n\n[Corriger]({link})',
    },
  },
  'waitlist.confirm': {
    subject: {
      en: 'Please confirm: the waitlist for {product}',
      fr: 'Merci de confirmer : la liste d’attente pour {product}',
    },
    body: {
      en: 'Somebody, we hope you, asked to join the waitlist for **{product}** with this address.\n\n[Yes, put me on the list]({link})\n\nIf it was not you, do nothing: this address is kept nowhere.\n\n{shop}',
      fr: 'Quelqu’un, vous sans doute, a demandé à rejoindre la liste d’attente pour **{product}** avec cette adresse.\n\n[Oui, inscrivez-moi]({link})\n\nSi ce n’était pas vous, ne faites rien : cette adresse n’est conservée nulle part.\n\n{shop}',
    },
  },
  'waitlist.joined': {
    subject: { en: 'You are on the waitlist for {product}', fr: 'Vous êtes sur la liste d’attente pour {product}' },
    body: {
      en: 'Hello {name},\n\nyou are number **{position}** of {length} on the waitlist for **{product}**. We write to you when it is your turn.\n\n[Leave the list]({leave})\n\n{shop}',
      fr: 'Bonjour {name},\n\nvous êtes au rang **{position}** sur {length} de la liste d’attente pour **{product}**. Nous vous écrirons quand ce sera votre tour.\n\n[Quitter la liste]({leave})\n\n{shop}',
    },
  },
  'waitlist.invited': {
    subject: { en: 'It is your turn: {product}', fr: 'C’est votre tour : {product}' },
    body: {
      en: 'Hello {name},\n\nyou waited for **{product}**, and it is your turn. It is kept for you until **{until}**.\n\n[Buy it now]({link})\n\nNo longer interested? [Let the next person have it]({leave})\n\n{shop}',
      fr: 'Bonjour {name},\n\nvous attendiez **{product}**, et c’est votre tour. Il vous est réservé jusqu’au **{until}**.\n\n[L’acheter maintenant]({link})\n\nPlus intéressé ? [Le laisser à la personne suivante]({leave})\n\n{shop}',
    },
  },
  'waitlist.lapsed': {
    subject: { en: 'Your turn has passed: {product}', fr: 'Votre tour est passé : {product}' },
    body: {
      en: 'Hello {name},\n\n**{product}** was kept for you, and the time is over, so the next person has their turn. You may join the list again whenever you like.\n\n{shop}',
      fr: 'Bonjour {name},\n\n**{product}** vous était réservé et le délai est écoulé : c’est le tour de la personne suivante. Vous pouvez rejoindre la liste quand vous le souhaitez.\n\n{shop}',
    },
  },
  'waitlist.new': {
    subject: { en: '{who} waits for {product}', fr: '{who} attend {product}' },
    body: {
      en: '**{who}** joined the waitlist for **{product}**, which now has {length, plural, one {one person} other {# people}}.\n\n[See the list]({link})',
      fr: '**{who}** a rejoint la liste d’attente pour **{product}**, qui compte maintenant {length, plural, one {une personne} other {# personnes}}.\n\n[Voir la liste]({link})',
    },
  },
  'preorder.reserved': {
    subject: { en: 'Reserved for you: {product}', fr: 'Réservé pour vous : {product}' },
    body: {
      en: 'Hello {name},\n\nwe have reserved **{units} × {product}** for you with order {order}. {ships}\n\n{shop}',
      fr: 'Bonjour {name},\n\nnous avons réservé **{units} × {product}** pour vous avec la commande {order}. {ships}\n\n{shop}',
    },
  },
  'preorder.moved': {
    subject: { en: 'A new date for {product}', fr: 'Une nouvelle date pour {product}' },
    body: {
      en: 'Hello {name},\n\nthe date of **{units} × {product}** (order {order}) has moved. {ships}\n\n{words}\n\n{shop}',
      fr: 'Bonjour {name},\n\nla date de **{units} × {product}** (commande {order}) a changé. {ships}\n\n{words}\n\n{shop}',
    },
  },
  'preorder.allocated': {
    subject: { en: 'It is here: {product}', fr: 'C’est arrivé : {product}' },
    body: {
      en: 'Hello {name},\n\n**{units} × {product}** of order {order} are here and set aside for you. We send them next.\n\n{shop}',
      fr: 'Bonjour {name},\n\n**{units} × {product}** de la commande {order} sont arrivés et mis de côté pour vous. Nous vous les envoyons.\n\n{shop}',
    },
  },
  'preorder.cancelled': {
    subject: { en: 'Your reservation of {product} is cancelled', fr: 'Votre réservation de {product} est annulée' },
    body: {
      en: 'Hello {name},\n\nthe reservation of **{units} × {product}** (order {order}) is cancelled.\n\n{shop}',
      fr: 'Bonjour {name},\n\nla réservation de **{units} × {product}** (commande {order}) est annulée.\n\n{shop}',
    },
  },
  'enquiry.asked': {
    subject: { en: 'Your question about {product}', fr: 'Votre question sur {product}' },
    body: {
      en: 'Hello {name},\n\nwe have your question about **{product}** and will answer you.\n\n{shop}',
      fr: 'Bonjour {name},\n\nnous avons bien reçu votre question sur **{product}** et vous répondrons.\n\n{shop}',
    },
  },
  'enquiry.answered': {
    subject: { en: 'Our answer about {product}', fr: 'Notre réponse sur {product}' },
    body: {
      en: 'Hello {name},\n\nyou asked about **{product}**:\n\n{words}\n\n{shop}',
      fr: 'Bonjour {name},\n\nvous nous avez interrogés sur **{product}** :\n\n{words}\n\n{shop}',
    },
  },
  'enquiry.new': {
    subject: { en: '{who} asks about {product}', fr: '{who} a une question sur {product}' },
    body: {
      en: '**{who}** asks about **[{product}]({page})**:\n\n{words}\n\n[Answer]({link}), or reply to this e-mail: it goes to {email}.',
      fr: '**{who}** a une question sur **[{product}]({page})** :\n\n{words}\n\n[Répondre]({link}), ou répondez à cette lettre : elle ira à {email}.',
    },
  },
  'quote.asked': {
    subject: { en: 'We have your request for a price', fr: 'Nous avons reçu votre demande de prix' },
    body: {
      en: 'Hello {name},\n\nwe will price {lines, plural, one {one line} other {# lines}} and write to you.\n\n[See your request]({link})\n\n{shop}',
      fr: 'Bonjour {name},\n\nnous chiffrerons {lines, plural, one {une ligne} other {# lignes}} et vous écrirons.\n\n[Voir votre demande]({link})\n\n{shop}',
    },
  },
  'quote.priced': {
    subject: { en: 'Your quote: {total}', fr: 'Votre devis : {total}' },
    body: {
      en: 'Hello {name},\n\nwe offer you what you asked for at **{total}**, until **{until}**.\n\n{words}\n\n[See, accept or decline it]({link})\n\n{shop}',
      fr: 'Bonjour {name},\n\nnous vous proposons ce que vous avez demandé à **{total}**, jusqu’au **{until}**.\n\n{words}\n\n[Le voir, l’accepter ou le refuser]({link})\n\n{shop}',
    },
  },
  'quote.turnedDown': {
    subject: { en: 'About your request for a price', fr: 'À propos de votre demande de prix' },
    body: {
      en: 'Hello {name},\n\nwe cannot offer you what you asked for.\n\n{words}\n\n{shop}',
      fr: 'Bonjour {name},\n\nnous ne pouvons pas vous proposer ce que vous avez demandé.\n\n{words}\n\n{shop}',
    },
  },
  'quote.lapsed': {
    subject: { en: 'Your quote has lapsed', fr: 'Votre devis a expiré' },
    body: {
      en: 'Hello {name},\n\nthe quote of **{total}** is no longer good. Ask again whenever you like.\n\n{shop}',
      fr: 'Bonjour {name},\n\nle devis de **{total}** n’est plus valable. N’hésitez pas à redemander.\n\n{shop}',
    },
  },
  'quote.new': {
    subject: { en: '{who} asks for a price', fr: '{who} demande un prix' },
    body: {
      en: '**{who}** asks a price for {lines, plural, one {one line} other {# lines}}.\n\n[Price it]({link}), or reply to this e-mail: it goes to {email}.',
      fr: '**{who}** demande un prix pour {lines, plural, one {une ligne} other {# lignes}}.\n\n[Chiffrer]({link}), ou répondez à cette lettre : elle ira à {email}.',
    },
  },
  'quote.answered': {
    subject: { en: '{who} {answer} the quote of {total}', fr: '{who} : devis de {total}, {answer}' },
    body: {
      en: '**{who}** {answer} the quote of **{total}**.\n\n{words}\n\n[See it]({link})',
      fr: '**{who}** : devis de **{total}**, {answer}.\n\n{words}\n\n[Le voir]({link})',
    },
  },
  'preorder.new': {
    subject: { en: '{who} reserved {units} × {product}', fr: '{who} a réservé {units} × {product}' },
    body: {
      en: '**{who}** reserved **{units} × {product}** with order {order}.\n\n[See the pre-orders]({link})',
      fr: '**{who}** a réservé **{units} × {product}** avec la commande {order}.\n\n[Voir les précommandes]({link})',
    },
  },
};
