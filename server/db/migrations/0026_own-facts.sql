-- Up Migration
-- What the shop's file says of a product stands apart from what was said in Understudy, which the next file leaves as it
-- is; what counts is both together. `own`: {"addTags": [], "removeTags": [], "attributes": {}, "dates": {}}, where null
-- takes away what the file says.
ALTER TABLE products RENAME COLUMN tags TO file_tags;
ALTER TABLE products RENAME COLUMN attributes TO file_attributes;
ALTER TABLE products RENAME COLUMN dates TO file_dates;
DROP INDEX products_tags;

CREATE FUNCTION tags_with_own(file text[], own jsonb) RETURNS text[] LANGUAGE sql IMMUTABLE AS $$
  SELECT coalesce(array_agg(tag ORDER BY place), '{}') FROM (
    SELECT tag, min(place) AS place FROM (
      SELECT tag, place FROM unnest(file) WITH ORDINALITY AS f (tag, place)
      WHERE NOT coalesce(own -> 'removeTags', '[]') ? tag
      UNION ALL
      SELECT tag, 100000 + place FROM jsonb_array_elements_text(coalesce(own -> 'addTags', '[]')) WITH ORDINALITY AS a (tag, place)
    ) AS every GROUP BY tag) AS once
$$;

CREATE FUNCTION pairs_with_own(file jsonb, own jsonb) RETURNS jsonb LANGUAGE sql IMMUTABLE AS $$
  SELECT jsonb_strip_nulls(file || coalesce(own, '{}'))
$$;

ALTER TABLE products
  ADD COLUMN own jsonb,
  ADD COLUMN tags text[] NOT NULL
    GENERATED ALWAYS AS (CASE WHEN own IS NULL THEN file_tags ELSE tags_with_own(file_tags, own) END) STORED,
  ADD COLUMN attributes jsonb NOT NULL
    GENERATED ALWAYS AS (CASE WHEN own IS NULL THEN file_attributes ELSE pairs_with_own(file_attributes, own -> 'attributes') END) STORED,
  ADD COLUMN dates jsonb NOT NULL
    GENERATED ALWAYS AS (CASE WHEN own IS NULL THEN file_dates ELSE pairs_with_own(file_dates, own -> 'dates') END) STORED;
CREATE INDEX products_tags ON products USING gin (tags);

-- What was changed of many products at once, and what was theirs before, so that it can be taken back.
CREATE TABLE fact_changes (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  made_at timestamptz NOT NULL,
  made_by text NOT NULL,
  changes jsonb NOT NULL,
  -- Whether it is, or is being, taken back.
  is_undoing boolean NOT NULL DEFAULT false
);

CREATE TABLE fact_change_products (
  change_id bigint NOT NULL REFERENCES fact_changes ON DELETE CASCADE,
  product_id bigint NOT NULL REFERENCES products,
  is_done boolean NOT NULL DEFAULT false,
  own_before jsonb,
  own_after jsonb,
  PRIMARY KEY (change_id, product_id)
);
CREATE INDEX fact_change_products_left ON fact_change_products (change_id, is_done, product_id);
