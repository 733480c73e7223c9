-- +goose Up
-- Runs in the practice bay: of no vehicle and no job, read by their owner alone.
CREATE TABLE practice (
    id       TEXT PRIMARY KEY,
    person   TEXT NOT NULL,
    exercise TEXT NOT NULL,
    seed     INTEGER NOT NULL,
    acts     TEXT NOT NULL,
    count    INTEGER NOT NULL,
    begun    TEXT NOT NULL,
    ended    TEXT NOT NULL, -- empty while it goes on
    score    TEXT NOT NULL
) STRICT;
CREATE INDEX practice_person ON practice (person, begun);
