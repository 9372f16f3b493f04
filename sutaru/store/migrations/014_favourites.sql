-- Templates that the studio likes to have at hand, its own or those that ship.
CREATE TABLE favourite (
  id TEXT PRIMARY KEY,
  at TEXT NOT NULL
) WITHOUT ROWID;
