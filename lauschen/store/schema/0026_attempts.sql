-- What people of the house tried and did not prove: codes of their second factor, and passphrases that somebody has.
CREATE TABLE attempt (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    staff INTEGER NOT NULL,
    what TEXT NOT NULL,
    at REAL NOT NULL
) STRICT;
CREATE INDEX attempt_of ON attempt (staff, what, at);
