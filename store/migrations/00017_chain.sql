-- +goose Up
-- How far a shop has followed the chain, or a node of the chain has been filled.
CREATE TABLE chain (
    id    INTEGER PRIMARY KEY CHECK (id = 1),
    acts  INTEGER NOT NULL, -- place in the chain up to which other shops' acts were taken
    lines INTEGER NOT NULL  -- place in the chain up to which this node has the lines
) STRICT;
INSERT INTO chain VALUES (1, 0, 0);

-- At a node: which shop a job is of.
CREATE TABLE chain_job (
    job  TEXT PRIMARY KEY,
    shop TEXT NOT NULL -- fingerprint of its key
) STRICT, WITHOUT ROWID;
CREATE TABLE chain_shop (
    shop TEXT PRIMARY KEY,
    name TEXT NOT NULL,
    told TEXT NOT NULL -- when it was heard of last
) STRICT, WITHOUT ROWID;
