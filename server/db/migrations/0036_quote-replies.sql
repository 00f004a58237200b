-- When a customer replied to a quote that the shop has sent, until the shop acts on it.
ALTER TABLE quotes ADD COLUMN replied_at timestamptz;
CREATE INDEX quotes_replied ON quotes (id) WHERE replied_at IS NOT NULL;
