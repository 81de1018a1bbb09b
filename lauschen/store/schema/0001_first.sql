-- Times are UTC epoch seconds. MAC addresses are 48-bit numbers. Sealed values: AES-GCM, see store/keys.py.

CREATE TABLE house (
    one INTEGER PRIMARY KEY CHECK (one = 1),
    site_name TEXT NOT NULL,
    zone TEXT NOT NULL,
    page_url TEXT NOT NULL,
    slip_host TEXT NOT NULL,
    key_id TEXT NOT NULL,
    canary BLOB NOT NULL
) STRICT;

CREATE TABLE role (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL UNIQUE,
    vlan INTEGER CHECK (vlan BETWEEN 1 AND 4094),
    filter_name TEXT,
    is_door INTEGER NOT NULL
) STRICT;

CREATE TABLE plan (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL UNIQUE,
    seconds INTEGER CHECK (seconds > 0),
    idle_seconds INTEGER CHECK (idle_seconds > 0),
    octets INTEGER CHECK (octets > 0),
    devices INTEGER NOT NULL CHECK (devices > 0),
    use_within_days INTEGER CHECK (use_within_days > 0)
) STRICT;

CREATE TABLE network (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL UNIQUE,
    ssid BLOB NOT NULL UNIQUE,
    door_role INTEGER NOT NULL REFERENCES role
) STRICT;

CREATE TABLE rule (
    id INTEGER PRIMARY KEY,
    position INTEGER NOT NULL UNIQUE,
    network INTEGER REFERENCES network,
    way_in TEXT,
    role INTEGER NOT NULL REFERENCES role
) STRICT;

CREATE TABLE dialect (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL UNIQUE,
    redirect_vendor INTEGER,
    redirect_attribute INTEGER,
    redirect_template TEXT NOT NULL,
    login_move TEXT NOT NULL,
    end_move TEXT NOT NULL,
    pause_ms INTEGER NOT NULL
) STRICT;

CREATE TABLE access_device (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL UNIQUE,
    address TEXT NOT NULL UNIQUE,
    secret_sealed BLOB NOT NULL,
    dialect INTEGER NOT NULL REFERENCES dialect,
    coa_port INTEGER NOT NULL CHECK (coa_port BETWEEN 1 AND 65535)
) STRICT;

CREATE TABLE staff (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL UNIQUE,
    password_hash TEXT NOT NULL,
    must_change INTEGER NOT NULL,
    password_until REAL
) STRICT;

CREATE TABLE staff_session (
    token_hash BLOB PRIMARY KEY,
    staff INTEGER NOT NULL REFERENCES staff,
    csrf TEXT NOT NULL,
    expires REAL NOT NULL
) STRICT, WITHOUT ROWID;

CREATE TABLE device (
    mac INTEGER PRIMARY KEY,
    first_heard REAL NOT NULL,
    barred_since REAL,
    barred_by INTEGER REFERENCES staff,
    typing_barred_until REAL
) STRICT;
CREATE INDEX device_by_bar ON device (typing_barred_until) WHERE typing_barred_until IS NOT NULL;

CREATE TABLE batch (
    id INTEGER PRIMARY KEY,
    plan INTEGER NOT NULL REFERENCES plan,
    size INTEGER NOT NULL,
    label TEXT NOT NULL,
    issued_at REAL NOT NULL,
    issued_by INTEGER REFERENCES staff,
    is_valid INTEGER NOT NULL DEFAULT 0
) STRICT;
CREATE INDEX batch_by_time ON batch (issued_at);

CREATE TABLE credential (
    id INTEGER PRIMARY KEY,
    kind TEXT NOT NULL,
    plan INTEGER NOT NULL REFERENCES plan,
    batch INTEGER REFERENCES batch,
    code_hash BLOB NOT NULL UNIQUE,
    code_sealed BLOB NOT NULL,
    issued_at REAL NOT NULL,
    first_used REAL,
    octets INTEGER NOT NULL DEFAULT 0,
    given_seconds INTEGER NOT NULL DEFAULT 0,
    given_octets INTEGER NOT NULL DEFAULT 0,
    withdrawn_at REAL
) STRICT;
CREATE INDEX credential_by_batch ON credential (batch);

-- That a device got in by a credential. Outlives a lost connection; a seat is one of the plan's devices at once.
CREATE TABLE admission (
    id INTEGER PRIMARY KEY,
    mac INTEGER NOT NULL REFERENCES device,
    network INTEGER NOT NULL REFERENCES network,
    credential INTEGER NOT NULL REFERENCES credential,
    token TEXT NOT NULL UNIQUE,
    begun REAL NOT NULL,
    ended REAL,
    end_reason TEXT,
    seat_since REAL
) STRICT;
CREATE INDEX admission_open ON admission (credential) WHERE ended IS NULL;
CREATE INDEX admission_by_credential ON admission (credential, begun);
CREATE INDEX admission_by_device ON admission (mac, begun);

