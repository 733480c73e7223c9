-- +goose Up
-- What a shop of many years reads at once is kept summed, or by the day it is asked from: these
-- lists are made anew.

-- What the shop's tries to free something came to.
CREATE TABLE release_past (
    kind  TEXT NOT NULL,
    rung  TEXT NOT NULL,
    freed INTEGER NOT NULL,
    odds  REAL NOT NULL,
    PRIMARY KEY (kind, rung)
) STRICT, WITHOUT ROWID;

-- last is when the tool was pulled last in the job.
DROP TABLE job_tool;
CREATE TABLE job_tool (
    job   TEXT NOT NULL,
    tool  TEXT NOT NULL,
    pulls INTEGER NOT NULL,
    last  TEXT NOT NULL,
    PRIMARY KEY (job, tool)
) STRICT, WITHOUT ROWID;
CREATE INDEX job_tool_last ON job_tool (tool, last);
DELETE FROM tool;

DROP TABLE outcome;
CREATE TABLE outcome (
    job        TEXT PRIMARY KEY,
    vehicle    TEXT NOT NULL,
    tasks      TEXT NOT NULL, -- a line each
    started    TEXT NOT NULL,
    signed     TEXT NOT NULL,
    planned    REAL NOT NULL, -- minutes, of the steps that were timed
    took       REAL NOT NULL, -- minutes, by the same steps
    deviations INTEGER NOT NULL,
    unmeasured INTEGER NOT NULL
) STRICT;
CREATE INDEX outcome_signed ON outcome (signed);

-- What a vehicle is looked for by, without what parts its letters: any three of them, or the
-- first ones of one of its names, behind two spaces. A vehicle never changes.
CREATE VIRTUAL TABLE vehicle_words USING fts5(id UNINDEXED, words, tokenize = 'trigram');
CREATE VIEW vehicle_named AS
    SELECT id, '  ' || replace(replace(replace(replace(replace(replace(
        fleet || '@' || plate || '@' || vin || '@' || name || '@' || bay,
        ' ', ''), '.', ''), '-', ''), '_', ''), '*', ''), '@', '  ') AS words
    FROM vehicle;
INSERT INTO vehicle_words SELECT id, words FROM vehicle_named;
-- +goose StatementBegin
CREATE TRIGGER vehicle_found AFTER INSERT ON vehicle BEGIN
    INSERT INTO vehicle_words SELECT id, words FROM vehicle_named WHERE id = new.id;
END;
-- +goose StatementEnd
UPDATE projection SET upto = 0;
