-- Up Migration
-- When a quote was first priced or turned down; null where that was before this column.
ALTER TABLE quotes ADD COLUMN answered_at timestamptz;
CREATE INDEX quotes_created ON quotes (created_at);
CREATE INDEX enquiries_created ON enquiries (created_at);
CREATE INDEX invitations_invited ON invitations (invited_at);

-- What shoppers searched for on a day of the shop, and how often nothing was found: who searched is in no row.
CREATE TABLE searched_words (
  day date NOT NULL,
  words text NOT NULL,
  times bigint NOT NULL,
  found_none bigint NOT NULL,
  PRIMARY KEY (day, words)
);

-- Words as they are written, without those that every sentence has.
CREATE FUNCTION make_words(locale text, language text) RETURNS void LANGUAGE plpgsql AS $$
BEGIN
  EXECUTE format('CREATE TEXT SEARCH DICTIONARY %I (TEMPLATE = pg_catalog.simple, STOPWORDS = %I)', 'words_' || locale, language);
  EXECUTE format('CREATE TEXT SEARCH CONFIGURATION %I (PARSER = pg_catalog."default")', 'words_' || locale);
  EXECUTE format('ALTER TEXT SEARCH CONFIGURATION %I ADD MAPPING FOR asciiword, word, hword_asciipart, hword_part WITH %I', 'words_' || locale, 'words_' || locale);
END $$;
SELECT make_words(locale, language) FROM (VALUES ('en', 'english'), ('fr', 'french'), ('de', 'german'), ('es', 'spanish'),
  ('it', 'italian'), ('nl', 'dutch'), ('pt', 'portuguese'), ('sv', 'swedish')) AS w (locale, language);
DROP FUNCTION make_words;
CREATE TEXT SEARCH CONFIGURATION words (PARSER = pg_catalog."default");
ALTER TEXT SEARCH CONFIGURATION words ADD MAPPING FOR asciiword, word, hword_asciipart, hword_part WITH simple;

-- The weeks, by their Monday, whose letter went out.
CREATE TABLE week_letters (
  week date PRIMARY KEY,
  at timestamptz NOT NULL
);

-- Up to when a program was told what was counted, by the server's clock.
ALTER TABLE web_hooks ADD COLUMN counts_told_at timestamptz;
