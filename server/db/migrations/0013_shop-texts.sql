-- Up Migration
-- What the owner says to shoppers in the place of our own texts, by its key and locale (BCP 47).
CREATE TABLE shop_texts (
  key text NOT NULL CHECK (length(key) BETWEEN 1 AND 100),
  locale text NOT NULL CHECK (length(locale) BETWEEN 2 AND 35),
  text text NOT NULL CHECK (length(text) BETWEEN 1 AND 2000),
  PRIMARY KEY (key, locale)
);

-- The label of the link to a product's page was a column of its own.
INSERT INTO shop_texts (key, locale, text)
SELECT 'label.choose', label.locale, label.text
FROM shop, jsonb_each_text(
  CASE jsonb_typeof(choose_label)
    WHEN 'object' THEN choose_label
    ELSE jsonb_build_object(locales[1], choose_label)
  END) AS label (locale, text)
WHERE label.text NOT IN ('', 'See sizes and prices', 'Voir les tailles et les prix');
ALTER TABLE shop DROP COLUMN choose_label;
