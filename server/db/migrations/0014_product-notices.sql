-- Up Migration
-- Every copy of the server holds facts of products, and is told of each that changed when the transaction commits: by its
-- key, or `*` where there are too many for a notice (PostgreSQL takes 8,000 bytes).
CREATE FUNCTION notify_products(keys text) RETURNS void LANGUAGE sql AS $$
  SELECT pg_notify('products', CASE WHEN length(keys) > 7000 THEN '*' ELSE keys END) WHERE keys IS NOT NULL
$$;

CREATE FUNCTION notify_of_products() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM notify_products((SELECT string_agg(DISTINCT id::text, ',') FROM changed));
  RETURN NULL;
END $$;

CREATE FUNCTION notify_of_parts() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM notify_products((SELECT string_agg(DISTINCT product_id::text, ',') FROM changed));
  RETURN NULL;
END $$;

CREATE FUNCTION notify_of_preorders() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM notify_products(
    (SELECT string_agg(DISTINCT v.product_id::text, ',') FROM changed c JOIN variants v ON v.id = c.variant_id));
  RETURN NULL;
END $$;

DO $$
DECLARE
  part record;
BEGIN
  FOR part IN
    SELECT * FROM (VALUES
      ('products', 'notify_of_products'), ('variants', 'notify_of_parts'), ('product_categories', 'notify_of_parts'),
      ('waitlist_entries', 'notify_of_parts'), ('preorders', 'notify_of_preorders')) AS parts (tab, func)
  LOOP
    EXECUTE format('CREATE TRIGGER notify_inserted AFTER INSERT ON %I REFERENCING NEW TABLE AS changed
      FOR EACH STATEMENT EXECUTE FUNCTION %I()', part.tab, part.func);
    EXECUTE format('CREATE TRIGGER notify_updated AFTER UPDATE ON %I REFERENCING NEW TABLE AS changed
      FOR EACH STATEMENT EXECUTE FUNCTION %I()', part.tab, part.func);
    EXECUTE format('CREATE TRIGGER notify_deleted AFTER DELETE ON %I REFERENCING OLD TABLE AS changed
      FOR EACH STATEMENT EXECUTE FUNCTION %I()', part.tab, part.func);
  END LOOP;
END $$;
