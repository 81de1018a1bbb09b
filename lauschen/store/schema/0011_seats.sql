-- How the devices of what is issued are counted: at once, ever, or not at all.

ALTER TABLE credential ADD COLUMN seats TEXT NOT NULL DEFAULT 'at_once' CHECK (seats IN ('at_once', 'ever', 'any'));
