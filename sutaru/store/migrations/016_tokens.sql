-- Tokens of scripts: of each only its hash, so that whoever reads the table cannot come in.
CREATE TABLE token (
    name TEXT PRIMARY KEY,
    hash TEXT NOT NULL UNIQUE,
    created TEXT NOT NULL,
    used TEXT
) STRICT;
