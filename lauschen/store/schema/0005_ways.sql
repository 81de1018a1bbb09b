-- Room for many ways in. Foreign keys are off while this runs, and checked after it.

-- Decisions keep the version of the configuration that they were made by.
ALTER TABLE house ADD COLUMN version INTEGER NOT NULL DEFAULT 1;
-- Where whoever no rule matches is placed; NULL: at the door.
ALTER TABLE house ADD COLUMN last_role INTEGER REFERENCES role;

-- Plans are removed as networks and roles are: the row stays, its name may be used again.
CREATE TABLE plan_new (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL,
    seconds INTEGER CHECK (seconds > 0),
    idle_seconds INTEGER CHECK (idle_seconds > 0),
    octets INTEGER CHECK (octets > 0),
    devices INTEGER NOT NULL CHECK (devices > 0),
    use_within_days INTEGER CHECK (use_within_days > 0),
    down_bps INTEGER CHECK (down_bps > 0),
    up_bps INTEGER CHECK (up_bps > 0),
    removed_at REAL
) STRICT;
INSERT INTO plan_new (id, name, seconds, idle_seconds, octets, devices, use_within_days)
    SELECT id, name, seconds, idle_seconds, octets, devices, use_within_days FROM plan;
DROP TABLE plan;
ALTER TABLE plan_new RENAME TO plan;
CREATE UNIQUE INDEX plan_name ON plan (name) WHERE removed_at IS NULL;
ALTER TABLE role ADD COLUMN down_bps INTEGER CHECK (down_bps > 0);
ALTER TABLE role ADD COLUMN up_bps INTEGER CHECK (up_bps > 0);

-- An act names who acted: a person (then `staff` says which), a guest, a host, a token, the command line.
ALTER TABLE heard RENAME TO event;
ALTER TABLE event ADD COLUMN actor TEXT;
UPDATE event SET actor = 'person' WHERE staff IS NOT NULL;
UPDATE event SET actor = 'guest' WHERE kind IN ('page_opened', 'code_slip', 'logged_out');
DROP INDEX heard_by_device;
CREATE INDEX event_by_device ON event (mac, id) WHERE mac IS NOT NULL;

-- What a network offers to let in, in the order of its page. Until now every network offered vouchers.
CREATE TABLE way (
    network INTEGER NOT NULL REFERENCES network,
    position INTEGER NOT NULL,
    kind TEXT NOT NULL,
    settings TEXT NOT NULL,
    PRIMARY KEY (network, kind)
) STRICT, WITHOUT ROWID;
INSERT INTO way (network, position, kind, settings) SELECT id, 1, 'voucher', '{}' FROM network;

-- The text that guests agree to: a version for each change, in all languages.
CREATE TABLE house_rules (
    version INTEGER NOT NULL,
    lang TEXT NOT NULL,
    text TEXT NOT NULL,
    since REAL NOT NULL,
    PRIMARY KEY (version, lang)
) STRICT, WITHOUT ROWID;

-- A rule may ask for a plan too.
ALTER TABLE rule ADD COLUMN plan INTEGER REFERENCES plan;

-- What was issued, by what it is found, and what was used of it, are three things (rulings 8.7).
CREATE TABLE credential_new (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    way TEXT NOT NULL,
    plan INTEGER NOT NULL REFERENCES plan,
    batch INTEGER REFERENCES batch,
    issued_at REAL NOT NULL,
    withdrawn_at REAL
) STRICT;
CREATE TABLE finder (
    hash BLOB PRIMARY KEY,
    credential INTEGER NOT NULL REFERENCES credential,
    kind TEXT NOT NULL,
    sealed BLOB
) STRICT, WITHOUT ROWID;
-- `mac`: of the device that it is counted for, where the way in counts per device.
CREATE TABLE allowance (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    credential INTEGER NOT NULL REFERENCES credential,
    mac INTEGER REFERENCES device,
    first_used REAL,
    octets INTEGER NOT NULL DEFAULT 0,
    given_seconds INTEGER NOT NULL DEFAULT 0,
    given_octets INTEGER NOT NULL DEFAULT 0,
    data_out_at REAL
) STRICT;
INSERT INTO credential_new (id, way, plan, batch, issued_at, withdrawn_at)
    SELECT id, kind, plan, batch, issued_at, withdrawn_at FROM credential;
INSERT INTO finder (hash, credential, kind, sealed) SELECT code_hash, id, 'code', code_sealed FROM credential;
-- A voucher that nobody used, and to which nothing was given, has none yet.
INSERT INTO allowance (id, credential, first_used, octets, given_seconds, given_octets, data_out_at)
    SELECT id, id, first_used, octets, given_seconds, given_octets, data_out_at FROM credential
    WHERE first_used IS NOT NULL OR octets > 0 OR given_seconds > 0 OR given_octets > 0;

CREATE TABLE admission_new (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    mac INTEGER NOT NULL REFERENCES device,
    network INTEGER NOT NULL REFERENCES network,
    allowance INTEGER NOT NULL REFERENCES allowance,
    token TEXT NOT NULL UNIQUE,
    begun REAL NOT NULL,
    ended REAL,
    end_reason TEXT,
    seat_since REAL,
    offered TEXT
) STRICT;
INSERT INTO allowance (credential) SELECT DISTINCT credential FROM admission
    WHERE credential NOT IN (SELECT credential FROM allowance);
INSERT INTO admission_new (id, mac, network, allowance, token, begun, ended, end_reason, seat_since)
    SELECT a.id, a.mac, a.network, w.id, a.token, a.begun, a.ended, a.end_reason, a.seat_since
    FROM admission a JOIN allowance w ON w.credential = a.credential;
-- Ids of forgotten ones are not given again either.
INSERT INTO sqlite_sequence (name, seq)
    SELECT 'admission_new', 0 WHERE NOT EXISTS (SELECT 1 FROM sqlite_sequence WHERE name = 'admission_new');
UPDATE sqlite_sequence SET seq = max(seq, coalesce((SELECT seq FROM sqlite_sequence WHERE name = 'admission'), 0))
    WHERE name = 'admission_new';
DROP TABLE admission;
DROP TABLE credential;
ALTER TABLE credential_new RENAME TO credential;
ALTER TABLE admission_new RENAME TO admission;
CREATE INDEX credential_by_batch ON credential (batch);
CREATE INDEX finder_by_credential ON finder (credential);
CREATE UNIQUE INDEX allowance_of ON allowance (credential, coalesce(mac, 0));
CREATE INDEX admission_open ON admission (allowance) WHERE ended IS NULL;
CREATE INDEX admission_by_allowance ON admission (allowance, begun);
CREATE INDEX admission_by_device ON admission (mac, begun);

ALTER TABLE standing RENAME COLUMN ends TO reconsider_at;
DROP INDEX standing_by_end;
CREATE INDEX standing_to_reconsider ON standing (reconsider_at) WHERE reconsider_at IS NOT NULL;

-- So that a decision can be made again later: the configuration it was made by, and what the request said.
ALTER TABLE decision ADD COLUMN house INTEGER;
ALTER TABLE decision ADD COLUMN hints TEXT;
