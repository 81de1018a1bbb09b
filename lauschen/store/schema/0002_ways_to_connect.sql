-- Every way a device can be connected. Foreign keys are off while this runs, and checked after it.

ALTER TABLE role ADD COLUMN filter_rules TEXT NOT NULL DEFAULT '';

-- A network is recognised by hints: each a way to compare and a value.
CREATE TABLE network_new (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL UNIQUE,
    door_role INTEGER NOT NULL REFERENCES role,
    ssid_match TEXT NOT NULL,
    ssid BLOB NOT NULL,
    nas_identifier_match TEXT NOT NULL DEFAULT 'any',
    nas_identifier BLOB NOT NULL DEFAULT x'',
    port_id_match TEXT NOT NULL DEFAULT 'any',
    port_id BLOB NOT NULL DEFAULT x'',
    port_type INTEGER,
    access_device INTEGER REFERENCES access_device,
    counted_at INTEGER REFERENCES access_device
) STRICT;
INSERT INTO network_new (id, name, door_role, ssid_match, ssid)
    SELECT id, name, door_role, 'exact', ssid FROM network;
DROP TABLE network;
ALTER TABLE network_new RENAME TO network;

-- A dialect is a document; its secrets are sealed apart.
CREATE TABLE dialect_new (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL UNIQUE,
    settings TEXT NOT NULL,
    secrets_sealed BLOB
) STRICT;
INSERT INTO dialect_new (id, name, settings)
    SELECT id, name, json_object(
        'login_move', login_move, 'end_move', end_move, 'pause_ms', pause_ms,
        'attributes', CASE WHEN redirect_vendor IS NULL THEN json('[]') ELSE json_array(json_object(
            'enterprise', redirect_vendor, 'number', redirect_attribute, 'kind', 'text',
            'template', redirect_template, 'when', 'door')) END)
    FROM dialect;
DROP TABLE dialect;
ALTER TABLE dialect_new RENAME TO dialect;

ALTER TABLE access_device ADD COLUMN old_secret_sealed BLOB;
ALTER TABLE access_device ADD COLUMN coa_address TEXT;
ALTER TABLE access_device ADD COLUMN hears_unsigned INTEGER NOT NULL DEFAULT 0;
ALTER TABLE access_device ADD COLUMN tls_identity TEXT;

-- What is known of an access device from its own packets; written now and then, never for a single packet.
CREATE TABLE device_heard (
    access_device INTEGER NOT NULL REFERENCES access_device ON DELETE CASCADE,
    source TEXT NOT NULL,
    last_heard REAL NOT NULL,
    uses_old_secret INTEGER NOT NULL,
    was_signed INTEGER NOT NULL,
    PRIMARY KEY (access_device, source)
) STRICT, WITHOUT ROWID;

ALTER TABLE standing ADD COLUMN source TEXT NOT NULL DEFAULT '';
CREATE INDEX standing_by_address ON standing (framed_ip) WHERE framed_ip IS NOT NULL;

-- One presence of a guest may be reported in several stays: `root` is the first of them.
ALTER TABLE stay ADD COLUMN root INTEGER;
ALTER TABLE stay ADD COLUMN multi_session_id TEXT;
ALTER TABLE stay ADD COLUMN user TEXT;
ALTER TABLE stay ADD COLUMN counts INTEGER NOT NULL DEFAULT 1;
ALTER TABLE stay ADD COLUMN gap REAL NOT NULL DEFAULT 0;
ALTER TABLE stay ADD COLUMN bssid TEXT NOT NULL DEFAULT '';
ALTER TABLE stay ADD COLUMN nas_address TEXT NOT NULL DEFAULT '';

ALTER TABLE wanted ADD COLUMN until REAL;

-- How the visit learned which device it is (a signed token, an appended address, a source address), and the
-- one-time login that it handed out.
ALTER TABLE visit ADD COLUMN proof TEXT NOT NULL DEFAULT 'token';
ALTER TABLE visit ADD COLUMN posted_name TEXT;
ALTER TABLE visit ADD COLUMN posted_at REAL;
ALTER TABLE visit ADD COLUMN posted_used REAL;
CREATE UNIQUE INDEX visit_by_posted_name ON visit (posted_name) WHERE posted_name IS NOT NULL;
