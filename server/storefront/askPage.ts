import { randomUUID } from 'node:crypto';
import express, { type Request } from 'express';
import type { z } from 'zod';
import { postEnquiry, postQuote, type Form } from '#core/contract/askingCalls.ts';
import { FIELDS } from '#core/contract/formFields.ts';
import { parse } from '#core/contract/validation.ts';
import { joinWaitlist } from '#core/contract/waitlistCalls.ts';
import { localeFor, wordsIn } from '#core/texts/locale.ts';
import { controlOf, defaultLabel, RULE_KINDS, type ControlKind } from '#core/controls/controls.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { shopText } from '#core/texts/shopTexts.ts';
import { toHtml } from '#core/texts/markdown.ts';
import type { Services } from '../services/services.ts';
import { productAt, type ProductRow } from '../catalog/catalogQueries.ts';
import { ask, formOffered } from '../enquiries/enquiryService.ts';
import { onceSent, readForm } from '../forms/formQueries.ts';
import { QUOTE_FORM } from '../forms/formRoutes.ts';
import type { Endpoints } from '../http/endpoints.ts';
import { invalid, ProblemError } from '../http/errors.ts';
import { networkOf } from '../http/network.ts';
import { limitTo } from '../limits/limit.ts';
import { escaped, sendPage } from '../pages/page.ts';
import { askPrice } from '../quotes/quoteService.ts';
import { offersOf } from '../requests/offered.ts';
import { guestSpeaking } from '../visitors/visitor.ts';
import { join } from '../waitlists/waitlistService.ts';

const A_MINUTE = 60;

/** A visit to the page: its product, language and the values typed. */
interface Asking {
  readonly product: ProductRow;
  readonly variant: string | undefined;
  readonly locale: string | null;
  readonly request: Request;
  /** Fields as they were sent; empty on the first visit. */
  readonly given: Readonly<Record<string, string>>;
}

/** Shows and takes the form of one kind of stand-in. */
interface Way {
  /** Label of the form's button. */
  readonly submit: 'dialog.join' | 'dialog.send';
  /** @returns the form's fields as safe HTML, or an alternative; null if the kind is not offered now */
  readonly fields: (asking: Asking) => Promise<string | { readonly instead: string } | null>;
  /** @throws {ProblemError} */
  readonly send: (asking: Asking) => Promise<void>;
  /** Says that it was sent, as safe HTML, or where to go on. */
  readonly sent: (asking: Asking) => Promise<{ readonly html: string; readonly goTo: string | null }>;
}

/** Serves a stand-in's address for visitors who open it in a new tab or without scripts: its form, and a confirmation. */
export function askPage(endpoints: Endpoints, services: Services): void {
  const { db, live } = services;
  const ways = waysOf(services);
  const limit = limitTo(A_MINUTE, db, 'ask-page:');
  const form = express.urlencoded({ extended: false, limit: '100kb' });

  const asked = async (request: Request): Promise<Asking | null> => {
    const body = (request.body ?? {}) as Readonly<Record<string, unknown>>;
    const query = request.query as Readonly<Record<string, unknown>>;
    const text = (name: string) => [body[name], query[name]].find((value) => typeof value === 'string') ?? '';
    const path = text('path');
    const product = path !== '' && path.length <= 2000 ? await productAt(db, path) : undefined;
    if (!product) return null;
    const variant = product.variants.find(({ id }) => id === text('variant'))?.id;
    const locale = request.acceptsLanguages(...live.current().rulebook.shop.locales) || null;
    const given = Object.fromEntries(
      Object.entries(body).flatMap(([name, value]) => (typeof value === 'string' ? [[name, value]] : [])),
    );
    return { product, variant, locale, request, given };
  };

  const page = (kind: Kind, asking: Asking | null, html: string) => {
    const { rulebook, pageMap } = live.current();
    const { shop } = rulebook;
    const locale = asking?.locale ?? null;
    const name = asking ? wordsIn(asking.product.title, locale, shop.locales) : '';
    const size = asking?.product.variants.find(({ id }) => id === asking.variant)?.title ?? '';
    const back = backTo(pageMap?.site, asking?.product.path ?? '/');
    return {
      locale: localeFor(locale, shop.locales),
      shop: shop.name,
      title: titleOf(kind, locale, shop),
      html:
        `<p><strong>${[name, size].filter(Boolean).map(escaped).join(', ')}</strong></p>${html}` +
        (back ? `<p><a href="${escaped(back)}">${escaped(shopText('listPage.back', locale, shop))}</a></p>` : ''),
    };
  };
  /** Says how else to ask, where nothing can be filled in. */
  const otherwise = (asking: Asking | null) => {
    const { shop } = live.current().rulebook;
    return `<p>${escaped(shop.name)}: ${escaped(shopText('askPage.how', asking?.locale ?? null, shop))}</p>`;
  };
  const formHtml = async (kind: Kind, asking: Asking, problem: ProblemError | null) => {
    const { shop } = live.current().rulebook;
    const fields = await ways[kind]?.fields(asking);
    if (fields === null || fields === undefined) return otherwise(asking);
    if (typeof fields !== 'string') return fields.instead;
    const faults = problem?.extra.errors?.map(({ pointer, allowed }) => `${pointer.split('/').at(-1)}: ${allowed}`);
    const alert = problem
      ? `<p role="alert"><strong>${escaped(faults ? faults.join('; ') : problem.detail)}</strong></p>`
      : '';
    const label = shopText(ways[kind]?.submit ?? 'dialog.send', asking.locale, shop);
    const path = `<input type="hidden" name="path" value="${escaped(asking.product.path ?? '')}">`;
    return `${alert}<form method="post" action="/ask/${kind}">${path}${fields}<button>${escaped(label)}</button></form>`;
  };

  endpoints.mount('get', '/ask/:kind', 'public', limit, async (request, response, next) => {
    const { kind } = request.params;
    if (!isKind(kind)) {
      next();
      return;
    }
    const asking = await asked(request);
    const way = ways[kind];
    if (asking && way && request.query.sent !== undefined) {
      sendPage(response, page(kind, asking, (await way.sent(asking)).html));
      return;
    }
    sendPage(response, page(kind, asking, asking ? await formHtml(kind, asking, null) : otherwise(null)));
  });
  endpoints.mount('post', '/ask/:kind', 'public', limit, form, async (request, response, next) => {
    const { kind } = request.params;
    const way = isKind(kind) ? ways[kind] : undefined;
    const asking = way ? await asked(request) : null;
    if (!isKind(kind) || !way || !asking) {
      next();
      return;
    }
    try {
      await way.send(asking);
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      sendPage(response, page(kind, asking, await formHtml(kind, asking, error)), error.status);
      return;
    }
    const { goTo } = await way.sent(asking);
    const about = new URLSearchParams({ path: asking.product.path ?? '', sent: '' });
    if (asking.variant !== undefined) about.set('variant', asking.variant);
    response.redirect(303, backTo(live.current().pageMap?.site, goTo) ?? `/ask/${kind}?${about.toString()}`);
  });
}

