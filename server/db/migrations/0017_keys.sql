CREATE TABLE program_keys (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  name text NOT NULL,
  scopes text[] NOT NULL,
  key_hash bytea NOT NULL UNIQUE,
  ending text NOT NULL,
  made_by text NOT NULL,
  made_at timestamptz NOT NULL,
  used_at timestamptz,
  revoked_at timestamptz,
  revoked_by text
);
COMMENT ON COLUMN program_keys.key_hash IS 'SHA-256: a key is 256 random bits, which no list of words holds';
