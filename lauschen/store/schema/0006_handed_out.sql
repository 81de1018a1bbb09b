-- Ways in that the house hands out.

-- What is issued may be good between two moments only, and on more devices at once than its plan says.
ALTER TABLE credential ADD COLUMN valid_from REAL;
ALTER TABLE credential ADD COLUMN valid_until REAL;
ALTER TABLE credential ADD COLUMN devices INTEGER CHECK (devices > 0);
