-- Up Migration

-- What is said around a form: once it is sent, or of a sheet with nothing on it; or the page to go on to.
ALTER TABLE forms
  ADD COLUMN sent_text json,
  ADD COLUMN empty_text json,
  ADD COLUMN go_to text CHECK (go_to ~ '\S');
