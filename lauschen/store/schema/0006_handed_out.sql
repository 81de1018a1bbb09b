-- Ways in that the house hands out.

-- What is issued may be good between two moments only, and on more devices at once than its plan says.
ALTER TABLE credential ADD COLUMN valid_from REAL;
ALTER TABLE credential ADD COLUMN valid_until REAL;
ALTER TABLE credential ADD COLUMN devices INTEGER CHECK (devices > 0);

-- What staff did to the passcode of a network: a text of their own, sealed; a new one by the schedule's rule (NULL); or
-- the end of an overlap.
CREATE TABLE passcode (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    network INTEGER NOT NULL REFERENCES network,
    at REAL NOT NULL,
    is_end INTEGER NOT NULL DEFAULT 0,
    sealed BLOB
) STRICT;
CREATE INDEX passcode_of ON passcode (network, id);
