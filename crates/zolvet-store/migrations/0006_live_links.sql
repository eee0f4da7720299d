-- Links that follow the newest revision of their project; the others show the one they were made at.
ALTER TABLE shares ADD COLUMN follows INTEGER NOT NULL DEFAULT 0 CHECK (follows IN (0, 1));
