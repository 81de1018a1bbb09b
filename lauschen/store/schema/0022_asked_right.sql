-- What is asked of large tables has an index for it.
CREATE INDEX standing_by_place ON standing (network, access_device);
CREATE INDEX standing_going ON standing (network) WHERE going IS NOT NULL;
CREATE INDEX standing_by_role ON standing (network, state, role) WHERE state <> 'left';
CREATE INDEX event_role_saved ON event (id) WHERE kind = 'role_saved';
CREATE INDEX credential_by_role ON credential (role) WHERE role IS NOT NULL;
CREATE INDEX admission_seat ON admission (seat_since) WHERE seat_since IS NOT NULL;
CREATE INDEX batch_unfinished ON batch (issued_at) WHERE NOT is_valid;
-- What refers to a row is looked for when that row goes.
CREATE INDEX allowance_by_device ON allowance (mac) WHERE mac IS NOT NULL;
CREATE INDEX consent_credential ON consent (credential) WHERE credential IS NOT NULL;
CREATE INDEX message_receiver ON message (receiver) WHERE receiver IS NOT NULL;
CREATE INDEX wrong_key_by_key ON wrong_key (key) WHERE key IS NOT NULL;

-- How many of a batch nobody used and nobody withdrew: counting its vouchers takes as long as there are many.
ALTER TABLE batch ADD COLUMN unused INTEGER NOT NULL DEFAULT 0;
UPDATE batch SET unused = (SELECT count(*) FROM credential c WHERE c.batch = batch.id AND c.withdrawn_at IS NULL
    AND NOT EXISTS (SELECT 1 FROM allowance w WHERE w.credential = c.id AND w.first_used IS NOT NULL));
CREATE INDEX batch_unused ON batch (plan, unused) WHERE unused > 0;
DROP TRIGGER batch_withdrawn;
CREATE TRIGGER batch_withdrawn AFTER UPDATE OF withdrawn_at ON credential
    WHEN new.batch IS NOT NULL AND (old.withdrawn_at IS NULL) <> (new.withdrawn_at IS NULL)
BEGIN
    UPDATE batch SET withdrawn = withdrawn + iif(new.withdrawn_at IS NULL, -1, 1),
        unused = unused + iif(
            EXISTS (SELECT 1 FROM allowance w WHERE w.credential = new.id AND w.first_used IS NOT NULL), 0,
            iif(new.withdrawn_at IS NULL, 1, -1))
        WHERE id = new.batch;
END;
DROP TRIGGER batch_used;
CREATE TRIGGER batch_used AFTER UPDATE OF first_used ON allowance
    WHEN new.mac IS NULL AND (old.first_used IS NULL) <> (new.first_used IS NULL)
BEGIN
    UPDATE batch SET used = used + iif(new.first_used IS NULL, -1, 1),
        unused = unused + iif((SELECT withdrawn_at IS NULL FROM credential WHERE id = new.credential),
            iif(new.first_used IS NULL, 1, -1), 0)
        WHERE id = (SELECT batch FROM credential WHERE id = new.credential);
END;
