-- What staff remove, and where devices were seen. Foreign keys are off while this runs, and checked after it.

-- What is removed stays as a row: what was decided and heard names it. Its name may be used again.
CREATE TABLE role_new (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL,
    vlan INTEGER CHECK (vlan BETWEEN 1 AND 4094),
    filter_name TEXT,
    is_door INTEGER NOT NULL,
    filter_rules TEXT NOT NULL DEFAULT '',
    removed_at REAL
) STRICT;
INSERT INTO role_new (id, name, vlan, filter_name, is_door, filter_rules)
    SELECT id, name, vlan, filter_name, is_door, filter_rules FROM role;
DROP TABLE role;
ALTER TABLE role_new RENAME TO role;
CREATE UNIQUE INDEX role_name ON role (name) WHERE removed_at IS NULL;

CREATE TABLE network_new (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL,
    door_role INTEGER NOT NULL REFERENCES role,
    ssid_match TEXT NOT NULL,
    ssid BLOB NOT NULL,
    nas_identifier_match TEXT NOT NULL DEFAULT 'any',
    nas_identifier BLOB NOT NULL DEFAULT x'',
    port_id_match TEXT NOT NULL DEFAULT 'any',
    port_id BLOB NOT NULL DEFAULT x'',
    port_type INTEGER,
    access_device INTEGER REFERENCES access_device,
    counted_at INTEGER REFERENCES access_device,
    removed_at REAL
) STRICT;
INSERT INTO network_new (id, name, door_role, ssid_match, ssid, nas_identifier_match, nas_identifier, port_id_match,
    port_id, port_type, access_device, counted_at)
    SELECT id, name, door_role, ssid_match, ssid, nas_identifier_match, nas_identifier, port_id_match,
    port_id, port_type, access_device, counted_at FROM network;
DROP TABLE network;
ALTER TABLE network_new RENAME TO network;
CREATE UNIQUE INDEX network_name ON network (name) WHERE removed_at IS NULL;

-- AUTOINCREMENT: a removed one's id is never given again, for stays and decisions name it.
CREATE TABLE access_device_new (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    name TEXT NOT NULL UNIQUE,
    address TEXT NOT NULL UNIQUE,
    secret_sealed BLOB NOT NULL,
    dialect INTEGER NOT NULL REFERENCES dialect,
    coa_port INTEGER NOT NULL CHECK (coa_port BETWEEN 1 AND 65535),
    old_secret_sealed BLOB,
    coa_address TEXT,
    hears_unsigned INTEGER NOT NULL DEFAULT 0,
    tls_identity TEXT
) STRICT;
INSERT INTO access_device_new (id, name, address, secret_sealed, dialect, coa_port, old_secret_sealed, coa_address,
    hears_unsigned, tls_identity)
    SELECT id, name, address, secret_sealed, dialect, coa_port, old_secret_sealed, coa_address,
    hears_unsigned, tls_identity FROM access_device;
DROP TABLE access_device;
ALTER TABLE access_device_new RENAME TO access_device;

ALTER TABLE stay ADD COLUMN packets INTEGER NOT NULL DEFAULT 0;

-- Which addresses a device was seen with, by what, and when last.
CREATE TABLE address (
    mac INTEGER NOT NULL,
    text TEXT NOT NULL,
    source TEXT NOT NULL,
    seen REAL NOT NULL,
    PRIMARY KEY (mac, text, source)
) STRICT, WITHOUT ROWID;
CREATE INDEX address_by_time ON address (seen);
