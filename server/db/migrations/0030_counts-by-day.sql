-- Up Migration
-- The counts of 0029, one row for all that happened: by the hour of the shop's zone where a rule is asked about, by its
-- day where many days or products are.
ALTER TABLE rule_counts RENAME TO old_rule_counts;
ALTER TABLE product_counts RENAME TO old_product_counts;
ALTER INDEX rule_counts_pkey RENAME TO old_rule_counts_pkey;
ALTER INDEX product_counts_pkey RENAME TO old_product_counts_pkey;

CREATE TABLE rule_counts (
  hour timestamptz NOT NULL,
  -- Empty for the shop's own button.
  rule text NOT NULL,
  control text NOT NULL,
  edition integer NOT NULL,
  audience text NOT NULL,
  surface text NOT NULL,
  seen bigint NOT NULL,
  pressed bigint NOT NULL,
  finished bigint NOT NULL,
  refused bigint NOT NULL,
  -- By the server's clock: programs are told of the hours that changed since they were told.
  changed_at timestamptz NOT NULL,
  PRIMARY KEY (hour, rule, control, edition, audience, surface)
) PARTITION BY RANGE (hour);
CREATE INDEX rule_counts_changed ON rule_counts USING brin (changed_at) WITH (pages_per_range = 16);

CREATE TABLE rule_days (
  day date NOT NULL,
  rule text NOT NULL,
  control text NOT NULL,
  audience text NOT NULL,
  surface text NOT NULL,
  seen bigint NOT NULL,
  pressed bigint NOT NULL,
  finished bigint NOT NULL,
  refused bigint NOT NULL,
  PRIMARY KEY (day, rule, control, audience, surface)
);

-- `variant_id` is 0 where it was the product as a whole.
CREATE TABLE product_days (
  rule text NOT NULL,
  control text NOT NULL,
  product_id bigint NOT NULL,
  variant_id bigint NOT NULL,
  day date NOT NULL,
  seen bigint NOT NULL,
  pressed bigint NOT NULL,
  finished bigint NOT NULL,
  refused bigint NOT NULL,
  PRIMARY KEY (rule, control, product_id, variant_id, day)
) PARTITION BY RANGE (day);
-- The few rows that lists begin with: most of what is seen is not pressed.
CREATE INDEX product_days_finished ON product_days (rule, control) INCLUDE (day, product_id, finished) WHERE finished > 0;
CREATE INDEX product_days_pressed ON product_days (rule, control) INCLUDE (day, product_id, pressed) WHERE pressed > 0;
CREATE INDEX product_days_refused ON product_days (day) INCLUDE (product_id, variant_id, refused) WHERE refused > 0;
CREATE INDEX product_days_product ON product_days (product_id);

-- A month that nobody has made room for is counted here: an order is never refused for want of it.
CREATE TABLE rule_counts_rest PARTITION OF rule_counts DEFAULT;
CREATE TABLE product_days_rest PARTITION OF product_days DEFAULT;

INSERT INTO rule_counts
SELECT hour, rule, control, edition, audience, surface, coalesce(sum(count) FILTER (WHERE event = 'seen'), 0),
  coalesce(sum(count) FILTER (WHERE event = 'pressed'), 0), coalesce(sum(count) FILTER (WHERE event = 'finished'), 0),
  coalesce(sum(count) FILTER (WHERE event = 'refused'), 0), now()
FROM old_rule_counts GROUP BY hour, rule, control, edition, audience, surface;

INSERT INTO rule_days
SELECT (hour AT TIME ZONE zone)::date, rule, control, audience, surface, sum(seen), sum(pressed), sum(finished), sum(refused)
FROM rule_counts, shop GROUP BY 1, rule, control, audience, surface;

INSERT INTO product_days
SELECT rule, control, product_id, variant_id, (hour AT TIME ZONE zone)::date,
  coalesce(sum(count) FILTER (WHERE event = 'seen'), 0), coalesce(sum(count) FILTER (WHERE event = 'pressed'), 0),
  coalesce(sum(count) FILTER (WHERE event = 'finished'), 0), coalesce(sum(count) FILTER (WHERE event = 'refused'), 0)
FROM old_product_counts, shop GROUP BY rule, control, product_id, variant_id, 5;

DROP TABLE old_rule_counts, old_product_counts;
DROP FUNCTION make_count_months;

-- Makes room for counts of these months (UTC), once, whoever asks; but for those that were counted in the rest already.
CREATE FUNCTION make_count_months(first timestamptz, last timestamptz) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
  month timestamp := date_trunc('month', first AT TIME ZONE 'UTC');
  part record;
  isCounted boolean;
BEGIN
  PERFORM pg_advisory_xact_lock(hashtextextended('count months', 0));
  WHILE month <= last AT TIME ZONE 'UTC' LOOP
    FOR part IN SELECT * FROM (VALUES
        ('rule_counts', 'hour', month AT TIME ZONE 'UTC', (month + interval '1 month') AT TIME ZONE 'UTC'),
        ('product_days', 'day', month, month + interval '1 month')) AS p (name, field, since, until) LOOP
      EXECUTE format('SELECT EXISTS (SELECT FROM %I WHERE %I >= %L AND %I < %L)',
        part.name || '_rest', part.field, part.since, part.field, part.until) INTO isCounted;
      IF NOT isCounted THEN
        EXECUTE format('CREATE TABLE IF NOT EXISTS %I PARTITION OF %I FOR VALUES FROM (%L) TO (%L)',
          part.name || to_char(month, '_YYYY_MM'), part.name, part.since, part.until);
      END IF;
    END LOOP;
    month := month + interval '1 month';
  END LOOP;
END $$;

-- Forgets what was counted before a day: whole months at once, the rest of a month row by row.
CREATE FUNCTION forget_counts(before date) RETURNS void LANGUAGE plpgsql AS $$
DECLARE
  part record;
BEGIN
  PERFORM pg_advisory_xact_lock(hashtextextended('count months', 0));
  FOR part IN SELECT child.relname AS name FROM pg_inherits
      JOIN pg_class child ON child.oid = inhrelid
      WHERE inhparent IN ('rule_counts'::regclass, 'product_days'::regclass)
        AND child.relname ~ '_\d{4}_\d\d$'
        AND to_date(right(child.relname, 7), 'YYYY_MM') + interval '1 month 1 day' <= before LOOP
    EXECUTE format('DROP TABLE %I', part.name);
  END LOOP;
  DELETE FROM rule_counts WHERE hour < before::timestamptz;
  DELETE FROM product_days WHERE day < before;
  DELETE FROM rule_days WHERE day < before;
END $$;
