-- The studio's own templates: each revision is kept as it was (JSON of the document's Template).
CREATE TABLE template (
  id       TEXT NOT NULL,
  revision INTEGER NOT NULL,
  made     TEXT NOT NULL,
  document TEXT NOT NULL,
  PRIMARY KEY (id, revision)
) WITHOUT ROWID;

-- Templates that were put away, the studio's own or those that ship.
CREATE TABLE template_away (
  id TEXT PRIMARY KEY,
  at TEXT NOT NULL
) WITHOUT ROWID;

-- Whether it is a template in the workshop and no order.
ALTER TABLE job ADD COLUMN making INTEGER NOT NULL DEFAULT 0;
