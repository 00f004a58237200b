-- What people were promised: units reserved, places on waitlists, turns to buy.

CREATE TABLE preorders (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  variant_id bigint NOT NULL REFERENCES variants,
  customer_id bigint REFERENCES customers,
  email text,
  units integer NOT NULL CHECK (units > 0),
  state text NOT NULL DEFAULT 'reserved' CHECK (state IN ('reserved', 'allocated', 'fulfilled', 'cancelled')),
  created_at timestamptz NOT NULL DEFAULT now(),
  CHECK (customer_id IS NOT NULL OR email IS NOT NULL)
);
CREATE INDEX preorders_open ON preorders (variant_id) WHERE state IN ('reserved', 'allocated');

-- Without a variant, the waitlist is the product's, which covers all its variants.
CREATE TABLE waitlist_entries (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  product_id bigint NOT NULL REFERENCES products,
  variant_id bigint REFERENCES variants,
  customer_id bigint REFERENCES customers,
  email text,
  state text NOT NULL DEFAULT 'waiting' CHECK (state IN ('waiting', 'invited', 'bought', 'lapsed', 'left', 'removed')),
  joined_at timestamptz NOT NULL DEFAULT now(),
  CHECK (customer_id IS NOT NULL OR email IS NOT NULL)
);
CREATE INDEX waitlist_entries_waiting ON waitlist_entries (product_id, variant_id) WHERE state = 'waiting';
CREATE INDEX waitlist_entries_customer ON waitlist_entries (customer_id) WHERE state = 'invited';

CREATE TABLE invitations (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  entry_id bigint NOT NULL REFERENCES waitlist_entries ON DELETE CASCADE,
  invited_at timestamptz NOT NULL DEFAULT now(),
  expires_at timestamptz
);
CREATE INDEX invitations_entry ON invitations (entry_id);
