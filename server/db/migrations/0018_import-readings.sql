-- How files of a kind are to be read, as somebody said it once: a kind is known by its headings.
CREATE TABLE import_readings (
  id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
  target text NOT NULL CHECK (target IN ('catalog', 'people')),
  headings text[] NOT NULL,
  reading jsonb NOT NULL,
  used_at timestamptz NOT NULL DEFAULT now(),
  UNIQUE (target, headings)
);

-- An import may be looked at before it is written: its rows wait meanwhile.
ALTER TABLE imports
  DROP CONSTRAINT imports_state_check,
  ADD CONSTRAINT imports_state_check CHECK (state IN
    ('reading', 'previewing', 'previewed', 'waiting', 'running', 'done', 'failed', 'interrupted', 'cancelled', 'undoing',
     'undone')),
  ADD COLUMN reading jsonb,
  ADD COLUMN preview jsonb;
