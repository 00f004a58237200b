-- Up Migration

-- A turn is for so many units; null, as those that were given before, for as many as somebody likes.
ALTER TABLE invitations ADD COLUMN units integer CHECK (units > 0);
