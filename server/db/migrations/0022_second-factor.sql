-- A second factor beside the password (RFC 6238).
ALTER TABLE staff
  ADD COLUMN totp_secret text,
  -- Chosen, and not yet shown to work.
  ADD COLUMN totp_pending text,
  -- The last step whose code was taken: none is taken twice.
  ADD COLUMN totp_step bigint NOT NULL DEFAULT 0;

-- Each lets one in once, when the telephone is lost.
CREATE TABLE recovery_codes (
  staff_id bigint NOT NULL REFERENCES staff ON DELETE CASCADE,
  hash text NOT NULL,
  PRIMARY KEY (staff_id, hash)
);
