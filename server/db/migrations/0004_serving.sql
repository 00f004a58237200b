-- Up Migration

-- Messages that go out: written with what caused them, sent by jobs.
CREATE TABLE messages (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  event text NOT NULL,
  audience text NOT NULL CHECK (audience IN ('customer', 'owner')),
  channel text NOT NULL CHECK (channel IN ('email')),
  recipient text NOT NULL,
  subject text NOT NULL,
  text_body text NOT NULL,
  html_body text NOT NULL,
  state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'sent', 'dead')),
  attempts integer NOT NULL DEFAULT 0 CHECK (attempts >= 0),
  error text,
  created_at timestamptz NOT NULL,
  sent_at timestamptz,
  CHECK ((state = 'sent') = (sent_at IS NOT NULL))
);
CREATE INDEX messages_newest ON messages (id DESC);
CREATE INDEX messages_unsent ON messages (id) WHERE state <> 'sent';
CREATE INDEX messages_recipient ON messages (lower(recipient));

-- The owner's own words for a message, where they are not ours.
CREATE TABLE templates (
  event text NOT NULL,
  locale text NOT NULL,
  subject text NOT NULL CHECK (subject ~ '\S'),
  body text NOT NULL CHECK (body ~ '\S'),
  saved_at timestamptz NOT NULL,
  saved_by text NOT NULL,
  PRIMARY KEY (event, locale)
);

-- A place in a list that is still open is a person's only one there. Its age says who comes first.
ALTER TABLE waitlist_entries
  ADD COLUMN name text,
  ADD COLUMN locale text,
  ADD COLUMN note text,
  ADD COLUMN changed_at timestamptz NOT NULL DEFAULT now();
CREATE UNIQUE INDEX waitlist_entries_customer_once ON waitlist_entries (product_id, coalesce(variant_id, 0), customer_id)
  WHERE state IN ('waiting', 'invited') AND customer_id IS NOT NULL;
CREATE UNIQUE INDEX waitlist_entries_email_once ON waitlist_entries (product_id, coalesce(variant_id, 0), lower(email))
  WHERE state IN ('waiting', 'invited') AND customer_id IS NULL;
DROP INDEX waitlist_entries_waiting;
CREATE INDEX waitlist_entries_open ON waitlist_entries (product_id, variant_id) WHERE state IN ('waiting', 'invited');
CREATE INDEX waitlist_entries_list ON waitlist_entries (product_id, variant_id, id);
CREATE INDEX waitlist_entries_person ON waitlist_entries (customer_id);
CREATE INDEX waitlist_entries_email ON waitlist_entries (lower(email));

-- How long a turn lasts goes with it, so that the next gets as long.
ALTER TABLE invitations ADD COLUMN hours integer CHECK (hours > 0);
CREATE INDEX invitations_due ON invitations (expires_at) WHERE expires_at IS NOT NULL;

-- Lists that invite by themselves when stock lands, for so many hours.
CREATE TABLE waitlist_settings (
  product_id bigint NOT NULL REFERENCES products,
  variant_id bigint REFERENCES variants,
  invite_for_hours integer NOT NULL CHECK (invite_for_hours > 0)
);
CREATE UNIQUE INDEX waitlist_settings_once ON waitlist_settings (product_id, coalesce(variant_id, 0));

-- What a person asked for is asked for once, however often it is sent.
CREATE TABLE idempotency_keys (
  key text PRIMARY KEY,
  answer json NOT NULL,
  created_at timestamptz NOT NULL
);

-- Orders of the shop's that reserved something are known by their number.
ALTER TABLE preorders
  ADD COLUMN order_number text,
  ADD COLUMN name text,
  ADD COLUMN locale text,
  ADD COLUMN unit_price bigint CHECK (unit_price >= 0),
  ADD COLUMN ships_from date,
  ADD COLUMN ships_until date,
  ADD COLUMN rule_id text,
  ADD COLUMN note text,
  ADD COLUMN changed_at timestamptz NOT NULL DEFAULT now();
CREATE UNIQUE INDEX preorders_order_once ON preorders (order_number, variant_id) WHERE order_number IS NOT NULL;
CREATE INDEX preorders_person ON preorders (customer_id);
CREATE INDEX preorders_email ON preorders (lower(email));
CREATE INDEX preorders_list ON preorders (variant_id, id);
