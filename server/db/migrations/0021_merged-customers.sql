-- A customer who was merged into another: their id goes on meaning that one.
ALTER TABLE customers ADD COLUMN merged_into bigint REFERENCES customers CHECK (merged_into <> id);
CREATE INDEX customers_merged_into ON customers (merged_into) WHERE merged_into IS NOT NULL;
