-- Recipes of tone that the studio keeps, JSON of the core's Recipe, each under a name of its own.
CREATE TABLE recipe (
  name     TEXT PRIMARY KEY COLLATE NOCASE,
  document TEXT NOT NULL,
  kept     TEXT NOT NULL
);
