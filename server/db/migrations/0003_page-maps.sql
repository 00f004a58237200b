-- Up Migration

-- Where things are on the shop's pages: drafted, checked, published. The live one was published last.
CREATE TABLE page_maps (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  map json NOT NULL,
  saved_at timestamptz NOT NULL,
  saved_by text NOT NULL,
  -- Null for the draft.
  published_at timestamptz,
  -- What was found when it was published: what is missing later was taken away since.
  baseline json,
  newest_check json,
  -- When the owner was told that it is broken; null while it is not.
  told_at timestamptz
);
CREATE UNIQUE INDEX page_maps_draft ON page_maps ((published_at IS NULL)) WHERE published_at IS NULL;
CREATE INDEX page_maps_live ON page_maps (published_at DESC, id DESC);

INSERT INTO page_maps (map, saved_at, saved_by, published_at)
SELECT page_map, now(), name, now() FROM shop WHERE page_map IS NOT NULL;
ALTER TABLE shop DROP COLUMN page_map;

-- Parts of the live map that shoppers' browsers did not find.
CREATE TABLE page_map_misses (
  path text NOT NULL,
  part text NOT NULL,
  times integer NOT NULL DEFAULT 1,
  last_at timestamptz NOT NULL,
  PRIMARY KEY (path, part)
);
