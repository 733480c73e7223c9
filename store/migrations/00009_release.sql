-- +goose Up
-- What was tried on what sat fast, with the odds it had: the shop's own past.
CREATE TABLE release_try (
    job     TEXT NOT NULL,
    trouble TEXT NOT NULL,
    no      INTEGER NOT NULL,
    kind    TEXT NOT NULL,
    rung    TEXT NOT NULL,
    odds    REAL NOT NULL,
    freed   INTEGER NOT NULL,
    PRIMARY KEY (job, trouble, no)
) STRICT, WITHOUT ROWID;
CREATE INDEX release_try_kind ON release_try (kind, rung);
