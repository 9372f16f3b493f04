CREATE TABLE job (
  id       TEXT PRIMARY KEY,
  name     TEXT NOT NULL,
  customer TEXT NOT NULL,
  template TEXT NOT NULL,
  head     INTEGER NOT NULL,
  created  TEXT NOT NULL,
  changed  TEXT NOT NULL
);

-- Every state a job was ever in. Undo and redo move job.head; nothing is deleted.
CREATE TABLE revision (
  job      TEXT NOT NULL REFERENCES job (id),
  number   INTEGER NOT NULL,
  parent   INTEGER,
  label    TEXT NOT NULL,
  gesture  TEXT,
  made     TEXT NOT NULL,
  document BLOB NOT NULL,
  PRIMARY KEY (job, number),
  FOREIGN KEY (job, parent) REFERENCES revision (job, number)
) WITHOUT ROWID;

CREATE INDEX revision_by_parent ON revision (job, parent);

CREATE TABLE photo (
  sha256      TEXT PRIMARY KEY,
  photo       TEXT NOT NULL,
  proxy_width INTEGER NOT NULL
);

CREATE TABLE export (
  id       TEXT PRIMARY KEY,
  job      TEXT NOT NULL REFERENCES job (id),
  revision INTEGER NOT NULL,
  lab      TEXT NOT NULL,
  format   TEXT NOT NULL,
  state    TEXT NOT NULL CHECK (state IN ('queued', 'running', 'done', 'failed', 'stopped')),
  message  TEXT NOT NULL DEFAULT '',
  manifest TEXT,
  made     TEXT NOT NULL
);
