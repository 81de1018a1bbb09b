-- What somebody who signs in is there for; who was there before may do everything, as ever. Who is removed keeps their
-- row, since what they did bears their name.
ALTER TABLE staff ADD COLUMN duty TEXT NOT NULL DEFAULT 'administrator'
    CHECK (duty IN ('administrator', 'desk', 'auditor'));
ALTER TABLE staff ADD COLUMN removed_at REAL;
