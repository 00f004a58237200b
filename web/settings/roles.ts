import type { KeyScope, StaffRole } from '#core/contract/permissions.ts';

/** Names and permissions of roles, for owners. */
export const ROLE_WORDS: Readonly<Record<StaffRole, { readonly name: string; readonly may: string }>> = {
  owner: { name: 'Owner', may: 'Everything, secrets and colleagues too' },
  publisher: { name: 'Publisher', may: 'All that an editor may; publishes, restores and imports' },
  editor: { name: 'Editor', may: 'Changes the draft, serves those who wait or ask; publishes nothing' },
  viewer: { name: 'Viewer', may: 'Looks, changes nothing' },
};

/** Names of a key's scopes, for owners. */
export const SCOPE_WORDS: Readonly<Record<KeyScope, { readonly name: string; readonly may: string }>> = {
  read: { name: 'Look', may: 'Reads all that is on the screens, no secrets' },
  catalog: { name: 'Catalog', may: 'Imports products and stock' },
  people: { name: 'People', may: 'Imports customers and their roles' },
  rules: { name: 'Rules', may: 'Reads, changes and publishes rules' },
  orders: { name: 'Orders', may: 'Reads and serves who waits, reserves or asks' },
};
