-- Up Migration
-- What the owner says to shoppers in the place of our own texts, by its key and locale (BCP 47).
CREATE TABLE shop_texts (
  key text NOT NULL CHECK (length(key) BETWEEN 1 AND 100),
  locale text NOT NULL CHECK (length(locale) BETWEEN 2 AND 35),
  text text NOT NULL CHECK (length(text) BETWEEN 1 AND 2000),
  PRIMARY KEY (key, locale)
);
