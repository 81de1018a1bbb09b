-- Where guests go after login: '' to where they were going, 'status' nowhere, else a fixed address.

ALTER TABLE network ADD COLUMN onward TEXT NOT NULL DEFAULT '';
