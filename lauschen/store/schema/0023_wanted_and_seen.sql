-- What should hold for a device on a network; each change has its own revision, so that what changed can be read by it.
CREATE TABLE wanted_now (
    mac INTEGER NOT NULL,
    network INTEGER NOT NULL,
    revision INTEGER NOT NULL,
    state TEXT NOT NULL,
    role INTEGER,
    admission INTEGER,
    until REAL,
    since REAL NOT NULL,
    PRIMARY KEY (mac, network)
) STRICT, WITHOUT ROWID;

-- One access device and session (empty where it names none): what was seen there, and what is being done about it.
CREATE TABLE place (
    mac INTEGER NOT NULL,
    network INTEGER NOT NULL,
    access_device INTEGER NOT NULL,
    session_id TEXT NOT NULL,
    spelled TEXT NOT NULL,
    source TEXT NOT NULL,
    role INTEGER,
    admission INTEGER,
    until REAL,
    seen_at REAL,
    seen_by TEXT,
    revision INTEGER NOT NULL,
    tries INTEGER NOT NULL DEFAULT 0,
    next_at REAL,
    last_answer TEXT,
    last_answer_at REAL,
    over_at REAL,
    under_way REAL,
    PRIMARY KEY (mac, network, access_device, session_id)
) STRICT, WITHOUT ROWID;

INSERT INTO wanted_now (mac, network, revision, state, role, admission, until, since)
SELECT s.mac, s.network, row_number() OVER (ORDER BY s.mac, s.network), coalesce(s.going, s.state),
    CASE WHEN s.going IS NULL AND s.state <> 'left' THEN s.role END,
    CASE WHEN coalesce(s.going, s.state) = 'inside' THEN s.admission END,
    CASE WHEN coalesce(s.going, s.state) = 'inside' THEN s.reconsider_at END,
    coalesce(w.since, s.since)
FROM standing s LEFT JOIN wanted w ON w.mac = s.mac AND w.network = s.network;

-- A change that was wanted of another session is left out, as it was before: that session is over.
INSERT INTO place (mac, network, access_device, session_id, spelled, source, role, admission, until, seen_at, seen_by,
    revision, tries, next_at, last_answer, last_answer_at, over_at)
SELECT s.mac, s.network, s.access_device, coalesce(s.session_id, ''), s.spelled, s.source, s.role,
    CASE WHEN s.state = 'inside' THEN s.admission END, CASE WHEN s.state = 'inside' THEN s.reconsider_at END,
    CASE WHEN w.mac IS NULL THEN s.last_heard END, CASE WHEN w.mac IS NULL THEN 'answer' END,
    n.revision, coalesce(w.tries, 0), w.next_at, w.last_answer, w.last_answer_at, w.until
FROM standing s JOIN wanted_now n ON n.mac = s.mac AND n.network = s.network
LEFT JOIN wanted w ON w.mac = s.mac AND w.network = s.network
    AND (w.session_id IS NULL OR w.session_id IS s.session_id)
WHERE s.state <> 'left';

DROP TABLE wanted;
ALTER TABLE wanted_now RENAME TO wanted;
CREATE INDEX wanted_by_revision ON wanted (revision);
CREATE INDEX wanted_inside ON wanted (network) WHERE state = 'inside';
CREATE INDEX place_due ON place (next_at) WHERE next_at IS NOT NULL;
CREATE INDEX place_not_confirmed ON place (mac) WHERE last_answer IS NOT NULL;
DROP INDEX standing_going;
ALTER TABLE standing DROP COLUMN going;
