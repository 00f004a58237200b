-- Up Migration
-- Who sells in a marketplace. `live` are the rules of theirs that count; `asked` are those that wait for the owner's yes.
CREATE TABLE sellers (
  id text PRIMARY KEY,
  name text NOT NULL,
  -- What they may decide, and whether that is live at once; null for what the shop says of all.
  allowed jsonb,
  publishing text CHECK (publishing IN ('atOnce', 'asked')),
  live jsonb NOT NULL DEFAULT '[]',
  draft jsonb NOT NULL DEFAULT '[]',
  revision bigint NOT NULL DEFAULT 1,
  saved_at timestamptz NOT NULL,
  saved_by text,
  asked jsonb,
  asked_at timestamptz,
  asked_by text,
  -- What the owner said to what was asked last, where it was no.
  refusal text
);

-- What the catalog calls them (products.seller): each name is one seller's.
CREATE TABLE seller_names (
  key text PRIMARY KEY,
  name text NOT NULL,
  seller_id text NOT NULL REFERENCES sellers ON DELETE CASCADE
);
CREATE INDEX seller_names_seller ON seller_names (seller_id);

CREATE TABLE seller_editions (
  seller_id text NOT NULL REFERENCES sellers ON DELETE CASCADE,
  number integer NOT NULL,
  rules jsonb NOT NULL,
  published_at timestamptz NOT NULL,
  published_by text NOT NULL,
  -- Who said yes to it; null where none was asked.
  allowed_by text,
  PRIMARY KEY (seller_id, number)
);

-- What the shop says of all sellers; no row before the owner said anything.
CREATE TABLE seller_defaults (
  is_only boolean PRIMARY KEY DEFAULT true CHECK (is_only),
  allowed jsonb NOT NULL,
  publishing text NOT NULL CHECK (publishing IN ('atOnce', 'asked'))
);

ALTER TABLE staff ADD COLUMN seller_id text REFERENCES sellers ON DELETE CASCADE;
ALTER TABLE staff DROP CONSTRAINT staff_role_check;
ALTER TABLE staff ADD CONSTRAINT staff_role_check
  CHECK (role IN ('owner', 'publisher', 'editor', 'viewer') AND seller_id IS NULL OR role = 'seller' AND seller_id IS NOT NULL);

CREATE INDEX products_seller ON products (seller) WHERE archived_at IS NULL;
