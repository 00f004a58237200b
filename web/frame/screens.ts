/** The screens that the rail leads to, in their groups. */
export const GROUPS = [
  {
    name: 'Plan',
    screens: [
      { to: '/today', label: 'Today' },
      { to: '/rules', label: 'Rules' },
      { to: '/rehearsal', label: 'Rehearsal' },
      { to: '/calendar', label: 'Calendar' },
      { to: '/editions', label: 'Editions' },
    ],
  },
  {
    name: 'Shop',
    screens: [
      { to: '/catalog', label: 'Catalog' },
      { to: '/people', label: 'People' },
      { to: '/sellers', label: 'Sellers' },
      { to: '/connection', label: 'Connection' },
    ],
  },
  {
    name: 'Requests',
    screens: [
      { to: '/waitlists', label: 'Waitlists' },
      { to: '/preorders', label: 'Pre-orders' },
      { to: '/quotes', label: 'Quotes' },
      { to: '/enquiries', label: 'Enquiries' },
      { to: '/messages', label: 'Messages' },
    ],
  },
  { name: 'Learn', screens: [{ to: '/insights', label: 'Insights' }] },
] as const;

/** Screens of a seller: rules, products and requests. */
export const SELLER_GROUPS = [
  { name: 'Plan', screens: [{ to: '/rules', label: 'Rules' }] },
  { name: 'Shop', screens: [{ to: '/catalog', label: 'Products' }] },
  ...GROUPS.filter(({ name }) => name === 'Requests'),
];

/** Further destinations of the search. */
export const FURTHER = [
  { to: '/review', label: 'Review and publish' },
  { to: '/text', label: 'The rulebook as text' },
  { to: '/forms', label: 'Forms' },
  { to: '/messages/words', label: 'Message templates' },
  { to: '/texts', label: 'Shop texts' },
  { to: '/messages/settings', label: 'Design and channels' },
  { to: '/settings/shop', label: 'Shop’s settings' },
  { to: '/settings/colleagues', label: 'Colleagues' },
  { to: '/settings/keys', label: 'Keys for programs' },
  { to: '/settings/record', label: 'Record of who did what' },
  { to: '/settings/you', label: 'You and your password' },
] as const;
