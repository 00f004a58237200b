-- Up Migration
-- Every copy of the server holds what it knows of visitors, as it does of products: it is told, by their keys, whose
-- roles, invitations, places, reservations or requests changed.
CREATE FUNCTION notify_visitors(keys text) RETURNS void LANGUAGE sql AS $$
  SELECT pg_notify('visitors', CASE WHEN length(keys) > 7000 THEN '*' ELSE keys END) WHERE keys IS NOT NULL
$$;

CREATE FUNCTION notify_of_customers() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM notify_visitors((SELECT string_agg(DISTINCT id::text, ',') FROM changed));
  RETURN NULL;
END $$;

CREATE FUNCTION notify_of_customers_parts() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM notify_visitors((SELECT string_agg(DISTINCT customer_id::text, ',') FROM changed));
  RETURN NULL;
END $$;

-- Whoever leaves a list, or is invited, lets all behind them on it move up; whoever joins stands at its end.
CREATE FUNCTION notify_of_those_who_wait() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM notify_visitors((
    SELECT string_agg(DISTINCT customer_id::text, ',') FROM (
      SELECT customer_id FROM changed UNION ALL
      SELECT w.customer_id FROM waitlist_entries w
      WHERE TG_OP <> 'INSERT' AND w.product_id IN (SELECT product_id FROM changed) AND w.state = 'waiting') AS moved));
  RETURN NULL;
END $$;

CREATE FUNCTION notify_of_invitations() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM notify_visitors((SELECT string_agg(DISTINCT w.customer_id::text, ',')
    FROM changed c JOIN waitlist_entries w ON w.id = c.entry_id));
  RETURN NULL;
END $$;

CREATE FUNCTION notify_of_quote_lines() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM notify_visitors((SELECT string_agg(DISTINCT q.customer_id::text, ',')
    FROM changed c JOIN quotes q ON q.id = c.quote_id));
  RETURN NULL;
END $$;

CREATE FUNCTION notify_of_all() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  PERFORM pg_notify('products', '*');
  PERFORM pg_notify('visitors', '*');
  RETURN NULL;
END $$;

-- Of what was, as of what is: what moves from one to another concerns both.
DO $$
DECLARE
  part record;
  change record;
BEGIN
  FOR part IN
    SELECT * FROM (VALUES
      ('products', 'notify_of_products'), ('variants', 'notify_of_parts'), ('product_categories', 'notify_of_parts'),
      ('waitlist_entries', 'notify_of_parts'), ('preorders', 'notify_of_preorders'),
      ('customers', 'notify_of_customers'), ('customer_roles', 'notify_of_customers_parts'),
      ('preorders', 'notify_of_customers_parts'), ('quotes', 'notify_of_customers_parts'),
      ('enquiries', 'notify_of_customers_parts'), ('waitlist_entries', 'notify_of_those_who_wait'),
      ('invitations', 'notify_of_invitations'), ('quote_lines', 'notify_of_quote_lines')) AS parts (tab, func)
  LOOP
    FOR change IN SELECT * FROM (VALUES ('INSERT', 'NEW'), ('UPDATE', 'OLD'), ('UPDATE', 'NEW'), ('DELETE', 'OLD'))
      AS changes (kind, rows)
    LOOP
      EXECUTE format('CREATE TRIGGER %I AFTER %s ON %I REFERENCING %s TABLE AS changed
        FOR EACH STATEMENT EXECUTE FUNCTION %I()',
        lower(part.func || '_' || change.kind || '_' || change.rows), change.kind, part.tab, change.rows, part.func);
    END LOOP;
  END LOOP;
  FOR part IN
    SELECT unnest(ARRAY['products', 'variants', 'product_categories', 'waitlist_entries', 'preorders']) AS tab
  LOOP
    EXECUTE format('DROP TRIGGER notify_inserted ON %I', part.tab);
    EXECUTE format('DROP TRIGGER notify_updated ON %I', part.tab);
    EXECUTE format('DROP TRIGGER notify_deleted ON %I', part.tab);
  END LOOP;
  FOR part IN
    SELECT unnest(ARRAY['products', 'variants', 'product_categories', 'customers', 'customer_roles', 'preorders',
      'waitlist_entries', 'invitations', 'quotes', 'quote_lines', 'enquiries']) AS tab
  LOOP
    EXECUTE format('CREATE TRIGGER notify_of_all AFTER TRUNCATE ON %I
      FOR EACH STATEMENT EXECUTE FUNCTION notify_of_all()', part.tab);
  END LOOP;
END $$;
