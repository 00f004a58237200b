-- Up Migration
-- What somebody looks for in the catalog again and again, by a name: the query of its address.
CREATE TABLE catalog_views (
  name text PRIMARY KEY CHECK (name <> ''),
  query text NOT NULL
);
