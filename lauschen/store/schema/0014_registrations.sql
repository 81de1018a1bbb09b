-- The first stay of who must still confirm an address ends then; NULL: nothing is to be confirmed, or it was.
ALTER TABLE credential ADD COLUMN confirm_by REAL;

-- Who wrote themselves in at the page. `sealed`: what they wrote. `visit`: the visit that may read its code. `confirm_code`,
-- `confirm_link`: keyed hashes of what was sent to the address that is to be confirmed.
CREATE TABLE registration (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    credential INTEGER NOT NULL REFERENCES credential,
    network INTEGER NOT NULL REFERENCES network,
    mac INTEGER NOT NULL,
    source TEXT NOT NULL,
    visit BLOB NOT NULL,
    lang TEXT NOT NULL,
    delivery TEXT NOT NULL,
    sealed BLOB,
    digest BLOB NOT NULL,
    confirm_code BLOB,
    confirm_link BLOB UNIQUE,
    confirmed_at REAL,
    at REAL NOT NULL
) STRICT;
CREATE INDEX registration_visit ON registration (visit, id);
CREATE INDEX registration_device ON registration (mac, at);
CREATE INDEX registration_source ON registration (source, at);
CREATE INDEX registration_network ON registration (network, at);
CREATE INDEX registration_credential ON registration (credential);
