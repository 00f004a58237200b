import type { ShopFacts } from '#core/model/subject.ts';
import { countedLines } from '#core/requests/quoteParts.ts';
import { instantWords } from '#core/texts/messages.ts';
import { shopText } from '#core/texts/shopTexts.ts';
import { formatPrice } from '#core/texts/prices.ts';
import { titleOf } from '../catalog/titles.ts';
import type { Queryable } from '../db/database.ts';
import type { Notification } from '../messages/outbox.ts';
import { sellersWithPeople, sellerTerms } from '../rules/sellerQueries.ts';
import type { JobServices } from '../services/services.ts';
import { QUOTE } from '../visitors/acceptedQuote.ts';
import type { QuotePart, QuoteRow } from './quoteQueries.ts';
import { totalOf } from './quoteTotals.ts';

/** Validity of a link to a quote's page, in ms. */
const LINK_MS = 400 * 86_400_000;

export async function quoteLink({ links, clock, config }: JobServices, id: number): Promise<string> {
  const token = await links.sign(QUOTE, clock() + LINK_MS, { quote: id });
  return `${config.publicUrl}/quote?token=${token}`;
}

/** Lines that a letter names; a quote may have 200. */
const MOST_NAMED = 20;

/** Writes lines as a letter lists them: units, product, and the price of one where there is one. */
export function namedLines(
  lines: readonly QuoteRow['lines'][number][],
  locale: string | null,
  shop: ShopFacts,
): string {
  const named = lines.slice(0, MOST_NAMED).map((line) => {
    const words = `${line.units} × ${titleOf(line, locale, shop.locales)}`;
    return line.unitPrice === null ? words : `${words}: ${formatPrice(line.unitPrice, shop, locale)}`;
  });
  return [...named, ...(lines.length > MOST_NAMED ? ['…'] : [])].join('\n');
}

/** Makes the values of the letter that asks a seller, or the shop, to price lines. */
export const requestValues =
  ({ live }: Pick<JobServices, 'live'>) =>
  ({ name, email, lines }: QuoteRow) => ({
    who: name ?? email,
    email,
    lines: lines.length,
    products: namedLines(lines, null, live.current().rulebook.shop),
  });

/** The seller of all lines of a quote; null if that is the shop, or there are several. */
export const onlySeller = ({ parts }: Pick<QuoteRow, 'parts'>): string | null =>
  parts.length === 1 ? (parts[0]?.seller ?? null) : null;

/**
 * Notifies those who price parts of a quote: each seller about their part; the shop once about the whole quote if a part is its
 * own, a seller has no people yet, or it wants copies; and programs once about the whole quote.
 */
export async function notifyPricers(
  client: Queryable,
  { config }: JobServices,
  quote: QuoteRow,
  event: 'quote.new' | 'quote.answered',
  parts: readonly QuotePart[],
  valuesOf: (quote: QuoteRow) => Notification['values'],
): Promise<Notification[]> {
  const link = `${config.publicUrl}/quotes?quote=${quote.id}`;
  const notify = (about: QuoteRow) => ({
    event,
    about: quote.email,
    locale: null,
    values: { ...valuesOf(about), link },
  });
  if (parts.length === 0) return [];
  const sellers = parts.flatMap(({ seller }) => seller ?? []);
  const [{ copies }, withPeople] = [await sellerTerms(client), await sellersWithPeople(client, sellers)];
  const isShopTold = copies || withPeople.length < parts.length;
  return [
    { ...notify(quote), ...(isShopTold ? {} : { only: 'programs' as const }) },
    ...parts.flatMap(({ seller }) =>
      seller === null
        ? []
        : {
            ...notify({
              ...quote,
              lines: quote.lines.filter((line) => line.seller === seller),
              parts: quote.parts.filter((part) => part.seller === seller),
            }),
            seller,
            only: 'seller' as const,
          },
    ),
  ];
}

export const moneyOf = (quote: QuoteRow, { live }: Pick<JobServices, 'live'>): string =>
  formatPrice(totalOf(quote), live.current().rulebook.shop, quote.locale);

/** Writes messages of the shop one under the other; where several sellers price a quote, each under its author's name. */
const wordsOf = (parts: readonly QuotePart[], written: readonly QuotePart[], shop: ShopFacts): string[] =>
  written.map((part) => (parts.length > 1 ? `${part.name ?? shop.name}: ${part.words}` : part.words));

/** The letter with the prices of a quote. */
export async function pricedLetter(
  services: JobServices,
  quote: QuoteRow,
  written: readonly QuotePart[],
): Promise<Notification> {
  const { shop } = services.live.current().rulebook;
  const { parts, locale, name, email: to, validUntil } = quote;
  const rest = parts.some(({ state }) => state === 'asked') ? [shopText('quotePage.rest', locale, shop)] : [];
  const values = {
    name: name ?? '',
    total: moneyOf(quote, services),
    products: namedLines(countedLines(quote.lines, parts, true), locale, shop),
    until: validUntil ? instantWords(validUntil.getTime(), shop, locale) : '',
    words: [...wordsOf(parts, written, shop), ...rest].join('\n\n'),
    link: await quoteLink(services, quote.id),
  };
  return { event: 'quote.priced', to, locale, values, seller: onlySeller(quote) };
}

/** The letter that turns a request for prices down. */
export function turnedDownLetter(
  { live }: Pick<JobServices, 'live'>,
  quote: QuoteRow,
  written: readonly QuotePart[],
): Notification {
  const { shop } = live.current().rulebook;
  const { name, email: to, locale, parts } = quote;
  const values = { name: name ?? '', words: wordsOf(parts, written, shop).join('\n\n') };
  return { event: 'quote.turnedDown', to, locale, values, seller: onlySeller(quote) };
}

/** The letter about a quote whose prices have expired. */
export function lapsedLetter(services: Pick<JobServices, 'live'>, quote: QuoteRow): Notification {
  const { email: to, locale, name } = quote;
  const values = { name: name ?? '', total: moneyOf(quote, services) };
  return { event: 'quote.lapsed', to, locale, values, seller: onlySeller(quote) };
}
