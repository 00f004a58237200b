const WORDS = {
  waitlist: { en: 'Join the waitlist', fr: 'Rejoindre la liste d’attente' },
  email: { en: 'E-mail', fr: 'Adresse e-mail' },
  name: { en: 'Name', fr: 'Nom' },
  optional: { en: 'optional', fr: 'facultatif' },
  join: { en: 'Join', fr: 'Rejoindre' },
  accountFirst: {
    en: 'This list is for customers with an account. Sign in or create one, then come back.',
    fr: 'Cette liste est réservée aux titulaires d’un compte. Connectez-vous ou créez-en un, puis revenez.',
  },
  signIn: { en: 'Sign in', fr: 'Se connecter' },
  enquiry: { en: 'Ask about this', fr: 'Poser une question' },
  quote: { en: 'Ask for a price', fr: 'Demander un prix' },
  sheet: { en: 'Quote sheet', fr: 'Demande de prix' },
  lines: { en: 'On your quote sheet', fr: 'Sur votre demande de prix' },
  emptySheet: { en: 'Nothing is on the sheet.', fr: 'La demande est vide.' },
  units: { en: 'Units', fr: 'Unités' },
  note: { en: 'Note', fr: 'Remarque' },
  takeOff: { en: 'Remove', fr: 'Retirer' },
  emptyIt: { en: 'Empty the sheet', fr: 'Vider la demande' },
  added: { en: 'Added. Go on looking, or send the sheet.', fr: 'Ajouté. Continuez, ou envoyez la demande.' },
  onSheet: {
    en: 'This is on your sheet already. Change the quantity here.',
    fr: 'Cet article figure déjà sur votre demande. Changez la quantité ici.',
  },
  ownPrice: { en: 'Name your price', fr: 'Fixez votre prix' },
  yourPrice: { en: 'Your price for one', fr: 'Votre prix à l’unité' },
  atLeast: { en: 'at least', fr: 'au moins' },
  putIn: { en: 'Add to cart', fr: 'Ajouter au panier' },
  several: { en: 'Choose several', fr: 'En choisir plusieurs' },
  putAllIn: { en: 'Add to cart', fr: 'Tout ajouter' },
  chooseSome: { en: 'Enter a quantity for at least one.', fr: 'Indiquez une quantité pour au moins un.' },
  notPutIn: {
    en: 'could not be added. What was added before stays in the cart.',
    fr: 'n’a pas pu être ajouté. Ce qui l’a été avant y reste.',
  },
  send: { en: 'Send', fr: 'Envoyer' },
  close: { en: 'Close', fr: 'Fermer' },
  busy: { en: 'One moment…', fr: 'Un instant…' },
  unreached: {
    en: 'We could not be reached. Nothing is lost: try again in a moment.',
    fr: 'Nous n’avons pas pu être joints. Rien n’est perdu : réessayez dans un instant.',
  },
} as const;

/** Words in the language of the page, English where we have none. */
export const wordsIn = (locale = document.documentElement.lang) => {
  const language = locale.toLowerCase().startsWith('fr') ? 'fr' : 'en';
  return (word: keyof typeof WORDS): string => WORDS[word][language];
};
export type Texts = ReturnType<typeof wordsIn>;
