-- Orders to a lab, and how each stands. What was ordered is JSON of the core's Order; reasons are a list of a refusal.
CREATE TABLE print_order (
  id        TEXT PRIMARY KEY,
  job       TEXT NOT NULL,
  export    TEXT NOT NULL,
  document  TEXT NOT NULL,
  state     TEXT NOT NULL,
  message   TEXT NOT NULL DEFAULT '',
  reasons   TEXT NOT NULL DEFAULT '[]',
  lab_order TEXT NOT NULL DEFAULT '',
  price     REAL,
  number    INTEGER NOT NULL DEFAULT 0,
  again_of  TEXT NOT NULL DEFAULT '',
  made      TEXT NOT NULL,
  asked     TEXT NOT NULL DEFAULT ''
);
CREATE INDEX print_order_by_job ON print_order (job, made);
