-- Who has given the passphrase: hashes of their tokens and of the passphrase together, and until when (seconds since 1970).
CREATE TABLE session (
  hash TEXT PRIMARY KEY,
  ends REAL NOT NULL
) WITHOUT ROWID;
