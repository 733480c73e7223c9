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
UPDATE projection SET upto = 0;
