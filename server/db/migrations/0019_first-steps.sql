-- What of the first steps cannot be read off anything else.
ALTER TABLE shop
  ADD COLUMN people_skipped boolean NOT NULL DEFAULT false,
  -- The shop from whose pages our script was first asked for.
  ADD COLUMN line_seen_on text;
