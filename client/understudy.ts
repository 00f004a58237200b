import { createHmac } from 'node:crypto';
import { addressOf, type AnswerOf, type CallName, type CallNamed, type InputOf } from '../core/contract/callNames.ts';

/** Address of Understudy, and the secret from Connection that signs the shop's tokens. */
export interface Settings {
  readonly url: string;
  readonly visitorSecret: string;
  /** Timeout of a call, in ms; default 5000. */
  readonly timeoutMs?: number;
}

/** Customer signed in at the shop. */
export interface Visitor {
  readonly id: string;
  /** Stand instead of those that Understudy knows; none of them when empty. */
  readonly roles?: readonly string[];
}

/** Options of every call about a visitor. */
export interface Asking {
  /** Null for a guest. */
  readonly visitor?: Visitor | null;
  /** BCP 47: the language of the answers. */
  readonly locale?: string;
  /** Tokens of the links by which they were invited to buy. */
  readonly invitations?: readonly string[];
  /** The token of a quote that they accepted. */
  readonly quote?: string | null;
}

export interface Line {
  readonly variantId: string;
  readonly quantity: number;
  /** Minor units; absent when the price is still to be told. */
  readonly unitPrice?: number;
  /** Of a pre-order, the terms that the shopper has seen and agreed to. */
  readonly terms?: string;
  /** The way it came in; by the cart when it is not said. */
  readonly via?: 'cart' | 'express';
}

/** Verdict of the guard on one line. */
export interface LineVerdict {
  readonly variantId: string;
  readonly ok: boolean;
  /** Why it is refused, as a name; null where it passes, and where nobody could be asked. */
  readonly code: string | null;
  /** The same for the shopper, in their language. */
  readonly text: string | null;
  /** The price it may be sold at, minor units; null where the page hides it. */
  readonly unitPrice: number | null;
  /** When it is reserved, not sold: when it ships, and what there is to say about it, as safe HTML. */
  readonly preorder: { readonly ships: string; readonly notes: readonly string[]; readonly terms: string } | null;
  /** Units that were reserved with an order. */
  readonly reserved?: number;
  /** Text shown after the order, as safe HTML. */
  readonly afterOrder: string | null;
}

export interface Verdict {
  /** Every line passes, and the order where one was asked for. */
  readonly ok: boolean;
  /** Whether Understudy answered. Without an answer nothing may be sold: no line is `ok`. */
  readonly isAnswered: boolean;
  /** Why no order may be placed at all, in words for the shopper; null where it may, or where nothing was ordered. */
  readonly refusal: { readonly code: string; readonly text: string } | null;
  /** Delivery cost of an accepted quote, in minor units; null without one. */
  readonly delivery: number | null;
  readonly lines: readonly LineVerdict[];
}

/** Part of the shop's pages that shows products. */
export type Surface = 'product' | 'listing' | 'quickView' | 'cart' | 'checkout';

/** A price that a page leaves out. */
export interface HiddenPrice {
  readonly surface: Surface;
  readonly variantId: string;
}

/** A line of an accepted quote, at its price in minor units. */
export interface QuotedLine {
  readonly variantId: string;
  readonly quantity: number;
  readonly unitPrice: number;
}

/** A role that a customer has from an instant until another (ISO 8601). */
export interface Grant {
  readonly role: string;
  readonly from?: string;
  readonly until?: string;
}

/** Products of one request for decisions. */
const MOST_PRODUCTS = 500;
const HOUR_S = 3600;
const MINUTE_S = 60;
const PATIENCE_MS = 5000;

/** Calls for a shop's own server. None of them throws: without an answer they say so and let nothing through. */
export class Understudy {
  constructor(private readonly settings: Settings) {}

  /** Signs a visitor's token for the script's `data-visitor`, valid for an hour. Null for a guest. */
  visitorToken(visitor: Visitor | null | undefined): string | null {
    if (!visitor) return null;
    const { id: sub, roles } = visitor;
    return this.sign({ sub, ...(roles ? { roles } : {}) }, HOUR_S);
  }

  /** Asks whether lines may be added to the cart, bought by express pay, or ordered now. */
  async guard(
    asking: Asking & {
      readonly via: 'cart' | 'express' | 'order';
      readonly lines: readonly Line[];
      /** The code of the payment method, of an order. */
      readonly method?: string;
    },
  ): Promise<Verdict> {
    const { via, lines, method } = asking;
    const body = { via, lines, method, ...this.contextOf(asking) };
    return verdict(await this.send('POST /v1/guard', { body }), lines);
  }

