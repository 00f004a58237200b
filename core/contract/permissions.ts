/**
 * Permissions of colleagues and programs, and their only definition: each call names the one it needs (`Call.auth`), the
 * server refuses calls without it, and screens offer only permitted actions.
 */
export const PERMISSIONS = {
  self: 'change their own session and password',
  read: 'look at everything but secrets',
  follow: 'follow what is under way',
  draft: 'change the draft of the rules and of the page map, rehearse, keep spot checks and audiences',
  readRequests: 'look at those who wait, reserve, ask for a price or enquire, and at what they were written',
  requests: 'serve those who wait, reserve, ask for a price or enquire',
  imports: 'stop and undo imports of what they may import',
  catalog: 'import products and stock',
  people: 'import customers, change their roles, export or erase what is known of one',
  publish: 'publish and restore, and change what shoppers read at once: texts, letters, forms, openings',
  settings: 'change secrets, ways of sending, web hooks, colleagues, sellers and keys',
  readOwn: 'look at their own products and rules',
  sell: 'decide about their own products',
} as const;
export type Permission = keyof typeof PERMISSIONS;

export const ALL_PERMISSIONS = Object.keys(PERMISSIONS) as readonly Permission[];

const VIEWER = ['self', 'read', 'readRequests', 'follow'] as const;
const EDITOR = [...VIEWER, 'draft', 'requests'] as const;
/** Publishers also make immediate changes: imports as well as editions. */
const PUBLISHER = [...EDITOR, 'imports', 'catalog', 'people', 'publish'] as const;

export const STAFF_ROLES = ['owner', 'publisher', 'editor', 'viewer'] as const;
export type StaffRole = (typeof STAFF_ROLES)[number];

/** Roles that can sign in: the shop's staff, and sellers, who see only their own products. */
export const ROLES = [...STAFF_ROLES, 'seller'] as const;
export type Role = (typeof ROLES)[number];

const OWNER = ALL_PERMISSIONS.filter((permission) => permission !== 'sell' && permission !== 'readOwn');

export const ROLE_MAY: Readonly<Record<Role, readonly Permission[]>> = {
  owner: OWNER,
  publisher: PUBLISHER,
  editor: EDITOR,
  viewer: VIEWER,
  // Requests about their own products only: `Scope` on the server.
  seller: ['self', 'readOwn', 'sell', 'readRequests', 'requests'],
};

/** Scopes of a program's key, granted separately, so that a key for stock updates cannot read customers. */
export const KEY_SCOPES = ['read', 'catalog', 'people', 'rules', 'orders'] as const;
export type KeyScope = (typeof KEY_SCOPES)[number];

export const SCOPE_MAY: Readonly<Record<KeyScope, readonly Permission[]>> = {
  read: ['read', 'readRequests', 'follow'],
  catalog: ['catalog', 'imports', 'follow'],
  people: ['people', 'imports', 'follow'],
  rules: ['read', 'readRequests', 'follow', 'draft', 'publish'],
  orders: ['read', 'readRequests', 'follow', 'requests'],
};

/** Whether access needs a permission, of a colleague or of a key. */
export const isPermission = (auth: string): auth is Permission => auth in PERMISSIONS;
