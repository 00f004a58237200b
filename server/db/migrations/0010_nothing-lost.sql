-- Up Migration

-- Who wrote a row last, by a number that only grows: what is older never overwrites what is newer. A variant's stock has
-- its own, since it changes all day while its price does not.
CREATE SEQUENCE write_order;
ALTER TABLE products ADD COLUMN written bigint NOT NULL DEFAULT 0;
ALTER TABLE variants
  ADD COLUMN written bigint NOT NULL DEFAULT 0,
  ADD COLUMN stock_written bigint NOT NULL DEFAULT 0;
ALTER TABLE customers ADD COLUMN written bigint NOT NULL DEFAULT 0;

-- Imports: their rows wait in a table, and are written in batches, each with how far it is.
UPDATE imports SET state = 'failed', error = 'interrupted' WHERE state IN ('waiting', 'running');
ALTER TABLE imports
  DROP COLUMN rows,
  DROP CONSTRAINT imports_state_check,
  ADD CHECK (state IN ('reading', 'waiting', 'running', 'done', 'failed', 'interrupted', 'cancelled', 'undoing', 'undone')),
  ALTER COLUMN state SET DEFAULT 'reading',
  ALTER COLUMN row_count SET DEFAULT 0,
  ADD COLUMN write_order bigint NOT NULL DEFAULT nextval('write_order'),
  -- All of it in one transaction, for whoever waits for the answer.
  ADD COLUMN at_once boolean NOT NULL DEFAULT false,
  ADD COLUMN columns text[] NOT NULL DEFAULT '{}',
  ADD COLUMN made_by text,
  ADD COLUMN heartbeat_at timestamptz NOT NULL DEFAULT now(),
  ADD COLUMN ended_at timestamptz,
  ADD COLUMN wants text CHECK (wants IN ('cancel')),
  ADD COLUMN created integer NOT NULL DEFAULT 0,
  ADD COLUMN changed integer NOT NULL DEFAULT 0,
  ADD COLUMN archived integer NOT NULL DEFAULT 0,
  ADD COLUMN kept integer NOT NULL DEFAULT 0,
  -- What was there before is still kept.
  ADD COLUMN can_undo boolean NOT NULL DEFAULT true;
UPDATE imports SET can_undo = false;
UPDATE imports SET state = 'interrupted', error = NULL WHERE state = 'failed' AND error = 'interrupted';
CREATE INDEX imports_newest ON imports (created_at DESC, id);

-- The rows as read, kept only until they are in.
CREATE TABLE import_rows (
  import_id uuid NOT NULL REFERENCES imports ON DELETE CASCADE,
  place integer NOT NULL,
  line integer NOT NULL,
  -- The variant's or the customer's id.
  key text NOT NULL,
  cells json NOT NULL,
  PRIMARY KEY (import_id, place)
);
CREATE INDEX import_rows_key ON import_rows (import_id, key);

CREATE TABLE import_refusals (
  import_id uuid NOT NULL REFERENCES imports ON DELETE CASCADE,
  line integer NOT NULL,
  column_name text,
  reason text NOT NULL
);
CREATE INDEX import_refusals_import ON import_refusals (import_id, line);

-- What was there before an import wrote it. What it made is known by having been written by it and no other.
CREATE INDEX variants_written ON variants USING brin (written) WITH (pages_per_range = 16);
CREATE INDEX customers_written ON customers USING brin (written) WITH (pages_per_range = 16);
CREATE TABLE import_changes (
  import_id uuid NOT NULL REFERENCES imports ON DELETE CASCADE,
  kind text NOT NULL CHECK (kind IN ('product', 'variant', 'customer')),
  key text NOT NULL,
  before json NOT NULL,
  PRIMARY KEY (import_id, kind, key)
);

-- Links are signed by keys of their own. Those signed before go on by the secret that signed them.
CREATE TABLE link_keys (
  id text PRIMARY KEY,
  -- The newest has the highest.
  number bigint GENERATED ALWAYS AS IDENTITY,
  secret text NOT NULL,
  made_at timestamptz NOT NULL
);
INSERT INTO link_keys (id, secret, made_at) SELECT 'session', value, now() FROM secrets WHERE name = 'session';
INSERT INTO link_keys (id, secret, made_at)
VALUES ('first', replace(gen_random_uuid()::text || gen_random_uuid()::text, '-', ''), now());

-- Links that are good once, and were used.
CREATE TABLE used_links (
  id text PRIMARY KEY,
  expires_at timestamptz NOT NULL
);

-- What was sent with a key, so that the same key with something else is not taken for the same.
ALTER TABLE idempotency_keys ADD COLUMN content text;
CREATE INDEX idempotency_keys_created ON idempotency_keys (created_at);

-- How often a quote was priced: what is accepted is what was seen.
ALTER TABLE quotes ADD COLUMN version integer NOT NULL DEFAULT 0;
UPDATE quotes SET version = 1 WHERE state IN ('priced', 'accepted', 'declined', 'lapsed');

-- Letters that were held back, and why.
ALTER TABLE messages
  DROP CONSTRAINT messages_state_check,
  ADD CHECK (state IN ('waiting', 'sent', 'dead', 'held'));

-- Misses count by browser: one that reports often is one.
DROP TABLE page_map_misses;
CREATE TABLE page_map_misses (
  path text NOT NULL,
  part text NOT NULL,
  -- Known by nothing but a hash that is another every day.
  browser text NOT NULL,
  last_at timestamptz NOT NULL,
  PRIMARY KEY (path, part, browser)
);
CREATE INDEX page_map_misses_last ON page_map_misses (last_at);
