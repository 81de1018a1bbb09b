-- Mass work that is under way: what is done to each target. Progress stands apart, as it is written with each slice.
CREATE TABLE intent (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    kind TEXT NOT NULL,
    -- The access device or credential that it is about.
    key INTEGER NOT NULL,
    at REAL NOT NULL,
    actor TEXT,
    staff INTEGER,
    facts TEXT NOT NULL,
    -- How many targets there are.
    size INTEGER NOT NULL
) STRICT;
CREATE INDEX intent_of ON intent (kind, key);

-- Targets, some in each row, so that a slice reads no more of them than it needs.
CREATE TABLE intent_targets (
    intent INTEGER NOT NULL REFERENCES intent ON DELETE CASCADE,
    part INTEGER NOT NULL,
    targets TEXT NOT NULL,
    PRIMARY KEY (intent, part)
) STRICT, WITHOUT ROWID;

CREATE TABLE intent_progress (
    intent INTEGER PRIMARY KEY REFERENCES intent ON DELETE CASCADE,
    done INTEGER NOT NULL,
    failed TEXT NOT NULL,
    is_walked INTEGER NOT NULL DEFAULT 0,
    due_at REAL NOT NULL
) STRICT;
CREATE INDEX intent_progress_due ON intent_progress (due_at);
