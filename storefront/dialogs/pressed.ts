/** Parts of a decision that dialogs use. */
export interface Decided {
  readonly control: { readonly kind: string };
  readonly price: { readonly amount: number | null; readonly currency: string };
}

/** A press on a stand-in. */
export interface Pressed {
  /** Origin of Understudy's calls. */
  readonly origin: string;
  readonly kind: string;
  readonly path: string;
  /** Variant chosen on the page, read at each access. */
  readonly variantId?: string | undefined;
  /** The product's title on the page. */
  readonly title: string;
  /** The stand-in itself. */
  readonly like: Element;
  /** The stand-in's words. */
  readonly label?: string | null | undefined;
  /** Text of the control besides its label, safe HTML. */
  readonly html?: string | null | undefined;
  /** Of a waitlist: whether it takes an account, and where one is had. */
  readonly account?: 'optional' | 'required' | undefined;
  readonly signInAt?: string | null | undefined;
  /** The owner's form, of an enquiry, or the page of the shop that has one; and whether it stands on the page itself. */
  readonly form?: string | { readonly page: string } | undefined;
  readonly open?: 'inline' | 'dialog' | undefined;
  /** Of a price that the shopper names, in minor units. */
  readonly min?: number | null | undefined;
  readonly suggested?: number | null | undefined;
  /** Decision for each variant of the product. */
  readonly decisions?: ReadonlyMap<string, Decided> | undefined;
  /** The visitor's signed token; absent for a guest. */
  readonly visitor?: string | undefined;
  readonly locale?: string | undefined;
  /** Has the page asked again, since something is otherwise now. */
  readonly changed: () => void;
}