/** @returns null without a destination, or if the shop's address is unknown */
function backTo(site: string | undefined, path: string | null): string | null {
  return path !== null && URL.canParse(path, site) ? new URL(path, site).href : null;
}

type Kind = ControlKind;
const isKind = (kind: unknown): kind is Kind =>
  RULE_KINDS.some((one) => one === kind && controlOf({ kind: one }).formTitle !== undefined);

/** Returns the title of a form, or the default label of its control. */
function titleOf(kind: Kind, locale: string | null, shop: ShopFacts): string {
  const { formTitle = 'label' } = controlOf({ kind });
  return formTitle === 'label' ? defaultLabel(kind, locale, shop) : shopText(formTitle, locale, shop);
}

/** Builds the forms. Kinds that use the shop's own cart have none: shoppers add those on the product page. */
function waysOf(services: Services): Partial<Record<Kind, Way>> {
  const { db, live, clock } = services;
  const seen = ({ locale }: Asking) => ({ visitor: guestSpeaking(locale), moment: clock() });
  const text = (key: Parameters<typeof shopText>[0], { locale }: Asking) =>
    shopText(key, locale, live.current().rulebook.shop);
  const input = (name: string, label: string, { given }: Asking, attributes: string, value = '') =>
    `<label>${escaped(label)} <input name="${name}" value="${escaped(given[name] ?? value)}" ${attributes}></label>`;
  const optional = (words: string, asking: Asking) => `${words} (${text('dialog.optional', asking)})`;
  const person = (asking: Asking) =>
    input('email', text('dialog.email', asking), asking, 'type="email" autocomplete="email" maxlength="200" required') +
    input('name', optional(text('dialog.name', asking), asking), asking, 'autocomplete="name" maxlength="200"');
  /** Lets the visitor choose a size if there are several and the link names none. */
  const sizes = (asking: Asking, offers: readonly { decision: { variantId: string | null } }[]) => {
    const { product, variant } = asking;
    const among = product.variants.filter(({ id }) => offers.some(({ decision }) => decision.variantId === id));
    if (variant !== undefined || among.length === 1)
      return `<input type="hidden" name="variant" value="${escaped(variant ?? among[0]?.id ?? '')}">`;
    const options = among.map(({ id, title }) => `<option value="${escaped(id)}">${escaped(title || id)}</option>`);
    const { locales } = live.current().rulebook.shop;
    const label = wordsIn(product.title, asking.locale, locales);
    return `<p><select name="variant" aria-label="${escaped(label)}">${options.join('')}</select></p>`;
  };
  const ofForm = (form: Form | null, asking: Asking) => {
    const { locales } = live.current().rulebook.shop;
    return (form?.fields ?? [])
      .map(({ name, kind, required, label, choices = [] }) => {
        const said = wordsIn(label, asking.locale, locales);
        const words = required ? said : optional(said, asking);
        const key = `answer.${name}`;
        const must = required ? 'required' : '';
        const { element, type = 'text' } = FIELDS[kind];
        if (element === 'textarea')
          return `<label>${escaped(words)} <textarea name="${key}" rows="4" maxlength="5000" ${must}>${escaped(asking.given[key] ?? '')}</textarea></label>`;
        if (element === 'select') {
          const options = ['', ...choices].map(
            (choice) => `<option${choice === asking.given[key] ? ' selected' : ''}>${escaped(choice)}</option>`,
          );
          return `<label>${escaped(words)} <select name="${key}" ${must}>${options.join('')}</select></label>`;
        }
        return input(key, words, asking, `type="${type}" maxlength="200" ${must}`);
      })
      .join('');
  };
  const answers = ({ given }: Asking) =>
    Object.fromEntries(
      Object.entries(given).flatMap(([name, value]) =>
        name.startsWith('answer.') ? [[name.slice('answer.'.length), value]] : [],
      ),
    );
  const whoAsks = ({ given: { email, name }, locale }: Asking) => ({
    email: email || undefined,
    name: name || undefined,
    locale: locale ?? undefined,
  });
  const offers = <K extends 'waitlist' | 'quote' | 'enquiry'>(asking: Asking, kind: K) =>
    offersOf(live.current().rulebook, asking.product, seen(asking), { kind, variant: asking.variant });
  const enquiryForm = async (asking: Asking) => {
    const offer = formOffered(live.current().rulebook, asking.product, seen(asking), asking.variant);
    return offer ? readForm(db, offer.code) : null;
  };

  return {
    waitlist: {
      submit: 'dialog.join',
      fields: (asking) => {
        const found = offers(asking, 'waitlist');
        const [first] = found;
        if (!first) return Promise.resolve(null);
        const { account, signInAt } = first.control;
        if (account !== 'required') return Promise.resolve(sizes(asking, found) + person(asking));
        const href = backTo(live.current().pageMap?.site, signInAt);
        const link = href ? ` <a href="${escaped(href)}">${escaped(text('dialog.signIn', asking))}</a>` : '';
        return Promise.resolve({ instead: `<p>${escaped(text('dialog.accountFirst', asking))}${link}</p>` });
      },
      send: async (asking) => {
        const { product, variant } = asking;
        const body = checked(joinWaitlist.body, { ...whoAsks(asking), path: product.path, variantId: variant });
        await join(services, body, networkOf(asking.request));
      },
      sent: (asking) => Promise.resolve({ html: toHtml(text('waitlist.confirm', asking)), goTo: null }),
    },
    enquiry: {
      submit: 'dialog.send',
      fields: async (asking) => {
        const form = await enquiryForm(asking);
        return form && sizes(asking, offers(asking, 'enquiry')) + ofForm(form, asking) + person(asking);
      },
      send: async (asking) => {
        const { product, variant } = asking;
        const about = { path: product.path, variantId: variant, answers: answers(asking) };
        await ask(services, checked(postEnquiry.body, { ...whoAsks(asking), ...about }), networkOf(asking.request));
      },
      sent: async (asking) => {
        const { shop } = live.current().rulebook;
        return onceSent(await enquiryForm(asking), 'asked', { locale: asking.locale, shop });
      },
    },
    quote: {
      submit: 'dialog.send',
      fields: async (asking) => {
        const found = offers(asking, 'quote');
        if (found.length === 0) return null;
        // Sent twice, it is one request.
        const key = `<input type="hidden" name="key" value="${escaped(asking.given.key ?? randomUUID())}">`;
        const units = input('units', text('dialog.units', asking), asking, 'type="number" min="1" required', '1');
        const note = input('note', optional(text('dialog.note', asking), asking), asking, 'maxlength="500"');
        const form = await readForm(db, QUOTE_FORM);
        return key + sizes(asking, found) + units + note + ofForm(form, asking) + person(asking);
      },
      send: async (asking) => {
        const { key, units, note } = asking.given;
        const lines = [{ variantId: asking.variant, quantity: Number(units), note: note || undefined }];
        const body = checked(postQuote.body, { ...whoAsks(asking), answers: answers(asking), lines, key });
        await askPrice(services, body, networkOf(asking.request));
      },
      sent: async (asking) => {
        const { shop } = live.current().rulebook;
        return onceSent(await readForm(db, QUOTE_FORM), 'quoted', { locale: asking.locale, shop });
      },
    },
  };
}

/** @throws {ProblemError} 422 with each fault */
function checked<T>(schema: z.ZodType<T>, value: unknown): T {
  const parsed = parse(schema, value);
  if (!parsed.ok) throw invalid('What was sent', parsed.faults);
  return parsed.value;
}
