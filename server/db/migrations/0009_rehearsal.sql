-- Up Migration

-- What the owner expects a visitor to see, whatever the draft becomes.
CREATE TABLE spot_checks (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  -- By the shop's own id, so that it stands while the catalog is imported anew.
  variant text NOT NULL,
  surface text NOT NULL,
  visitor json NOT NULL,
  -- Null: whenever it is asked.
  at timestamptz,
  expects json NOT NULL,
  -- Whether a draft that fails it cannot be published.
  blocks boolean NOT NULL,
  made_at timestamptz NOT NULL,
  made_by text NOT NULL
);

-- Rules that become the next edition by themselves, at their time.
CREATE TABLE openings (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  document json NOT NULL,
  note text,
  opens_at timestamptz NOT NULL,
  -- The edition that was live when it was set.
  over integer NOT NULL,
  set_at timestamptz NOT NULL,
  set_by text NOT NULL
);
CREATE INDEX openings_due ON openings (opens_at, id);

-- What the calendar's address ends with; made when it is first asked for.
ALTER TABLE shop ADD COLUMN calendar_secret text;
