/** A payment that was asked for, as the service for cards tells it. */
export type PaymentState = 'open' | 'paid' | 'refused' | 'refunded';

export interface Payment {
  readonly id: string;
  /** Address of the payment page. */
  readonly page: string;
}

/** The card service; shoppers pay on its page and return. */
export class CardPayments {
  constructor(
    private readonly service: string,
    /** Address of the shop. */
    private readonly site: string,
  ) {}

  /**
   * Asks for a payment; the same reference is the same payment.
   * @param amount in cents
   * @param back the path of the shop that the shopper comes back to
   * @returns null when the service cannot be reached
   */
  async ask(amount: number, reference: string, back: string): Promise<Payment | null> {
    // Other shops may number theirs the same.
    const body = { amount, currency: 'EUR', reference: `${reference} at ${this.site}`, returnTo: this.site + back };
    const payment = await this.call<Payment>('POST', '/payments', body);
    return payment && { id: payment.id, page: this.service + payment.page };
  }

  /** @returns null when the service cannot be reached */
  async stateOf({ id }: Payment): Promise<PaymentState | null> {
    return (await this.call<{ state: PaymentState }>('GET', `/payments/${id}.json`))?.state ?? null;
  }

  async refund({ id }: Payment): Promise<void> {
    await this.call('POST', `/payments/${id}/refund`);
  }

  private async call<T>(method: string, path: string, body?: object): Promise<T | null> {
    try {
      const response = await fetch(this.service + path, {
        method,
        signal: AbortSignal.timeout(5000),
        ...(body && { headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) }),
      });
      const text = await response.text();
      return response.ok && text !== '' ? (JSON.parse(text) as T) : null;
    } catch {
      return null;
    }
  }
}
