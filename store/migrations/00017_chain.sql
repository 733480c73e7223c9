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

-- What is owed of a vehicle is read in the order it is due, without looking at the rest; what
-- has no day stands behind all that have one.
DROP TABLE follow_up;
CREATE TABLE follow_up (
    job     TEXT NOT NULL,
    vehicle TEXT NOT NULL,
    no      INTEGER NOT NULL,
    kind    TEXT NOT NULL,
    title   TEXT NOT NULL,
    at_km   INTEGER NOT NULL,
    due     TEXT NOT NULL, -- the day, or ~ where there is none
    closed  INTEGER NOT NULL,
    PRIMARY KEY (job, no)
) STRICT, WITHOUT ROWID;
CREATE INDEX follow_up_vehicle ON follow_up (vehicle, due, job, no) WHERE closed = 0;
CREATE INDEX follow_up_open ON follow_up (due, job, no) WHERE closed = 0;

-- The beginning of a word is found as quickly as a whole one.
DROP TABLE search;
CREATE VIRTUAL TABLE search USING fts5(body, tokenize = 'unicode61 remove_diacritics 2', prefix = '2 3 4 5 6 7');
DELETE FROM search_job;
UPDATE projection SET upto = 0;
