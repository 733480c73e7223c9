-- +goose Up
-- What was measured on a vehicle, and how far it had gone: the lists are made anew.
ALTER TABLE job ADD COLUMN km INTEGER NOT NULL DEFAULT 0;
CREATE TABLE measure (
    job     TEXT NOT NULL,
    n       INTEGER NOT NULL,
    km      INTEGER NOT NULL,
    body    TEXT NOT NULL, -- as the journal has it
    PRIMARY KEY (job, n)
) STRICT, WITHOUT ROWID;
UPDATE projection SET upto = 0;
