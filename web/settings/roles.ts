import type { StaffRole } from '#core/contract/permissions.ts';

/** What roles are called, and what they may do, as owners read it. */
export const ROLE_WORDS: Readonly<Record<StaffRole, { readonly name: string; readonly may: string }>> = {
  owner: { name: 'Owner', may: 'Everything, secrets and colleagues too' },
  publisher: { name: 'Publisher', may: 'All that an editor may; publishes, restores and imports' },
  editor: { name: 'Editor', may: 'Changes the draft, serves those who wait or ask; publishes nothing' },
  viewer: { name: 'Viewer', may: 'Looks, changes nothing' },
};
