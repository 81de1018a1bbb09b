-- People of the house who may vouch for guests. `networks`, `plans`: JSON lists of ids; empty: no bound.
CREATE TABLE host (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    name TEXT NOT NULL,
    mail TEXT NOT NULL COLLATE NOCASE,
    department TEXT NOT NULL,
    lang TEXT NOT NULL,
    networks TEXT NOT NULL,
    plans TEXT NOT NULL,
    longest_minutes INTEGER,
    at_once INTEGER,
    removed_at REAL
) STRICT;
CREATE UNIQUE INDEX host_mail ON host (mail) WHERE removed_at IS NULL;

-- A guest who asks a host to vouch for them. `sealed`: what they wrote, whom they named, the words that were said to
-- them. `ask_at`: when somebody is to be asked; `until`: when the time of who was asked is over; NULL: neither.
-- `answered_by`: the question that was answered; `staff`: who answered in the host's stead.
CREATE TABLE vouching (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    network INTEGER NOT NULL REFERENCES network,
    mac INTEGER NOT NULL,
    source TEXT NOT NULL,
    visit BLOB NOT NULL,
    lang TEXT NOT NULL,
    sealed BLOB,
    digest BLOB NOT NULL,
    at REAL NOT NULL,
    state TEXT NOT NULL DEFAULT 'waiting',
    ask_at REAL,
    until REAL,
    answered_at REAL,
    answered_by INTEGER,
    staff INTEGER REFERENCES staff,
    credential INTEGER REFERENCES credential
) STRICT;
CREATE INDEX vouching_visit ON vouching (visit, id);
CREATE INDEX vouching_device ON vouching (mac, at);
CREATE INDEX vouching_source ON vouching (source, at);
CREATE INDEX vouching_network ON vouching (network, at);
CREATE INDEX vouching_state ON vouching (state, id);
CREATE INDEX vouching_ask ON vouching (ask_at) WHERE ask_at IS NOT NULL;
CREATE INDEX vouching_until ON vouching (until) WHERE until IS NOT NULL;
CREATE INDEX vouching_credential ON vouching (credential) WHERE credential IS NOT NULL;

-- Who was asked, in their order. `host` NULL: somebody in one of the house's domains who is not on the list. `whose`:
-- a keyed hash of the address; `link`: of the link that was sent.
CREATE TABLE question (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    vouching INTEGER NOT NULL REFERENCES vouching ON DELETE CASCADE,
    host INTEGER REFERENCES host,
    whose BLOB NOT NULL,
    sealed BLOB,
    role TEXT NOT NULL,
    link BLOB NOT NULL UNIQUE,
    at REAL NOT NULL,
    remind_at REAL,
    reminded_at REAL,
    fault TEXT
) STRICT;
CREATE INDEX question_vouching ON question (vouching, id);
CREATE INDEX question_whose ON question (whose, at);
CREATE INDEX question_remind ON question (remind_at) WHERE remind_at IS NOT NULL;

-- The link to a host's own page; the newest counts.
CREATE TABLE host_link (
    whose BLOB PRIMARY KEY,
    sealed BLOB NOT NULL,
    link BLOB NOT NULL UNIQUE,
    until REAL NOT NULL
) STRICT;

-- Nobody is let in by it meanwhile; NULL: it is not paused.
ALTER TABLE credential ADD COLUMN paused_at REAL;

-- House rules were the first text with versions.
CREATE TABLE house_text (
    kind TEXT NOT NULL,
    version INTEGER NOT NULL,
    lang TEXT NOT NULL,
    text TEXT NOT NULL,
    since REAL NOT NULL,
    PRIMARY KEY (kind, version, lang)
) STRICT, WITHOUT ROWID;
INSERT INTO house_text SELECT 'rules', version, lang, text, since FROM house_rules;
DROP TABLE house_rules;

-- Who agreed to be written to. `version` and `lang`: of the words that stood at the box. `sealed`: who, and the address.
CREATE TABLE consent (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    at REAL NOT NULL,
    version INTEGER NOT NULL,
    lang TEXT NOT NULL,
    mac INTEGER NOT NULL,
    network INTEGER NOT NULL REFERENCES network,
    credential INTEGER REFERENCES credential,
    sealed BLOB
) STRICT;
CREATE INDEX consent_device ON consent (mac);
