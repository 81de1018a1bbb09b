-- Under which a message to a mail address counts besides the address: whoever has a domain has all addresses of it.
ALTER TABLE message ADD COLUMN domain_hash BLOB;
CREATE INDEX message_domain ON message (domain_hash, written_at) WHERE domain_hash IS NOT NULL;
