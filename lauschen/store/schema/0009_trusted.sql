-- What is let in always: devices by MAC address, ports of access devices, whole access devices.

CREATE TABLE trusted (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    name TEXT NOT NULL,
    role INTEGER REFERENCES role,
    mac INTEGER UNIQUE,
    access_device INTEGER REFERENCES access_device,
    port TEXT
) STRICT;
CREATE UNIQUE INDEX trusted_port ON trusted (access_device, coalesce(port, '')) WHERE mac IS NULL;

-- A credential may bring a role of its own; and which of the trusted it stands for.
ALTER TABLE credential ADD COLUMN role INTEGER REFERENCES role;
ALTER TABLE credential ADD COLUMN trusted INTEGER REFERENCES trusted;
CREATE INDEX credential_trusted ON credential (trusted) WHERE trusted IS NOT NULL;
