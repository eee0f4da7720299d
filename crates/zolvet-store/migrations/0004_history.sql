-- Documents lie compressed. A snapshot is a whole one; a revision is the difference from a snapshot, or the snapshot itself
-- where there is none. What was stored before is moved over by the program when it opens the database.
ALTER TABLE revisions RENAME TO revisions_before;

-- Projects in the trash have a time of deletion.
ALTER TABLE projects ADD COLUMN deleted_at TEXT;

CREATE TABLE snapshots (
    id INTEGER NOT NULL PRIMARY KEY,
    project_id TEXT NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    bytes BLOB NOT NULL
) STRICT;

CREATE INDEX snapshots_by_project ON snapshots (project_id);

CREATE TABLE revisions (
    project_id TEXT NOT NULL REFERENCES projects (id) ON DELETE CASCADE,
    revision INTEGER NOT NULL,
    snapshot_id INTEGER NOT NULL REFERENCES snapshots (id),
    difference BLOB,
    note TEXT NOT NULL,
    -- Given by somebody who wants it kept for ever.
    name TEXT,
    created_at TEXT NOT NULL,
    PRIMARY KEY (project_id, revision)
) STRICT, WITHOUT ROWID;

CREATE INDEX revisions_by_snapshot ON revisions (snapshot_id);
CREATE INDEX projects_by_change ON projects (deleted_at, changed_at DESC, id);
