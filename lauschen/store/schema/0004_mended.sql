-- Ids that are never given again, wrong tries by visit, and when what holds a device came about.
-- Foreign keys are off while this runs, and checked after it.

-- The greatest id that was deleted: the log's ids are given by us, and rise over an empty table too.
CREATE TABLE id_mark (
    what TEXT PRIMARY KEY,
    id INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

-- AUTOINCREMENT: stays, admissions and placements are forgotten after a time, and others name them.
CREATE TABLE admission_new (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    mac INTEGER NOT NULL REFERENCES device,
    network INTEGER NOT NULL REFERENCES network,
    credential INTEGER NOT NULL REFERENCES credential,
    token TEXT NOT NULL UNIQUE,
    begun REAL NOT NULL,
    ended REAL,
    end_reason TEXT,
    seat_since REAL
) STRICT;
INSERT INTO admission_new (id, mac, network, credential, token, begun, ended, end_reason, seat_since)
    SELECT id, mac, network, credential, token, begun, ended, end_reason, seat_since FROM admission;
DROP TABLE admission;
ALTER TABLE admission_new RENAME TO admission;
CREATE INDEX admission_open ON admission (credential) WHERE ended IS NULL;
CREATE INDEX admission_by_credential ON admission (credential, begun);
CREATE INDEX admission_by_device ON admission (mac, begun);

CREATE TABLE stay_new (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    mac INTEGER NOT NULL,
    network INTEGER,
    access_device INTEGER NOT NULL,
    nas_identifier TEXT NOT NULL,
    session_id TEXT NOT NULL,
    started REAL NOT NULL,
    last_event REAL NOT NULL,
    session_time INTEGER NOT NULL DEFAULT 0,
    in_raw INTEGER NOT NULL DEFAULT 0,
    in_octets INTEGER NOT NULL DEFAULT 0,
    out_raw INTEGER NOT NULL DEFAULT 0,
    out_octets INTEGER NOT NULL DEFAULT 0,
    saw_gigawords INTEGER NOT NULL DEFAULT 0,
    framed_ip TEXT,
    ended REAL,
    end_cause TEXT,
    root INTEGER,
    multi_session_id TEXT,
    user TEXT,
    counts INTEGER NOT NULL DEFAULT 1,
    gap REAL NOT NULL DEFAULT 0,
    bssid TEXT NOT NULL DEFAULT '',
    nas_address TEXT NOT NULL DEFAULT '',
    packets INTEGER NOT NULL DEFAULT 0
) STRICT;
INSERT INTO stay_new (id, mac, network, access_device, nas_identifier, session_id, started, last_event,
    session_time, in_raw, in_octets, out_raw, out_octets, saw_gigawords, framed_ip, ended, end_cause, root,
    multi_session_id, user, counts, gap, bssid, nas_address, packets)
    SELECT id, mac, network, access_device, nas_identifier, session_id, started, last_event,
    session_time, in_raw, in_octets, out_raw, out_octets, saw_gigawords, framed_ip, ended, end_cause, root,
    multi_session_id, user, counts, gap, bssid, nas_address, packets FROM stay;
DROP TABLE stay;
ALTER TABLE stay_new RENAME TO stay;
CREATE INDEX stay_open ON stay (mac, session_id, access_device) WHERE ended IS NULL;
CREATE INDEX stay_by_device ON stay (mac, started);
CREATE INDEX stay_open_by_access_device ON stay (access_device) WHERE ended IS NULL;

CREATE TABLE placement_new (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    mac INTEGER NOT NULL,
    network INTEGER NOT NULL,
    access_device INTEGER NOT NULL,
    role INTEGER NOT NULL,
    admission INTEGER NOT NULL REFERENCES admission,
    begun REAL NOT NULL,
    ended REAL
) STRICT;
INSERT INTO placement_new (id, mac, network, access_device, role, admission, begun, ended)
    SELECT id, mac, network, access_device, role, admission, begun, ended FROM placement;
DROP TABLE placement;
ALTER TABLE placement_new RENAME TO placement;
CREATE INDEX placement_open ON placement (mac) WHERE ended IS NULL;
CREATE INDEX placement_by_admission ON placement (admission);
CREATE INDEX placement_by_device ON placement (mac, network, begun);

-- When what holds a device came about: its limit may have ended while it was away.
ALTER TABLE standing ADD COLUMN reason_at REAL;
-- When the last octet of the allowance was used.
ALTER TABLE credential ADD COLUMN data_out_at REAL;

-- Wrong codes count for the visit that they were typed in or, by RADIUS, for the device (rulings 8.2).
DROP TABLE wrong_try;
CREATE TABLE wrong_try (
    id INTEGER PRIMARY KEY,
    at REAL NOT NULL,
    network INTEGER NOT NULL,
    source TEXT,
    visit BLOB,
    mac INTEGER
) STRICT;
CREATE INDEX wrong_try_by_visit ON wrong_try (visit, at) WHERE visit IS NOT NULL;
CREATE INDEX wrong_try_by_device ON wrong_try (mac, at) WHERE mac IS NOT NULL;
CREATE INDEX wrong_try_by_source ON wrong_try (source, at) WHERE source IS NOT NULL;
CREATE INDEX wrong_try_by_network ON wrong_try (network, at);
ALTER TABLE visit ADD COLUMN source TEXT NOT NULL DEFAULT '';
ALTER TABLE visit ADD COLUMN barred_until REAL;
CREATE INDEX visit_by_device ON visit (mac, network);

-- Refusals are few and have no chain through a standing; answers that place are many, and are not in here.
CREATE INDEX decision_refused ON decision (mac, id) WHERE answer = 'refuse';
CREATE INDEX address_by_text ON address (text, seen);
