-- A project is its revisions; the newest is what it is now. Documents are kept as they were sent.
CREATE TABLE projects (
    id TEXT NOT NULL PRIMARY KEY,
    name TEXT NOT NULL,
    revision INTEGER NOT NULL,
    changed_at TEXT NOT NULL
) STRICT;

CREATE TABLE revisions (
    project_id TEXT NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    revision INTEGER NOT NULL,
    document TEXT NOT NULL,
    note TEXT NOT NULL,
    created_at TEXT NOT NULL,
    PRIMARY KEY (project_id, revision)
) STRICT;

-- A share shows one scene of the revision it was made from.
CREATE TABLE shares (
    token TEXT NOT NULL PRIMARY KEY,
    project_id TEXT NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    revision INTEGER NOT NULL,
    scene_id TEXT NOT NULL,
    created_at TEXT NOT NULL,
    revoked_at TEXT
) STRICT;

CREATE INDEX shares_by_project ON shares (project_id);
