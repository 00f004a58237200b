import { openEnquiry } from './enquiry.ts';
import { openBuyersPrice } from './ownPrice.ts';
import type { Pressed } from './pressed.ts';
import { openSeveral } from './several.ts';
import { addToSheet } from './sheet.ts';
import { openWaitlist } from './waitlist.ts';

export { marker } from './sheet.ts';

const OPENS: Readonly<Record<string, (pressed: Pressed) => void>> = {
  waitlist: openWaitlist,
  enquiry: openEnquiry,
  quote: addToSheet,
  ownPrice: openBuyersPrice,
  severalAtOnce: openSeveral,
};

/** Opens a stand-in's dialog on the shop's page. @returns whether it has one */
export function open(pressed: Pressed): boolean {
  const opens = OPENS[pressed.kind];
  opens?.(pressed);
  return opens !== undefined;
}