-- Where a device stands on a guest network: one row each, rewritten as it moves.
CREATE TABLE standing (
    mac INTEGER NOT NULL,
    network INTEGER NOT NULL,
    state TEXT NOT NULL,
    since REAL NOT NULL,
    going TEXT,
    reason TEXT,
    access_device INTEGER NOT NULL,
    session_id TEXT,
    spelled TEXT NOT NULL,
    role INTEGER,
    framed_ip TEXT,
    last_heard REAL NOT NULL,
    page_opened REAL,
    code_tried REAL,
    admission INTEGER,
    ends REAL,
    decision INTEGER,
    decision_at REAL NOT NULL DEFAULT 0,
    decision_mark TEXT NOT NULL DEFAULT '',
    repeats INTEGER NOT NULL DEFAULT 0,
    PRIMARY KEY (mac, network)
) STRICT, WITHOUT ROWID;
CREATE INDEX standing_by_state ON standing (network, state, since);
CREATE INDEX standing_by_end ON standing (ends) WHERE ends IS NOT NULL;

-- One uninterrupted presence of one device, from accounting.
CREATE TABLE stay (
    id INTEGER PRIMARY KEY,
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
    end_cause TEXT
) STRICT;
CREATE INDEX stay_open ON stay (mac, session_id, access_device) WHERE ended IS NULL;
CREATE INDEX stay_by_device ON stay (mac, started);
CREATE INDEX stay_open_by_access_device ON stay (access_device) WHERE ended IS NULL;

-- The role a device was really given for an admission, from when to when.
CREATE TABLE placement (
    id INTEGER PRIMARY KEY,
    mac INTEGER NOT NULL,
    network INTEGER NOT NULL,
    access_device INTEGER NOT NULL,
    role INTEGER NOT NULL,
    admission INTEGER NOT NULL REFERENCES admission,
    begun REAL NOT NULL,
    ended REAL
) STRICT;
CREATE INDEX placement_open ON placement (mac) WHERE ended IS NULL;
CREATE INDEX placement_by_admission ON placement (admission);

-- No index by device: that would touch one more page for each answer. Each row names the device's one before it
-- on the same network, and its standing the last. Repeats of the last one are counted in the standing.
CREATE TABLE decision (
    id INTEGER PRIMARY KEY,
    at REAL NOT NULL,
    mac INTEGER NOT NULL,
    network INTEGER,
    access_device INTEGER NOT NULL,
    medium TEXT NOT NULL,
    answer TEXT NOT NULL,
    reason TEXT NOT NULL,
    role INTEGER,
    rule INTEGER,
    until REAL,
    trace TEXT NOT NULL,
    repeats INTEGER NOT NULL DEFAULT 0,
    before INTEGER
) STRICT;

-- What was heard besides requests: accounting, the page, staff, answers of access devices.
CREATE TABLE heard (
    id INTEGER PRIMARY KEY,
    at REAL NOT NULL,
    kind TEXT NOT NULL,
    mac INTEGER,
    network INTEGER,
    access_device INTEGER,
    staff INTEGER,
    facts TEXT NOT NULL
) STRICT;
CREATE INDEX heard_by_device ON heard (mac, id) WHERE mac IS NOT NULL;

-- What must still change at an access device (rulings 2): newer overwrites older, sent until seen to hold.
CREATE TABLE wanted (
    mac INTEGER NOT NULL,
    network INTEGER NOT NULL,
    version INTEGER NOT NULL,
    what TEXT NOT NULL,
    stay INTEGER,
    session_id TEXT,
    since REAL NOT NULL,
    tries INTEGER NOT NULL DEFAULT 0,
    next_at REAL NOT NULL,
    last_answer TEXT,
    last_answer_at REAL,
    PRIMARY KEY (mac, network)
) STRICT, WITHOUT ROWID;
CREATE INDEX wanted_by_time ON wanted (next_at);

CREATE TABLE visit (
    id_hash BLOB PRIMARY KEY,
    mac INTEGER NOT NULL,
    network INTEGER NOT NULL,
    access_device INTEGER NOT NULL,
    going TEXT,
    opened_at REAL NOT NULL,
    expires REAL NOT NULL,
    admission INTEGER,
    last_answer TEXT,
    last_answer_at REAL
) STRICT, WITHOUT ROWID;
CREATE INDEX visit_by_end ON visit (expires);

CREATE TABLE wrong_try (
    id INTEGER PRIMARY KEY,
    at REAL NOT NULL,
    mac INTEGER NOT NULL,
    network INTEGER NOT NULL,
    source TEXT NOT NULL
) STRICT;
CREATE INDEX wrong_try_by_device ON wrong_try (mac, at);
CREATE INDEX wrong_try_by_source ON wrong_try (source, at);
CREATE INDEX wrong_try_by_network ON wrong_try (network, at);
