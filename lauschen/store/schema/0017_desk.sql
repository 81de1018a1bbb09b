-- What is issued may have limits of its own in place of its plan's, and be good on one network alone.
ALTER TABLE credential ADD COLUMN network INTEGER REFERENCES network;
ALTER TABLE credential ADD COLUMN seconds INTEGER CHECK (seconds > 0);
ALTER TABLE credential ADD COLUMN octets INTEGER CHECK (octets > 0);
ALTER TABLE credential ADD COLUMN down_bps INTEGER CHECK (down_bps > 0);
ALTER TABLE credential ADD COLUMN up_bps INTEGER CHECK (up_bps > 0);

-- What stands with what was issued: words that the guest reads, a note that they never do, and the price of each in
-- hundredths.
ALTER TABLE batch ADD COLUMN words TEXT NOT NULL DEFAULT '';
ALTER TABLE batch ADD COLUMN note TEXT NOT NULL DEFAULT '';
ALTER TABLE batch ADD COLUMN price INTEGER CHECK (price >= 0);

-- What one of the desk may give, as JSON; NULL: everything.
ALTER TABLE staff ADD COLUMN limits TEXT;

-- Where an act came from: the address of who did it.
ALTER TABLE event ADD COLUMN source TEXT;

-- Programs are in the same table as people: they have a name, a duty and limits, and a token instead of a password.
ALTER TABLE staff ADD COLUMN token_hash BLOB;
ALTER TABLE staff ADD COLUMN token_until REAL;
ALTER TABLE staff ADD COLUMN token_used REAL;
CREATE UNIQUE INDEX staff_by_token ON staff (token_hash) WHERE token_hash IS NOT NULL;

-- Where somebody is written to, and the link by which they choose their password.
ALTER TABLE staff ADD COLUMN mail TEXT NOT NULL DEFAULT '';
ALTER TABLE staff ADD COLUMN invited_hash BLOB;
ALTER TABLE staff ADD COLUMN invited_until REAL;

-- The second factor: its secret, and the last step of time whose code was taken, so that each is taken once.
ALTER TABLE staff ADD COLUMN second_sealed BLOB;
ALTER TABLE staff ADD COLUMN second_step INTEGER NOT NULL DEFAULT 0;
CREATE TABLE recovery_code (
    staff INTEGER NOT NULL REFERENCES staff,
    hash BLOB NOT NULL,
    PRIMARY KEY (staff, hash)
) STRICT, WITHOUT ROWID;

ALTER TABLE staff_session ADD COLUMN begun REAL NOT NULL DEFAULT 0;
ALTER TABLE staff_session ADD COLUMN source TEXT NOT NULL DEFAULT '';
ALTER TABLE staff_session ADD COLUMN browser TEXT NOT NULL DEFAULT '';

-- A request to issue that names itself is carried out once, however often it comes.
CREATE TABLE issued_once (
    staff INTEGER NOT NULL REFERENCES staff,
    key_hash BLOB NOT NULL,
    asked BLOB NOT NULL,
    at REAL NOT NULL,
    batch INTEGER NOT NULL REFERENCES batch ON DELETE CASCADE,
    PRIMARY KEY (staff, key_hash)
) STRICT, WITHOUT ROWID;
CREATE INDEX issued_once_by_time ON issued_once (at);
CREATE INDEX issued_once_by_batch ON issued_once (batch);

-- The activity record: what somebody did, whoever it was.
CREATE INDEX event_by_actor ON event (actor, id) WHERE actor IS NOT NULL;

-- How slips are printed, as JSON, and the house's picture on them (PNG).
ALTER TABLE house ADD COLUMN slips TEXT NOT NULL DEFAULT '{}';
ALTER TABLE house ADD COLUMN logo BLOB;

-- How many signs the codes have that were drawn in this house, as JSON.
ALTER TABLE house ADD COLUMN code_lengths TEXT NOT NULL DEFAULT '[10]';

-- Guests who come again are found by the beginning of their name.
CREATE INDEX batch_by_label ON batch (label COLLATE NOCASE) WHERE label <> '';

-- How many of a batch were used, and are withdrawn: counted as it happens, since a batch may have a hundred thousand.
ALTER TABLE batch ADD COLUMN used INTEGER NOT NULL DEFAULT 0;
ALTER TABLE batch ADD COLUMN withdrawn INTEGER NOT NULL DEFAULT 0;
UPDATE batch SET
    used = (SELECT count(w.first_used) FROM credential c JOIN allowance w ON w.credential = c.id AND w.mac IS NULL
        WHERE c.batch = batch.id),
    withdrawn = (SELECT count(c.withdrawn_at) FROM credential c WHERE c.batch = batch.id);
CREATE TRIGGER batch_withdrawn AFTER UPDATE OF withdrawn_at ON credential
    WHEN new.batch IS NOT NULL AND (old.withdrawn_at IS NULL) <> (new.withdrawn_at IS NULL)
BEGIN
    UPDATE batch SET withdrawn = withdrawn + iif(new.withdrawn_at IS NULL, -1, 1) WHERE id = new.batch;
END;
CREATE TRIGGER batch_used AFTER UPDATE OF first_used ON allowance
    WHEN new.mac IS NULL AND (old.first_used IS NULL) <> (new.first_used IS NULL)
BEGIN
    UPDATE batch SET used = used + iif(new.first_used IS NULL, -1, 1)
        WHERE id = (SELECT batch FROM credential WHERE id = new.credential);
END;

-- How many signs the drawn codes of a batch have.
ALTER TABLE batch ADD COLUMN code_length INTEGER NOT NULL DEFAULT 10;
