import { openEnquiry } from './enquiry.ts';
import { addToSheet } from './sheet.ts';
import { openWaitlist } from './waitlist.ts';

export { marker } from './sheet.ts';

/** What a stand-in that was pressed is about. */
export interface Pressed {
  /** Where Understudy's calls are. */
  readonly origin: string;
  readonly kind: string;
  readonly path: string;
  readonly variantId?: string | undefined;
  /** The product's title, as the page has it. */
  readonly title: string;
  /** The stand-in itself. */
  readonly like: Element;
  /** The owner's form, of an enquiry. */
  readonly form?: string | undefined;
  /** The visitor's signed token; absent for a guest. */
  readonly visitor?: string | undefined;
  readonly locale?: string | undefined;
  /** Has the page asked again, since something is otherwise now. */
  readonly changed: () => void;
}

const OPENS: Readonly<Record<string, (pressed: Pressed) => void>> = {
  waitlist: openWaitlist,
  enquiry: openEnquiry,
  quote: addToSheet,
};

/** Opens, on the shop's own page, what a stand-in leads to. @returns whether it can */
export function open(pressed: Pressed): boolean {
  const opens = OPENS[pressed.kind];
  opens?.(pressed);
  return opens !== undefined;
}
