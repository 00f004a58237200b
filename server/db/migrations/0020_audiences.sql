-- Audiences of one customer, and of those whose turn it is.
ALTER TABLE audiences
  -- The shop's id of theirs, kept when the customer goes.
  ADD COLUMN customer text,
  ADD COLUMN invited boolean NOT NULL DEFAULT false;
