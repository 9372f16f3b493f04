-- Styles in which books are laid out, JSON of the core's LayoutStyle, each under a name of its own.
CREATE TABLE layout_style (
  name     TEXT PRIMARY KEY COLLATE NOCASE,
  document TEXT NOT NULL,
  kept     TEXT NOT NULL
);
