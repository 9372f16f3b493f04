-- Links by which customers look at a proof: of a job as it stood, until a day.
CREATE TABLE proof_link (
    token TEXT PRIMARY KEY,
    job TEXT NOT NULL,
    edition TEXT NOT NULL,
    state INTEGER NOT NULL,
    created TEXT NOT NULL,
    expires TEXT NOT NULL,
    opened TEXT,
    remarks INTEGER NOT NULL DEFAULT 0,
    approved_by TEXT,
    approved TEXT
) STRICT;

CREATE INDEX proof_link_of_job ON proof_link (job);
