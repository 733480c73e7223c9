-- +goose Up
-- By which joint of its sheet a fastener went, and how well it is proved: the lists are made anew.
DROP TABLE fastener;
CREATE TABLE fastener (
    job      TEXT NOT NULL,
    joint    TEXT NOT NULL,
    letter   TEXT NOT NULL,
    sheet    TEXT NOT NULL,
    mark     TEXT NOT NULL,
    evidence TEXT NOT NULL,
    grade    TEXT NOT NULL,
    owed     INTEGER NOT NULL,
    PRIMARY KEY (job, joint, letter)
) STRICT, WITHOUT ROWID;

-- What each joint took that was opened, and how often such a joint was stuck.
CREATE TABLE opened (
    job     TEXT NOT NULL,
    joint   TEXT NOT NULL,
    sheet   TEXT NOT NULL,
    minutes REAL NOT NULL,
    tool    TEXT NOT NULL,
    stuck   TEXT NOT NULL,
    PRIMARY KEY (job, joint)
) STRICT, WITHOUT ROWID;
CREATE INDEX opened_sheet ON opened (sheet, job);
CREATE TABLE seized_past (
    sheet  TEXT PRIMARY KEY,
    opened INTEGER NOT NULL,
    stuck  INTEGER NOT NULL
) STRICT, WITHOUT ROWID;
-- The last time somebody was there is looked for from the newest job on.
DROP INDEX job_pattern;
CREATE INDEX job_pattern ON job (signed, pattern, started);
UPDATE projection SET upto = 0;
