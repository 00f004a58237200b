-- Names are shared and change: the colleague who did something is also recorded by number and address.
ALTER TABLE audit ADD COLUMN staff_id bigint, ADD COLUMN email text;
