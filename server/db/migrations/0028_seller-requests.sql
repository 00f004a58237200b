-- Up Migration
-- A quote over the goods of several sellers: a part for each, and one for the shop's own goods, where `seller_id` is null.
ALTER TABLE seller_defaults
  ADD COLUMN copies boolean NOT NULL DEFAULT true,
  ADD COLUMN quotes text NOT NULL DEFAULT 'together' CHECK (quotes IN ('together', 'inParts'));

CREATE TABLE quote_parts (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  quote_id bigint NOT NULL REFERENCES quotes ON DELETE CASCADE,
  seller_id text REFERENCES sellers,
  state text NOT NULL DEFAULT 'asked' CHECK (state IN ('asked', 'priced', 'turnedDown')),
  delivery bigint CHECK (delivery >= 0),
  -- Until when its prices are good.
  valid_until timestamptz,
  -- What goes to the customer with it, until it has gone.
  words text NOT NULL DEFAULT '',
  UNIQUE NULLS NOT DISTINCT (quote_id, seller_id),
  CHECK (state <> 'priced' OR valid_until IS NOT NULL)
);
CREATE INDEX quote_parts_seller ON quote_parts (seller_id, quote_id);
INSERT INTO quote_parts (quote_id, state, delivery, valid_until)
SELECT id, CASE WHEN state IN ('asked', 'turnedDown') THEN state ELSE 'priced' END, delivery, coalesce(valid_until, changed_at)
FROM quotes;
ALTER TABLE quotes DROP COLUMN delivery;

-- Told of no more than what it is: nobody's answer changes by it.
ALTER TABLE quote_lines ADD COLUMN part_id bigint REFERENCES quote_parts ON DELETE CASCADE;
UPDATE quote_lines l SET part_id = p.id FROM quote_parts p WHERE p.quote_id = l.quote_id;
ALTER TABLE quote_lines ALTER COLUMN part_id SET NOT NULL;
CREATE INDEX quote_lines_part ON quote_lines (part_id);

-- Whose words, and about whose goods.
ALTER TABLE thread_messages ADD COLUMN seller_id text REFERENCES sellers ON DELETE SET NULL;
CREATE INDEX thread_messages_seller ON thread_messages (seller_id) WHERE seller_id IS NOT NULL;
ALTER TABLE messages ADD COLUMN seller_id text REFERENCES sellers ON DELETE SET NULL;
CREATE INDEX messages_seller ON messages (seller_id, id DESC) WHERE seller_id IS NOT NULL;

-- What was asked about goods that are gone is still their seller's.
DROP INDEX products_seller;
CREATE INDEX products_seller ON products (seller) INCLUDE (archived_at) WHERE seller IS NOT NULL;
