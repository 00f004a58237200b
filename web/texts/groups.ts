/** Groups of texts by key prefix, in the order of a visit. */
export const GROUPS: readonly { readonly id: string; readonly name: string; readonly where: string }[] = [
  { id: 'label', name: 'Labels', where: 'on the stand-ins, where a rule gives no label' },
  { id: 'page', name: 'Beside prices and lists', where: 'on the shop’s pages' },
  { id: 'closed', name: 'Sold-out pre-orders', where: 'in a pre-order’s place once its cap is reached' },
  { id: 'status', name: 'What a visitor already did', where: 'in the stand-in’s place' },
  { id: 'ships', name: 'Shipping dates', where: 'in the cart, the order and messages' },
  { id: 'refusal', name: 'Refusals', where: 'in the cart and at the checkout' },
  { id: 'dialog', name: 'Dialogs', where: 'once a stand-in is pressed' },
  { id: 'waitlist', name: 'Joining a waitlist', where: 'in the dialog and in messages' },
  { id: 'asking', name: 'Asking', where: 'once a form is sent' },
  { id: 'listPage', name: 'Waitlist pages', where: 'where links in messages lead' },
  { id: 'quotePage', name: 'Quote page', where: 'where links in messages lead' },
  { id: 'askPage', name: 'Without a script', where: 'where a stand-in leads when it cannot open' },
];

export const groupOf = (key: string): string => key.split('.')[0] ?? key;
