-- +goose Up
-- Chances that were said, and what happened: shown as they were told, and moved by what the library alone said.
DROP TABLE release_try;
CREATE TABLE release_try (
    job     TEXT NOT NULL,
    trouble TEXT NOT NULL,
    no      INTEGER NOT NULL,
    kind    TEXT NOT NULL,
    rung    TEXT NOT NULL,
    odds    REAL NOT NULL, -- as they were shown
    plain   REAL NOT NULL, -- by the library alone
    spread  REAL NOT NULL, -- its variance
    freed   INTEGER NOT NULL,
    PRIMARY KEY (job, trouble, no)
) STRICT, WITHOUT ROWID;
CREATE INDEX release_try_kind ON release_try (kind, rung);

DROP TABLE release_past;
CREATE TABLE release_past (
    kind   TEXT NOT NULL,
    rung   TEXT NOT NULL,
    tries  INTEGER NOT NULL,
    freed  INTEGER NOT NULL,
    plain  REAL NOT NULL, -- sums
    spread REAL NOT NULL,
    PRIMARY KEY (kind, rung)
) STRICT, WITHOUT ROWID;

-- A suspect that was renewed alone, and whether the drive after it showed that it was the fault.
CREATE TABLE suspicion (
    job     TEXT PRIMARY KEY,
    suspect TEXT NOT NULL,
    chance  REAL NOT NULL,
    plain   REAL NOT NULL,
    was     INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
CREATE INDEX suspicion_suspect ON suspicion (suspect, chance, plain, was);
-- All lists are made anew: their times are written with all digits since, so that text sorts as times do.
UPDATE projection SET upto = 0;
