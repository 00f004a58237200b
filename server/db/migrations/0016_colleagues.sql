-- Whoever was there before is an owner.
ALTER TABLE staff
  ADD COLUMN role text NOT NULL DEFAULT 'owner' CHECK (role IN ('owner', 'publisher', 'editor', 'viewer')),
  ADD COLUMN invited_by text,
  ADD COLUMN seen_at timestamptz,
  ALTER COLUMN password_hash DROP NOT NULL;
ALTER TABLE staff ALTER COLUMN role DROP DEFAULT;
COMMENT ON COLUMN staff.password_hash IS 'argon2id; null while an invitation waits for an answer';
