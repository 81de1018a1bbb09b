-- Each step of the wall clock that was adopted: when, by the clock before it, and by how many seconds.
CREATE TABLE clock_step (
    id INTEGER PRIMARY KEY,
    at REAL NOT NULL,
    by REAL NOT NULL
) STRICT;

-- Where our clock stood at some second since this machine was booted, so that a restart goes on from there.
CREATE TABLE clock_mark (
    one INTEGER PRIMARY KEY CHECK (one = 1),
    boot TEXT NOT NULL,
    since_boot REAL NOT NULL,
    at REAL NOT NULL
) STRICT;

-- A slip is a piece of paper; what was mistyped is called that.
UPDATE event SET kind = 'code_mistyped', facts = json_object('typo', facts ->> '$.slip') WHERE kind = 'code_slip';
UPDATE visit SET last_answer = 'typo:' || substr(last_answer, 6) WHERE last_answer LIKE 'slip:%';
