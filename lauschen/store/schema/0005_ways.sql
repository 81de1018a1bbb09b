-- Room for many ways in. Foreign keys are off while this runs, and checked after it.

-- Decisions keep the version of the configuration that they were made by.
ALTER TABLE house ADD COLUMN version INTEGER NOT NULL DEFAULT 1;

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
