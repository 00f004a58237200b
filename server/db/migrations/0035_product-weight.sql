-- Weight of one unit as shops list it, in grams, so that rules can tell what is too heavy to post.
ALTER TABLE products ADD COLUMN grams integer CHECK (grams >= 0);
