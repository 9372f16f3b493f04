-- The studio card: one row, JSON of the document's StudioCard.
CREATE TABLE studio_card (
  id       INTEGER PRIMARY KEY CHECK (id = 1),
  document TEXT NOT NULL
);
