import { rulesIn } from '#core/rulebook/entries.ts';
import { deleteForm, getForm, listForms, putForm } from '#core/contract/askingCalls.ts';
import type { Rule } from '#core/rulebook/rulebook.ts';
import { wordsIn } from '#core/texts/locale.ts';
import { toHtml } from '#core/texts/markdown.ts';
import type { Queryable } from '../db/database.ts';
import { notFound, ProblemError } from '../http/errors.ts';
import { sellerIdOf, whoIs } from '../http/identity.ts';
import { reply, route } from '../http/route.ts';
import { readDraft } from '../rules/rulebookQueries.ts';
import type { Endpoints } from '../http/endpoints.ts';
import type { Services } from '../services/services.ts';
import * as queries from './formQueries.ts';

export function formRoutes(endpoints: Endpoints, { db, live, clock }: Services, shopper: Services): void {
  route(endpoints, getForm, async ({ params: { code }, query: { locale = null } }) => {
    const form = await queries.readForm(shopper.db, code);
    if (!form) throw notFound(`form ${code}`);
    const { locales } = live.current().rulebook.shop;
    const fields = form.fields.map((field) => ({ ...field, label: wordsIn(field.label, locale, locales) }));
    const empty = form.emptyText && toHtml(wordsIn(form.emptyText, locale, locales));
    return reply(200, { fields, empty }, { 'Cache-Control': 'public, max-age=60' });
  });

  route(endpoints, listForms, async ({}, { request }) => {
    const isSeller = sellerIdOf(request) !== null;
    const [forms, rules] = await Promise.all([queries.allForms(db), isSeller ? [] : draftRules(db)]);
    return reply(
      200,
      forms.map((form) => ({
        ...form,
        rules: rules.filter((rule) => usesForm(rule, form.code)).map(({ id, name = id }) => name),
      })),
    );
  });

  route(endpoints, putForm, async ({ params: { code }, body }, { request }) => {
    await queries.writeForm(db, { code, ...body }, { by: whoIs(request), at: new Date(clock()) });
    return reply(204, undefined);
  });

  route(endpoints, deleteForm, async ({ params: { code } }) => {
    const { rulebook, sellers } = live.current();
    const rules = [...rulebook.rules.map(({ rule }) => rule), ...sellers.flatMap((seller) => seller.rules)];
    const naming = [...(await draftRules(db)), ...rules].find((rule) => usesForm(rule, code));
    if (code === QUOTE_FORM || naming) throw isUsed(code, naming && (naming.name ?? naming.id));
    if (!(await queries.deleteForm(db, code))) throw notFound(`form ${code}`);
    return reply(204, undefined);
  });
}

/** The form of the quote sheet. */
export const QUOTE_FORM = 'quote';

const draftRules = async (db: Queryable) => rulesIn((await readDraft(db)).document);

/** Whether a rule puts a form on a page. */
function usesForm({ then: { control } }: Rule, code: string): boolean {
  const isUsing = (one: object | undefined) => one !== undefined && 'form' in one && one.form === code;
  return isUsing(control) || isUsing(control?.onListing);
}

const isUsed = (code: string, rule: string | undefined) =>
  new ProblemError(
    'form-in-use',
    rule === undefined
      ? `The form ${code} is that of the quote sheet. Change it instead.`
      : `The rule “${rule}” shows the form ${code}, in the draft or live. Have it show another first.`,
  );
