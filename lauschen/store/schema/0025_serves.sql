-- The networks that an access device may ask for. An access device without a row here may ask for none.
CREATE TABLE serves (
    access_device INTEGER NOT NULL REFERENCES access_device (id) ON DELETE CASCADE,
    network INTEGER NOT NULL REFERENCES network (id) ON DELETE CASCADE,
    PRIMARY KEY (access_device, network)
) STRICT, WITHOUT ROWID;

-- Until now each could ask for all. Those that brought guests in the last 180 days go on doing so; one that sends no
-- accounting shows by the devices that it asked about.
INSERT INTO serves (access_device, network)
    SELECT access_device, network FROM stay
        WHERE network IS NOT NULL AND (ended IS NULL OR last_event > unixepoch() - 180 * 86400)
    UNION SELECT access_device, network FROM standing WHERE last_heard > unixepoch() - 180 * 86400
    UNION SELECT access_device, id FROM network WHERE access_device IS NOT NULL AND removed_at IS NULL;
DELETE FROM serves WHERE access_device NOT IN (SELECT id FROM access_device)
    OR network NOT IN (SELECT id FROM network WHERE removed_at IS NULL);

-- Requests and reports of access devices for networks that they do not serve.
CREATE TABLE not_served (
    access_device INTEGER NOT NULL REFERENCES access_device (id) ON DELETE CASCADE,
    network INTEGER NOT NULL REFERENCES network (id) ON DELETE CASCADE,
    first_at REAL NOT NULL,
    last_at REAL NOT NULL,
    packets INTEGER NOT NULL,
    PRIMARY KEY (access_device, network)
) STRICT, WITHOUT ROWID;
CREATE INDEX not_served_by_time ON not_served (last_at);

-- New devices whose passphrases were tried at an access device that asks by address, and the passphrases that went
-- there: an access device that makes devices up learns no more than so many in a time.
CREATE TABLE key_asked (
    access_device INTEGER NOT NULL,
    network INTEGER NOT NULL,
    mac INTEGER NOT NULL,
    at REAL NOT NULL,
    PRIMARY KEY (access_device, network, mac)
) STRICT, WITHOUT ROWID;
-- By access device for its count, and by time for its keeping.
CREATE INDEX key_asked_by_time ON key_asked (access_device, network, at);
CREATE INDEX key_asked_ageing ON key_asked (at);
CREATE TABLE key_shown (
    access_device INTEGER NOT NULL,
    network INTEGER NOT NULL,
    key INTEGER NOT NULL,
    at REAL NOT NULL,
    PRIMARY KEY (access_device, network, key)
) STRICT, WITHOUT ROWID;
CREATE INDEX key_shown_ageing ON key_shown (at);
-- When that was reached last.
CREATE TABLE key_limit (
    access_device INTEGER NOT NULL,
    network INTEGER NOT NULL,
    what TEXT NOT NULL,
    at REAL NOT NULL,
    PRIMARY KEY (access_device, network, what)
) STRICT, WITHOUT ROWID;
CREATE INDEX key_limit_by_time ON key_limit (at);

-- Places where a device is no longer: it went on to another one, and what its access device holds still is to go.
ALTER TABLE place ADD COLUMN is_left INTEGER NOT NULL DEFAULT 0;

-- How many devices have this MAC address, as far as it shows: each has a seat.
ALTER TABLE admission ADD COLUMN seats INTEGER NOT NULL DEFAULT 1;

-- What two access devices reported was counted at one of them; now both count, unless the network says which.
UPDATE stay SET end_cause = 'roamed', counts = 1 WHERE end_cause = 'reported_twice';
UPDATE event SET kind = 'two_places' WHERE kind = 'reported_twice';
