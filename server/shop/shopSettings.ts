import { rulesIn } from '#core/rulebook/entries.ts';
import { IANAZone, DateTime } from 'luxon';
import { postShopTrial, putShop, type SettingsEffect, type ShopSettings } from '#core/contract/shopSettingsCalls.ts';
import type { ValidationIssue } from '#core/contract/validation.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';
import { theShop } from '../shopData/currentShop.ts';
import { readDraft } from '../rules/rulebookQueries.ts';
import type { Services } from '../services/services.ts';
import { writeSettings } from '../shopData/shopQueries.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { invalid, ProblemError } from '../http/errors.ts';
import { reply, route } from '../http/route.ts';

/** Decimal places of a currency's minor unit (ISO 4217, as ICU knows it). */
export function decimalsOf(currency: string): number {
  return new Intl.NumberFormat('en', { style: 'currency', currency }).resolvedOptions().maximumFractionDigits ?? 2;
}

/** Finds unknown time zones and currencies. */
export function settingsFaults({ zone, currency }: Pick<ShopSettings, 'zone' | 'currency'>, place: string) {
  const faults: ValidationIssue[] = [];
  if (!IANAZone.isValidZone(zone)) {
    const allowed = 'an IANA time zone such as Europe/Lisbon';
    faults.push({ pointer: `${place}/zone`, found: JSON.stringify(zone), allowed });
  }
  if (!Intl.supportedValuesOf('currency').includes(currency)) {
    const allowed = 'a currency that is in use (ISO 4217)';
    faults.push({ pointer: `${place}/currency`, found: JSON.stringify(currency), allowed });
  }
  return faults;
}

const COUNTS = `
  SELECT (SELECT count(*) FROM variants WHERE archived_at IS NULL) AS prices,
    (SELECT count(*) FROM products WHERE archived_at IS NULL AND dates <> '{}') AS dates,
    (SELECT count(*) FROM quotes WHERE state = 'priced') AS quotes`;

/** A local date or time, or the moment itself. */
const IS_DATED = /"moment"|"\d{4}-\d{2}-\d{2}/;
const nameOf = ({ name, id }: Rule) => name ?? id;

/** Calls about the shop's settings, and the effects of changing them. */
export function shopSettingsRoutes(endpoints: Endpoints, { db, live, clock }: Services): void {
  const effectOf = async (next: ShopSettings): Promise<SettingsEffect> => {
    const [shop, draft] = await Promise.all([theShop(db), readDraft(db)]);
    const [counts] = (await db.query<{ prices: number; dates: number; quotes: number }>(COUNTS)).rows;
    const { prices = 0, dates = 0, quotes = 0 } = counts ?? {};
    const rules = rulesIn(draft.document);
    const isMoved = next.zone !== shop.zone;
    const isOtherMoney = next.currency !== shop.currency;
    const after = decimalsOf(next.currency);
    const at = (zone: string) => DateTime.fromMillis(clock(), { zone }).toFormat("yyyy-MM-dd'T'HH:mm");
    return {
      clock: isMoved ? { before: at(shop.zone), after: at(next.zone) } : null,
      datedRules: isMoved ? rules.filter((rule) => IS_DATED.test(JSON.stringify(rule))).map(nameOf) : [],
      dates: isMoved ? dates : 0,
      prices: isOtherMoney ? prices : 0,
      quotes: isOtherMoney ? quotes : 0,
      decimals: isOtherMoney && after !== shop.exponent && prices > 0 ? { before: shop.exponent, after } : null,
      textsLost: shop.locales
        .filter((locale) => !next.locales.includes(locale))
        .map((locale) => ({
          locale,
          rules: rules.filter((rule) => JSON.stringify(rule).includes(`${JSON.stringify(locale)}:`)).map(nameOf),
        })),
      defaultMoves: next.locales[0] !== shop.locales[0],
    };
  };
  const check = (next: ShopSettings) => {
    const faults = settingsFaults(next, '');
    if (faults.length > 0) throw invalid('What was sent', faults);
  };

  route(endpoints, postShopTrial, async ({ body }) => {
    check(body);
    return reply(200, await effectOf(body));
  });

  route(endpoints, putShop, async ({ body }) => {
    check(body);
    const { decimals } = await effectOf(body);
    if (decimals) throw otherDecimals(body.currency);
    await db.transaction(async (client) => {
      await writeSettings(client, { ...body, exponent: decimalsOf(body.currency) });
      await live.announce(client);
    });
    await live.refresh();
    return reply(204, undefined);
  });
}

const otherDecimals = (currency: string) =>
  new ProblemError(
    'other-decimals',
    `${currency} has other decimals than the shop’s currency, so each price would be another sum. Archive the products first, by an import that replaces, or start another shop.`,
  );
