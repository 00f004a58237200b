-- Up Migration

-- Lists are searched by parts of words; trigrams find them without reading every row.
CREATE EXTENSION IF NOT EXISTS pg_trgm;

ALTER TABLE customers ADD COLUMN found_by text
  GENERATED ALWAYS AS (external_id || ' ' || coalesce(name, '') || ' ' || coalesce(email, '')) STORED;
CREATE INDEX customers_found_by ON customers USING gin (found_by gin_trgm_ops);

ALTER TABLE quotes ADD COLUMN found_by text GENERATED ALWAYS AS (email || ' ' || coalesce(name, '')) STORED;
CREATE INDEX quotes_found_by ON quotes USING gin (found_by gin_trgm_ops);

ALTER TABLE enquiries ADD COLUMN found_by text
  GENERATED ALWAYS AS (email || ' ' || coalesce(name, '') || ' ' || answers::text) STORED;
CREATE INDEX enquiries_found_by ON enquiries USING gin (found_by gin_trgm_ops);

ALTER TABLE messages ADD COLUMN found_by text GENERATED ALWAYS AS (recipient || ' ' || subject) STORED;
CREATE INDEX messages_found_by ON messages USING gin (found_by gin_trgm_ops);
