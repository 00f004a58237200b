-- Up Migration

-- One installation serves one shop.
CREATE TABLE shop (
  id smallint PRIMARY KEY DEFAULT 1 CHECK (id = 1),
  name text NOT NULL CHECK (name ~ '\S'),
  zone text NOT NULL,
  locales text[] NOT NULL CHECK (cardinality(locales) > 0),
  currency text NOT NULL CHECK (currency ~ '^[A-Z]{3}$'),
  exponent smallint NOT NULL CHECK (exponent BETWEEN 0 AND 4),
  choose_label jsonb NOT NULL,
  -- Newest first: the first signs, all verify.
  visitor_secrets text[] NOT NULL CHECK (cardinality(visitor_secrets) > 0),
  page_map json
);

CREATE TABLE secrets (
  name text PRIMARY KEY,
  value text NOT NULL
);
INSERT INTO secrets (name, value)
VALUES ('session', replace(gen_random_uuid()::text || gen_random_uuid()::text, '-', ''));

CREATE TABLE staff (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  name text NOT NULL CHECK (name ~ '\S'),
  email text NOT NULL CHECK (email = lower(email)),
  password_hash text NOT NULL,
  created_at timestamptz NOT NULL DEFAULT now(),
  UNIQUE (email)
);

CREATE TABLE sessions (
  sid text PRIMARY KEY,
  sess json NOT NULL,
  expire timestamptz NOT NULL
);
CREATE INDEX sessions_expire ON sessions (expire);

CREATE TABLE rate_limits (
  key text PRIMARY KEY,
  hits integer NOT NULL CHECK (hits >= 0),
  resets_at timestamptz NOT NULL
);
CREATE INDEX rate_limits_resets_at ON rate_limits (resets_at);

CREATE TABLE audiences (
  position smallint PRIMARY KEY,
  name text NOT NULL CHECK (name ~ '\S'),
  signed_in boolean NOT NULL,
  roles text[] NOT NULL DEFAULT '{}'
);

-- Catalog. External ids are the shop's own; keys are ours.
CREATE TABLE products (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  external_id text NOT NULL UNIQUE,
  title jsonb NOT NULL,
  path text,
  -- The path as it is compared: decoded, without a trailing slash.
  path_key text UNIQUE,
  brand text,
  kind text,
  seller text,
  tags text[] NOT NULL DEFAULT '{}',
  attributes jsonb NOT NULL DEFAULT '{}',
  dates jsonb NOT NULL DEFAULT '{}',
  image text,
  revision bigint NOT NULL DEFAULT 1,
  archived_at timestamptz
);
CREATE INDEX products_tags ON products USING gin (tags);

CREATE TABLE variants (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  external_id text NOT NULL UNIQUE,
  product_id bigint NOT NULL REFERENCES products,
  sku text,
  options jsonb NOT NULL DEFAULT '{}',
  price bigint NOT NULL CHECK (price >= 0),
  price_before bigint CHECK (price_before >= 0),
  stock_tracked boolean NOT NULL DEFAULT false,
  stock_quantity integer NOT NULL DEFAULT 0,
  sell_past_zero boolean NOT NULL DEFAULT false,
  archived_at timestamptz
);
CREATE INDEX variants_product ON variants (product_id);

-- Tags that differ only as sameName in the core ignores are one tag, shown as first spelt.
CREATE TABLE tags (
  key text PRIMARY KEY,
  name text NOT NULL
);

CREATE TABLE categories (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  external_id text NOT NULL UNIQUE,
  name text NOT NULL,
  parent_id bigint REFERENCES categories
);
CREATE INDEX categories_parent ON categories (parent_id);

CREATE TABLE product_categories (
  product_id bigint NOT NULL REFERENCES products ON DELETE CASCADE,
  category_id bigint NOT NULL REFERENCES categories,
  PRIMARY KEY (product_id, category_id)
);
CREATE INDEX product_categories_category ON product_categories (category_id);

-- People.
CREATE TABLE customers (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  external_id text NOT NULL UNIQUE,
  email text,
  name text,
  archived_at timestamptz
);

CREATE TABLE customer_roles (
  customer_id bigint NOT NULL REFERENCES customers ON DELETE CASCADE,
  role text NOT NULL CHECK (role ~ '\S'),
  held_from timestamptz,
  held_until timestamptz,
  CHECK (held_from < held_until)
);
CREATE INDEX customer_roles_customer ON customer_roles (customer_id);

CREATE TABLE imports (
  id uuid PRIMARY KEY DEFAULT gen_random_uuid(),
  target text NOT NULL CHECK (target IN ('catalog', 'people')),
  mode text NOT NULL CHECK (mode IN ('merge', 'replace')),
  bad_rows text NOT NULL CHECK (bad_rows IN ('skip', 'refuseAll')),
  state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'running', 'done', 'failed')),
  -- The rows as read, kept only until they are in.
  rows json,
  row_count integer NOT NULL,
  rows_done integer NOT NULL DEFAULT 0,
  report json,
  error text,
  created_at timestamptz NOT NULL DEFAULT now()
);

-- Rules. Documents are json, not jsonb: they are read back as they were written.
CREATE TABLE draft (
  id smallint PRIMARY KEY DEFAULT 1 CHECK (id = 1),
  document json NOT NULL,
  revision bigint NOT NULL DEFAULT 1,
  saved_at timestamptz NOT NULL DEFAULT now(),
  saved_by text
);
INSERT INTO draft (document) VALUES ('{"format":"understudy-rulebook","version":1,"rules":[]}');

CREATE TABLE editions (
  number integer PRIMARY KEY CHECK (number > 0),
  document json NOT NULL,
  note text,
  published_at timestamptz NOT NULL,
  published_by text NOT NULL,
  restored_from integer REFERENCES editions
);

CREATE FUNCTION editions_are_unchangeable() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  RAISE EXCEPTION 'editions are unchangeable';
END $$;
CREATE TRIGGER editions_are_unchangeable BEFORE UPDATE OR DELETE ON editions
FOR EACH ROW EXECUTE FUNCTION editions_are_unchangeable();

CREATE TABLE audit (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  at timestamptz NOT NULL,
  who text NOT NULL,
  did text NOT NULL,
  detail jsonb NOT NULL DEFAULT '{}'
);