  /**
   * Takes an order: reserves pre-ordered lines and uses up invitations and quotes in one transaction. Sent again with the
   * same number, it gets the same answer.
   */
  async takeOrder(
    asking: Asking & {
      readonly order: string;
      readonly lines: readonly Line[];
      readonly method?: string;
      readonly email?: string;
      readonly name?: string;
    },
  ): Promise<Verdict> {
    const { order, lines, method, email, name } = asking;
    const body = { order, lines, method, email, name, ...this.contextOf(asking) };
    return verdict(await this.send('POST /v1/preorders', { body, token: this.shopToken() }), lines);
  }

  /**
   * Finds the prices to leave out of a page's source, where anybody could read what the script hides.
   * @returns null where nobody could be asked
   */
  async hiddenPrices(
    asking: Asking & {
      readonly products: readonly { readonly id: string; readonly surface: Surface }[];
      /** Path of the page they are on. */
      readonly page: string;
    },
  ): Promise<readonly HiddenPrice[] | null> {
    const { products, page } = asking;
    if (products.length === 0) return [];
    const hidden: HiddenPrice[] = [];
    for (let from = 0; from < products.length; from += MOST_PRODUCTS) {
      const { quote: _quote, ...context } = this.contextOf(asking);
      const some = products.slice(from, from + MOST_PRODUCTS);
      const body = { surface: 'listing', page, products: some, ...context } as const;
      const answer = await this.send('POST /v1/decisions', { body });
      if (!answer) return null;
      const { decisions, products: decided } = answer;
      for (const { surface, variants } of decided)
        for (const { id, decision } of variants)
          if (decisions[decision]?.price.show !== true) hidden.push({ surface, variantId: id });
    }
    return hidden;
  }

  /** Reads the lines of an accepted quote; none once it has expired. */
  async quotedCart(quote: string): Promise<readonly QuotedLine[]> {
    return (await this.send('GET /v1/quote', { query: { quote } }))?.lines ?? [];
  }

  /** Gives a customer roles, such as a membership that was paid for. @returns whether they have them */
  async grant(customerId: string, roles: readonly Grant[]): Promise<boolean> {
    const input = { params: { id: customerId }, body: { grant: roles }, token: this.shopToken() };
    return (await this.send('PUT /v1/people/{id}/roles', input)) !== null;
  }

  private contextOf({ visitor, locale, invitations, quote }: Asking) {
    return { visitor: this.visitorToken(visitor) ?? undefined, locale, invitations, quote: quote ?? undefined };
  }

  /** Signs a token for the shop's own server. */
  private shopToken(): string {
    return this.sign({ aud: 'understudy-shop' }, MINUTE_S);
  }

  /** Signs a token (JWT, HS256, RFC 7519) that is valid for this many seconds. */
  private sign(claims: object, seconds: number): string {
    const part = (value: object) => Buffer.from(JSON.stringify(value)).toString('base64url');
    const exp = Math.floor(Date.now() / 1000) + seconds;
    const signed = `${part({ alg: 'HS256', typ: 'JWT' })}.${part({ ...claims, exp })}`;
    return `${signed}.${createHmac('sha256', this.settings.visitorSecret).update(signed).digest('base64url')}`;
  }

  /** Makes a call of the contract. @returns the body of its answer; null where it was refused or nobody answered */
  private async send<const Name extends CallName>(
    name: Name,
    input: InputOf<CallNamed<Name>> & { readonly token?: string },
  ): Promise<AnswerOf<CallNamed<Name>> | null> {
    const { body, token }: { readonly body?: unknown; readonly token?: string } = input;
    const { method, path } = addressOf(name, input);
    const { url, timeoutMs = PATIENCE_MS } = this.settings;
    try {
      const answer = await fetch(url + path, {
        method,
        headers: {
          ...(body === undefined ? {} : { 'Content-Type': 'application/json' }),
          ...(token === undefined ? {} : { Authorization: `Bearer ${token}` }),
        },
        ...(body === undefined ? {} : { body: JSON.stringify(body) }),
        signal: AbortSignal.timeout(timeoutMs),
      });
      if (!answer.ok) return null;
      const text = await answer.text();
      return (text === '' ? {} : JSON.parse(text)) as AnswerOf<CallNamed<Name>>;
    } catch {
      return null;
    }
  }
}

/** A verdict as it was answered; without an answer, one that lets no line through. */
function verdict(answered: Omit<Verdict, 'isAnswered'> | null, lines: readonly Line[]): Verdict {
  if (answered) return { ...answered, isAnswered: true };
  const refused = { ok: false, code: null, text: null, unitPrice: null, preorder: null, afterOrder: null };
  return {
    ok: false,
    isAnswered: false,
    refusal: null,
    delivery: null,
    lines: lines.map(({ variantId }) => ({ variantId, ...refused })),
  };
}
