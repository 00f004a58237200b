-- Up Migration
-- How often something happened, by the hour: who did it is in no row.
CREATE TABLE rule_counts (
  hour timestamptz NOT NULL,
  event text NOT NULL CHECK (event IN ('seen', 'pressed', 'finished', 'refused')),
  edition integer NOT NULL,
  -- Empty for the shop's own button.
  rule text NOT NULL,
  control text NOT NULL,
  audience text NOT NULL,
  surface text NOT NULL,
  count bigint NOT NULL CHECK (count > 0),
  PRIMARY KEY (hour, event, edition, rule, control, audience, surface)
) PARTITION BY RANGE (hour);

-- The same by product: `variant_id` is 0 where it was the product as a whole.
CREATE TABLE product_counts (
  hour timestamptz NOT NULL,
  event text NOT NULL CHECK (event IN ('seen', 'pressed', 'finished', 'refused')),
  rule text NOT NULL,
  control text NOT NULL,
  product_id bigint NOT NULL,
  variant_id bigint NOT NULL,
  count bigint NOT NULL CHECK (count > 0),
  PRIMARY KEY (hour, event, product_id, variant_id, rule, control)
) PARTITION BY RANGE (hour);

-- A month that nobody has made room for is counted here: an order is never refused for want of it.
CREATE TABLE rule_counts_other PARTITION OF rule_counts DEFAULT;
CREATE TABLE product_counts_other PARTITION OF product_counts DEFAULT;

-- What pages told already: sent twice, it counts once.
CREATE TABLE counted_batches (
  id uuid PRIMARY KEY,
  at timestamptz NOT NULL
);
CREATE INDEX counted_batches_at ON counted_batches (at);

-- Makes room for counts of these months (UTC), once, whoever asks; but for those that were counted in the rest already.
CREATE FUNCTION make_count_months(first timestamptz, last timestamptz) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
  month timestamp := date_trunc('month', first AT TIME ZONE 'UTC');
  tab text;
  isCounted boolean;
BEGIN
  PERFORM pg_advisory_xact_lock(hashtextextended('count months', 0));
  WHILE month <= last AT TIME ZONE 'UTC' LOOP
    FOREACH tab IN ARRAY ARRAY['rule_counts', 'product_counts'] LOOP
      EXECUTE format('SELECT EXISTS (SELECT FROM %I WHERE hour >= $1 AND hour < $2)', tab || '_other')
        INTO isCounted USING month AT TIME ZONE 'UTC', (month + interval '1 month') AT TIME ZONE 'UTC';
      IF NOT isCounted THEN
        EXECUTE format('CREATE TABLE IF NOT EXISTS %I PARTITION OF %I FOR VALUES FROM (%L) TO (%L)',
          tab || to_char(month, '_YYYY_MM'), tab, month AT TIME ZONE 'UTC', (month + interval '1 month') AT TIME ZONE 'UTC');
      END IF;
    END LOOP;
    month := month + interval '1 month';
  END LOOP;
END $$;
