import type { Language } from './visits.ts';

const WORDS = {
  basket: { en: 'Basket', fr: 'Panier' },
  signIn: { en: 'Sign in', fr: 'Se connecter' },
  signOut: { en: 'Sign out', fr: 'Se déconnecter' },
  search: { en: 'Search', fr: 'Rechercher' },
  everything: { en: 'Everything we grow', fr: 'Tout ce que nous cultivons' },
  frontTitle: { en: 'Lifted the morning it leaves', fr: 'Arraché le matin du départ' },
  frontText: {
    en: 'Ferns, tubers, hedging and seed from a small nursery by the river. We sow, split and pot it all here, and send it in a box that is nearly all straw.',
    fr: 'Fougères, tubercules, haies et graines d’une petite pépinière au bord de la rivière. Tout est semé, divisé et rempoté ici, puis envoyé dans un carton presque tout en paille.',
  },
  seeAll: { en: 'See everything we grow', fr: 'Voir tout ce que nous cultivons' },
  theRanges: { en: 'What are you looking for?', fr: 'Que cherchez-vous ?' },
  help: { en: 'Help', fr: 'Aide' },
  aboutUs: {
    en: 'Quillfern Nursery, 4 Weir Lane. Open Wednesday to Saturday, ten to four, frost permitting.',
    fr: 'Pépinière Quillfern, 4 Weir Lane. Ouverte du mercredi au samedi, de dix à seize heures, hors gel.',
  },
  sample: {
    en: 'Made up: a sample shop for trying Understudy. Nothing is sent and no money is taken.',
    fr: 'Boutique inventée, pour essayer Understudy. Rien n’est envoyé, rien n’est encaissé.',
  },
  putInBasket: { en: 'Put in basket', fr: 'Mettre au panier' },
  swiftPay: { en: 'Pay swiftly', fr: 'Payer vite' },
  size: { en: 'Size', fr: 'Format' },
  quantity: { en: 'Quantity', fr: 'Quantité' },
  inStock: { en: 'in stock', fr: 'en stock' },
  noneLeft: { en: 'None in stock', fr: 'Épuisé' },
  madeUp: { en: 'Lifted to order', fr: 'Arraché à la commande' },
  from: { en: 'from', fr: 'dès' },
  emptyBasket: { en: 'Your basket is empty.', fr: 'Votre panier est vide.' },
  keepLooking: { en: 'Keep looking', fr: 'Continuer' },
  takeOut: { en: 'Remove', fr: 'Retirer' },
  toCheckout: { en: 'To checkout', fr: 'Passer commande' },
  checkout: { en: 'Checkout', fr: 'Commande' },
  delivery: { en: 'Delivery', fr: 'Livraison' },
  priceOnRequest: { en: 'Price on request', fr: 'Prix sur demande' },
  total: { en: 'Total', fr: 'Total' },
  payBy: { en: 'Pay by', fr: 'Payer par' },
  card: { en: 'Card (simulated)', fr: 'Carte (simulée)' },
  invoice: { en: 'Invoice', fr: 'Facture' },
  preorder: { en: 'Pre-order.', fr: 'Précommande.' },
  reserved: { en: 'Reserved, not sent yet.', fr: 'Réservé, pas encore envoyé.' },
  acceptTerms: { en: 'I accept the terms of what is reserved', fr: 'J’accepte les conditions de réservation' },
  name: { en: 'Name', fr: 'Nom' },
  email: { en: 'E-mail', fr: 'Adresse e-mail' },
  order: { en: 'Place order', fr: 'Commander' },
  ordered: { en: 'Thank you. Your order is in.', fr: 'Merci. Votre commande est enregistrée.' },
  added: { en: 'Added to your basket.', fr: 'Ajouté au panier.' },
  nothingFound: { en: 'Nothing found.', fr: 'Rien trouvé.' },
  quickLook: { en: 'Quick look', fr: 'Coup d’œil' },
  close: { en: 'Close', fr: 'Fermer' },
  grownHere: {
    en: 'Raised here, lifted on the day it leaves, and sent in a box that is nearly all straw.',
    fr: 'Élevé ici, arraché le jour du départ, et envoyé dans un carton presque tout en paille.',
  },
  atTheBindery: { en: 'Buy at the bindery', fr: 'Acheter à la reliure' },
  besideIt: { en: 'Grown beside it', fr: 'Cultivé à côté' },
  border: { en: 'A border in a box', fr: 'Une bordure en boîte' },
  borderText: {
    en: 'Enter a quantity for each and add them all at once.',
    fr: 'Choisissez combien de chaque, et prenez le tout.',
  },
  putAllInBasket: { en: 'Put all in basket', fr: 'Tout mettre au panier' },
  newPrice: { en: 'A price in your basket has changed.', fr: 'Un prix de votre panier a changé.' },
  account: { en: 'Your account', fr: 'Votre compte' },
  roles: { en: 'On our books as', fr: 'Dans nos livres' },
  noOrders: { en: 'No orders yet.', fr: 'Pas encore de commande.' },
  orders: { en: 'Orders', fr: 'Commandes' },
  noSuchPage: { en: 'There is no such page.', fr: 'Cette page n’existe pas.' },
  whoAreYou: { en: 'Who is signing in?', fr: 'Qui se connecte ?' },
  madeUpPeople: {
    en: 'The nursery’s customers are made up, so none of them has a password.',
    fr: 'Les clients de la pépinière sont inventés : aucun n’a de mot de passe.',
  },
  noCards: {
    en: 'Cards cannot be taken right now. Please pay by invoice, or try again in a moment.',
    fr: 'Nous ne pouvons pas encaisser de carte pour le moment. Payez sur facture, ou réessayez dans un instant.',
  },
  cardRefused: {
    en: 'The card was refused. Nothing was ordered.',
    fr: 'La carte a été refusée. Rien n’a été commandé.',
  },
  refunded: {
    en: 'Meanwhile something in your basket can no longer be sold. What you paid is paid back.',
    fr: 'Entre-temps, un article n’est plus en vente. Ce que vous avez payé vous est remboursé.',
  },
  circle: { en: 'The Frond Circle', fr: 'Le Cercle des frondes' },
  circleText: {
    en: 'Members buy from the seed list, and buy snowdrops two weeks before everyone else.',
    fr: 'Les membres achètent dans la liste de graines, et les perce-neige deux semaines avant les autres.',
  },
  joinCircle: { en: 'Not a member? Join the Frond Circle', fr: 'Pas encore membre ? Rejoindre le Cercle' },
  joinForYear: { en: 'Join for a year', fr: 'Adhérer pour un an' },
  signInToJoin: { en: 'Sign in to join', fr: 'Se connecter pour adhérer' },
  nowMember: { en: 'Welcome to the Circle.', fr: 'Bienvenue au Cercle.' },
  notGranted: {
    en: 'We could not put you on our books. What you paid is paid back.',
    fr: 'Nous n’avons pas pu vous inscrire. Ce que vous avez payé vous est remboursé.',
  },
  sheet: { en: 'What you would like a price for', fr: 'Ce dont vous souhaitez le prix' },
  emptySheet: {
    en: 'Nothing yet. Hedging by the hundred is priced for you.',
    fr: 'Rien encore. Les haies à la centaine sont chiffrées pour vous.',
  },
  collection: { en: 'Arrange collection', fr: 'Convenir d’un retrait' },
  collectionText: {
    en: 'Large trees are lifted for you. Telephone the yard on a weekday morning and we will find a day.',
    fr: 'Les grands arbres sont arrachés pour vous. Appelez la pépinière un matin de semaine et nous trouverons un jour.',
  },
} as const;

export type Word = keyof typeof WORDS;

export const translate = (language: Language, word: Word): string => WORDS[word][language];

export function money(cents: number, language: Language): string {
  const locale = language === 'en' ? 'en-GB' : language;
  return new Intl.NumberFormat(locale, { style: 'currency', currency: 'EUR' }).format(cents / 100);
}
