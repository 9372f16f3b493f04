-- A photo's checksum is BLAKE3 from now on. Photos that are here keep the SHA-256 by which they are filed, listed in ``before``.
ALTER TABLE photo RENAME COLUMN sha256 TO checksum;

CREATE TABLE before (
  checksum TEXT PRIMARY KEY
) WITHOUT ROWID;

INSERT INTO before SELECT checksum FROM photo;
