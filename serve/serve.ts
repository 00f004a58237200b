import { openWaitlist } from './waitlist.ts';

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
  /** The visitor's signed token; absent for a guest. */
  readonly visitor?: string | undefined;
  readonly locale?: string | undefined;
  /** Has the page asked again, since something is otherwise now. */
  readonly changed: () => void;
}

/** Opens, on the shop's own page, what a stand-in leads to. @returns whether it can */
export function open(pressed: Pressed): boolean {
  if (pressed.kind !== 'waitlist') return false;
  openWaitlist(pressed);
  return true;
}
