import { createHmac } from 'node:crypto';

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
export type Surface = 'product' | 'listing' | 'quickView';

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

/** Parts of the answer to `POST /v1/decisions` that are read here. */
interface Decisions {
  readonly decisions: readonly { readonly price: { readonly show: boolean } }[];
  readonly products: readonly {
    readonly surface: Surface;
    readonly variants: readonly { readonly id: string; readonly decision: number }[];
  }[];
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
  guard(
    asking: Asking & {
      readonly via: 'cart' | 'express' | 'order';
      readonly lines: readonly Line[];
      /** The code of the payment method, of an order. */
      readonly method?: string;
    },
  ): Promise<Verdict> {
    const { via, lines, method } = asking;
    return this.verdict('/v1/guard', { via, lines, method, ...this.contextOf(asking) }, lines);
  }

  /**
   * Takes an order: reserves pre-ordered lines and uses up invitations and quotes in one transaction. Sent again with the
   * same number, it gets the same answer.
   */
  takeOrder(
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
    return this.verdict('/v1/preorders', body, lines, this.shopToken());
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
      const body = { surface: 'listing', page, products: products.slice(from, from + MOST_PRODUCTS), ...context };
      const answer = await this.send('POST', '/v1/decisions', body);
      if (!answer?.ok) return null;
      const { decisions, products: decided } = (await answer.json()) as Decisions;
      for (const { surface, variants } of decided)
        for (const { id, decision } of variants)
          if (decisions[decision]?.price.show !== true) hidden.push({ surface, variantId: id });
    }
    return hidden;
  }

  /** Reads the lines of an accepted quote; none once it has expired. */
  async quotedCart(quote: string): Promise<readonly QuotedLine[]> {
    const answer = await this.send('GET', `/v1/quote?${new URLSearchParams({ quote }).toString()}`);
    return answer?.ok ? ((await answer.json()) as { lines: QuotedLine[] }).lines : [];
  }

  /** Gives a customer roles, such as a membership that was paid for. @returns whether they have them */
  async grant(customerId: string, roles: readonly Grant[]): Promise<boolean> {
    const path = `/v1/people/${encodeURIComponent(customerId)}/roles`;
    return (await this.send('PUT', path, { grant: roles }, this.shopToken()))?.ok ?? false;
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

  private async verdict(path: string, body: object, lines: readonly Line[], token?: string): Promise<Verdict> {
    const answer = await this.send('POST', path, body, token);
    if (answer?.ok) return { ...((await answer.json()) as Omit<Verdict, 'isAnswered'>), isAnswered: true };
    const refused = { ok: false, code: null, text: null, unitPrice: null, preorder: null, afterOrder: null };
    return {
      ok: false,
      isAnswered: false,
      refusal: null,
      delivery: null,
      lines: lines.map(({ variantId }) => ({ variantId, ...refused })),
    };
  }

  private async send(method: string, path: string, body?: object, token?: string): Promise<Response | null> {
    const { url, timeoutMs = PATIENCE_MS } = this.settings;
    return fetch(url + path, {
      method,
      headers: {
        ...(body ? { 'Content-Type': 'application/json' } : {}),
        ...(token ? { Authorization: `Bearer ${token}` } : {}),
      },
      ...(body ? { body: JSON.stringify(body) } : {}),
      signal: AbortSignal.timeout(timeoutMs),
    }).catch(() => null);
  }
}
