-- A private group has a VLAN of its own, in place of its role's.
ALTER TABLE credential ADD COLUMN vlan INTEGER CHECK (vlan BETWEEN 1 AND 4094);

-- Private passphrases: for whom or what each was issued. `link_stamp`: another one makes links to the own page void.
CREATE TABLE passphrase (
    credential INTEGER PRIMARY KEY REFERENCES credential ON DELETE CASCADE,
    network INTEGER NOT NULL REFERENCES network,
    kind TEXT NOT NULL CHECK (kind IN ('person', 'room', 'thing')),
    name TEXT NOT NULL,
    note TEXT NOT NULL,
    link_stamp INTEGER NOT NULL DEFAULT 0
) STRICT;
CREATE INDEX passphrase_by_name ON passphrase (network, kind, name COLLATE NOCASE, credential);

-- The keys of each, old ones too: `hash` is keyed, of network and passphrase together; `ssid`: what the PMK was made
-- with. From `ends_at` on it does not hold; NULL: as long as what it was issued with does. `joined_at`, `joined_where`:
-- when and at which access device another device joined with it last.
CREATE TABLE passphrase_key (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    credential INTEGER NOT NULL REFERENCES credential ON DELETE CASCADE,
    network INTEGER NOT NULL REFERENCES network,
    hash BLOB NOT NULL,
    sealed BLOB NOT NULL,
    pmk_sealed BLOB NOT NULL,
    ssid BLOB NOT NULL,
    made_at REAL NOT NULL,
    ends_at REAL,
    joined_at REAL,
    joined_where INTEGER
) STRICT;
CREATE UNIQUE INDEX passphrase_key_by_hash ON passphrase_key (network, hash);
CREATE INDEX passphrase_key_by_credential ON passphrase_key (credential);
CREATE INDEX passphrase_key_by_ssid ON passphrase_key (network, ssid, id);
CREATE INDEX passphrase_key_unused ON passphrase_key (network, id) WHERE joined_at IS NULL;
CREATE INDEX passphrase_key_by_place ON passphrase_key (network, joined_where, joined_at) WHERE joined_at IS NOT NULL;
CREATE INDEX passphrase_key_by_use ON passphrase_key (network, joined_at) WHERE joined_at IS NOT NULL;
CREATE INDEX passphrase_key_ending ON passphrase_key (ends_at) WHERE ends_at IS NOT NULL;

-- Which device joined with which key last. `removed_at`: its holder or staff took it off that key.
CREATE TABLE key_device (
    mac INTEGER NOT NULL REFERENCES device,
    network INTEGER NOT NULL REFERENCES network,
    key INTEGER NOT NULL REFERENCES passphrase_key ON DELETE CASCADE,
    bound_at REAL NOT NULL,
    removed_at REAL,
    PRIMARY KEY (mac, network)
) STRICT, WITHOUT ROWID;
CREATE INDEX key_device_by_key ON key_device (key);

-- Keys that an access point was given to try for a device: the first `offered` of `keys` (JSON, ids), behind `passed`
-- likelier ones that it was given before; and when the device joined with one of them.
CREATE TABLE key_trial (
    mac INTEGER NOT NULL,
    network INTEGER NOT NULL REFERENCES network,
    keys TEXT NOT NULL,
    offered INTEGER NOT NULL,
    passed INTEGER NOT NULL,
    asked_at REAL NOT NULL,
    joined_at REAL,
    PRIMARY KEY (mac, network)
) STRICT, WITHOUT ROWID;
CREATE INDEX key_trial_by_time ON key_trial (asked_at);

-- Devices that tried keys which do not hold; `key`: the old one, where it was one.
CREATE TABLE wrong_key (
    network INTEGER NOT NULL REFERENCES network,
    mac INTEGER NOT NULL,
    access_device INTEGER NOT NULL,
    key INTEGER REFERENCES passphrase_key ON DELETE SET NULL,
    tries INTEGER NOT NULL,
    first_at REAL NOT NULL,
    last_at REAL NOT NULL,
    PRIMARY KEY (network, mac, access_device)
) STRICT, WITHOUT ROWID;
CREATE INDEX wrong_key_by_time ON wrong_key (last_at);
