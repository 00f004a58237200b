-- Up Migration

-- The owner's forms: what is asked of those who enquire, or ask for a price.
CREATE TABLE forms (
  code text PRIMARY KEY CHECK (code ~ '\S'),
  fields json NOT NULL,
  saved_at timestamptz NOT NULL DEFAULT now(),
  saved_by text NOT NULL
);
INSERT INTO forms (code, saved_by, fields) VALUES
  ('contact', 'Understudy', '[{"name":"question","kind":"longText","required":true,"label":{"en":"Your question","fr":"Votre question"}}]'),
  ('quote', 'Understudy', '[{"name":"telephone","kind":"text","required":false,"label":{"en":"Telephone","fr":"Téléphone"}},{"name":"delivery","kind":"text","required":false,"label":{"en":"Where to","fr":"Lieu de livraison"}}]');

CREATE TABLE enquiries (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  form text NOT NULL,
  product_id bigint REFERENCES products,
  variant_id bigint REFERENCES variants,
  customer_id bigint REFERENCES customers,
  email text NOT NULL,
  name text,
  locale text,
  answers json NOT NULL,
  state text NOT NULL DEFAULT 'open' CHECK (state IN ('open', 'answered', 'closed')),
  created_at timestamptz NOT NULL,
  changed_at timestamptz NOT NULL
);
CREATE INDEX enquiries_state ON enquiries (state, id DESC);
CREATE INDEX enquiries_product ON enquiries (product_id);
CREATE INDEX enquiries_email ON enquiries (lower(email));

CREATE TABLE quotes (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  customer_id bigint REFERENCES customers,
  email text NOT NULL,
  name text,
  locale text,
  answers json NOT NULL,
  state text NOT NULL DEFAULT 'asked'
    CHECK (state IN ('asked', 'priced', 'accepted', 'declined', 'turnedDown', 'lapsed')),
  delivery bigint CHECK (delivery >= 0),
  valid_until timestamptz,
  -- The order that used it up.
  order_number text,
  created_at timestamptz NOT NULL,
  changed_at timestamptz NOT NULL,
  CHECK (state NOT IN ('priced', 'accepted') OR valid_until IS NOT NULL)
);
CREATE INDEX quotes_state ON quotes (state, id DESC);
CREATE INDEX quotes_due ON quotes (valid_until) WHERE state = 'priced';
CREATE INDEX quotes_email ON quotes (lower(email));
CREATE INDEX quotes_customer ON quotes (customer_id);

CREATE TABLE quote_lines (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  quote_id bigint NOT NULL REFERENCES quotes ON DELETE CASCADE,
  variant_id bigint NOT NULL REFERENCES variants,
  units integer NOT NULL CHECK (units > 0),
  note text,
  unit_price bigint CHECK (unit_price >= 0),
  UNIQUE (quote_id, variant_id)
);

-- What was said about a quote or an enquiry, in its order.
CREATE TABLE said (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  quote_id bigint REFERENCES quotes ON DELETE CASCADE,
  enquiry_id bigint REFERENCES enquiries ON DELETE CASCADE,
  by_owner boolean NOT NULL,
  words text NOT NULL CHECK (words ~ '\S'),
  at timestamptz NOT NULL,
  CHECK (num_nonnulls(quote_id, enquiry_id) = 1)
);
CREATE INDEX said_quote ON said (quote_id);
CREATE INDEX said_enquiry ON said (enquiry_id);
