-- Up Migration

-- How messages look, by which ways they go, and which events reach whom.
CREATE TABLE message_settings (
  id integer PRIMARY KEY DEFAULT 1 CHECK (id = 1),
  settings json NOT NULL,
  saved_at timestamptz NOT NULL,
  saved_by text NOT NULL
);

-- Addresses of programs that are told of events (Standard Webhooks).
CREATE TABLE web_hooks (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  url text NOT NULL CHECK (url ~ '^https?://'),
  secret text NOT NULL,
  events text[] NOT NULL,
  is_on boolean NOT NULL DEFAULT true,
  created_at timestamptz NOT NULL,
  created_by text NOT NULL
);

ALTER TABLE messages
  DROP CONSTRAINT messages_channel_check,
  ADD CHECK (channel IN ('email', 'text', 'chat', 'hook')),
  ADD COLUMN locale text,
  -- The address of the person that it is about, whoever it goes to.
  ADD COLUMN about text,
  ADD COLUMN web_hook_id bigint REFERENCES web_hooks ON DELETE CASCADE,
  ADD CHECK ((channel = 'hook') = (web_hook_id IS NOT NULL));
UPDATE messages SET about = recipient WHERE audience = 'customer';
CREATE INDEX messages_about ON messages (lower(about));
DROP INDEX messages_recipient;
CREATE INDEX messages_web_hook ON messages (web_hook_id) WHERE web_hook_id IS NOT NULL;

-- E.164.
ALTER TABLE customers ADD COLUMN phone text CHECK (phone ~ '^\+[1-9][0-9]{5,14}$');
