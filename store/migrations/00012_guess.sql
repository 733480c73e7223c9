-- +goose Up
-- Guesses are counted by where they come from and at whom, before any is looked at.
DROP TABLE throttle;
CREATE TABLE guess (
    key   TEXT PRIMARY KEY,
    fails INTEGER NOT NULL,
    until TEXT NOT NULL
) STRICT;
