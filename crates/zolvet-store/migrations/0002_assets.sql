-- Uploaded files by their content, so that one file used in many projects is kept once.
CREATE TABLE assets (
    id TEXT NOT NULL PRIMARY KEY,
    media_type TEXT NOT NULL,
    bytes BLOB NOT NULL,
    created_at TEXT NOT NULL
) STRICT;
