-- When something may be used, and networks that let nobody in for a while.

ALTER TABLE plan ADD COLUMN hours TEXT;

ALTER TABLE network ADD COLUMN paused_since REAL;
ALTER TABLE network ADD COLUMN paused_until REAL;
ALTER TABLE network ADD COLUMN paused_why TEXT NOT NULL DEFAULT '';
ALTER TABLE network ADD COLUMN pause_ends_stays INTEGER NOT NULL DEFAULT 0;
