-- Whether the list asked for an account when this person joined: their invitation is then theirs alone.
ALTER TABLE waitlist_entries ADD COLUMN account_only boolean NOT NULL DEFAULT false;
