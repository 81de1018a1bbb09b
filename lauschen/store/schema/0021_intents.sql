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
    targets TEXT NOT NULL
) STRICT;
CREATE INDEX intent_of ON intent (kind, key);

CREATE TABLE intent_progress (
    intent INTEGER PRIMARY KEY REFERENCES intent ON DELETE CASCADE,
    done INTEGER NOT NULL,
    failed TEXT NOT NULL,
    due_at REAL NOT NULL
) STRICT;
CREATE INDEX intent_progress_due ON intent_progress (due_at);
