-- Since when a copy of the server fetches a feed. Where it is killed meanwhile, another takes over and says so.
ALTER TABLE feeds ADD COLUMN fetching_since timestamptz;
