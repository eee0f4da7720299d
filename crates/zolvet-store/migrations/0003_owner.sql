-- The key that opens everything until there are accounts, as a hash; and the sessions it was exchanged for.
CREATE TABLE owner (
    id INTEGER NOT NULL PRIMARY KEY CHECK (id = 1),
    key_hash TEXT NOT NULL,
    made_at TEXT NOT NULL
) STRICT;

CREATE TABLE sessions (
    token_hash TEXT NOT NULL PRIMARY KEY,
    made_at TEXT NOT NULL,
    ends_at INTEGER NOT NULL
) STRICT;

-- Written to when somebody asks whether saving works.
CREATE TABLE probe (
    id INTEGER NOT NULL PRIMARY KEY CHECK (id = 1),
    at TEXT NOT NULL
) STRICT;
