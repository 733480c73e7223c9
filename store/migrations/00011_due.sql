-- +goose Up
-- When a follow-up is due, and whether it was closed: the list is made anew.
DROP TABLE follow_up;
CREATE TABLE follow_up (
    job    TEXT NOT NULL,
    no     INTEGER NOT NULL,
    kind   TEXT NOT NULL,
    title  TEXT NOT NULL,
    at_km  INTEGER NOT NULL,
    at     TEXT NOT NULL,
    closed INTEGER NOT NULL,
    PRIMARY KEY (job, no)
) STRICT, WITHOUT ROWID;
CREATE INDEX follow_up_open ON follow_up (closed, at);
UPDATE projection SET upto = 0;
