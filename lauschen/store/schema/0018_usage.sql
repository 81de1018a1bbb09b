-- How fast a stay was between its last two reports, and what it used on the last day it used anything. `day` counts
-- the days of the site's calendar (the proleptic Gregorian ordinal); 0: it used nothing since this is kept.
ALTER TABLE stay ADD COLUMN octets_per_s INTEGER NOT NULL DEFAULT 0;
ALTER TABLE stay ADD COLUMN day INTEGER NOT NULL DEFAULT 0;
ALTER TABLE stay ADD COLUMN day_octets INTEGER NOT NULL DEFAULT 0;
-- Touched once a day for each stay, not with each report.
CREATE INDEX stay_by_day ON stay (mac, day) WHERE day > 0;
