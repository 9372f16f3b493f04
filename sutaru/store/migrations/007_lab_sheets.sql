-- Lab sheets that were taken from a lab, JSON of the core's LabSheet; one of the shelf by the same id stands behind it.
CREATE TABLE lab_sheet (
  id       TEXT PRIMARY KEY,
  document TEXT NOT NULL,
  taken    TEXT NOT NULL
);
