-- Messages: where they leave the house, what they say, and the outbox.

-- One mail server and one text gateway at most; syslog receivers and webhooks as many as are wanted. All of a channel's
-- settings are sealed: passwords, tokens and addresses stand in them.
CREATE TABLE channel (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    kind TEXT NOT NULL,
    sealed BLOB
) STRICT;
CREATE UNIQUE INDEX channel_only ON channel (kind) WHERE kind IN ('mail', 'text');

-- The house's own words; where there is no row, ours are used.
CREATE TABLE template (
    kind TEXT NOT NULL,
    channel TEXT NOT NULL,
    lang TEXT NOT NULL,
    subject TEXT NOT NULL,
    body TEXT NOT NULL,
    PRIMARY KEY (kind, channel, lang)
) STRICT;

-- What must reach somebody outside, written in the transaction that wants it. `sealed`: to whom, and the words; the
-- words go once it was sent. `mark`: what the receiver knows it by, the same in each try. `next_at` NULL: it is over.
CREATE TABLE message (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    mark TEXT NOT NULL UNIQUE,
    channel TEXT NOT NULL,
    kind TEXT NOT NULL,
    lang TEXT NOT NULL,
    sealed BLOB,
    to_hash BLOB,
    receiver INTEGER REFERENCES channel,
    credential INTEGER REFERENCES credential,
    mac INTEGER,
    network INTEGER REFERENCES network,
    written_at REAL NOT NULL,
    tries INTEGER NOT NULL DEFAULT 0,
    next_at REAL,
    state TEXT NOT NULL DEFAULT 'waiting',
    answer TEXT,
    answer_at REAL
) STRICT;
CREATE INDEX message_due ON message (channel, next_at) WHERE next_at IS NOT NULL;
CREATE INDEX message_tried ON message (channel, answer_at) WHERE next_at IS NOT NULL AND tries > 0;
CREATE INDEX message_to ON message (to_hash, written_at) WHERE to_hash IS NOT NULL;
CREATE INDEX message_device ON message (mac, written_at) WHERE mac IS NOT NULL;
CREATE INDEX message_network ON message (network, written_at) WHERE network IS NOT NULL;
CREATE INDEX message_credential ON message (credential) WHERE credential IS NOT NULL;
CREATE INDEX message_state ON message (state, id);
CREATE INDEX message_texts ON message (written_at) WHERE channel = 'text';

-- What was sent in each month of the site's calendar, in thousandths of the currency; kept after the messages are gone.
CREATE TABLE message_cost (
    month TEXT NOT NULL,
    channel TEXT NOT NULL,
    currency TEXT NOT NULL,
    count INTEGER NOT NULL,
    price INTEGER NOT NULL,
    PRIMARY KEY (month, channel, currency)
) STRICT;

-- Who was told of a passcode, and since when the one holds that they were told of last. `hearer`: a keyed hash.
CREATE TABLE passcode_told (
    hearer BLOB PRIMARY KEY,
    since REAL NOT NULL
) STRICT;
