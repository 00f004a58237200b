-- Files that are fetched from an address, again and again.
CREATE TABLE feeds (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  target text NOT NULL CHECK (target IN ('catalog', 'people')),
  address text NOT NULL,
  -- Sent as it is in the Authorization header.
  secret text,
  every_minutes integer NOT NULL CHECK (every_minutes >= 5),
  mode text NOT NULL CHECK (mode IN ('merge', 'replace')),
  made_by text NOT NULL,
  next_at timestamptz NOT NULL,
  -- What the other side said of the file (RFC 9110, 8.8), so that the same is not fetched twice.
  etag text,
  last_modified text,
  fetched_at timestamptz,
  -- Of the newest file that came in.
  import_id uuid REFERENCES imports ON DELETE SET NULL,
  -- Why the newest try failed.
  error text
);
CREATE INDEX feeds_due ON feeds (next_at);
