-- Customers' folders in watched ones of which a job was begun, until they are taken. What lies in such a folder is not believed.
CREATE TABLE laid_in (
  folder TEXT PRIMARY KEY,
  job    TEXT NOT NULL
) WITHOUT ROWID;
