-- Accounts: a name and a password. `hashed` by Argon2id, or `sealed` for access devices that ask by CHAP.

CREATE TABLE account (
    credential INTEGER PRIMARY KEY REFERENCES credential,
    name TEXT NOT NULL UNIQUE,
    stamp TEXT NOT NULL,
    hashed TEXT,
    sealed BLOB,
    changed_at REAL NOT NULL
) STRICT;
