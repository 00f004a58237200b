-- What else is set once for a shop (core/contract/shopDetails.ts).
ALTER TABLE shop ADD COLUMN details jsonb NOT NULL DEFAULT '{}';
