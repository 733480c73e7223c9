-- +goose Up
-- What was logged before is in the shop's journal now.
DROP TABLE crib;
DROP TABLE figure;
DROP TABLE shelf_file;

-- Projections: read from the journals, dropped and rebuilt at will. upto is the last
-- event that is in them.
DROP TABLE job;
CREATE TABLE projection (
    id      INTEGER PRIMARY KEY CHECK (id = 1),
    upto    INTEGER NOT NULL
) STRICT;
INSERT INTO projection VALUES (1, 0);

CREATE TABLE job (
    id      TEXT PRIMARY KEY,
    vehicle TEXT NOT NULL,
    pattern TEXT NOT NULL,
    title   TEXT NOT NULL,
    owed    INTEGER NOT NULL,
    signed  INTEGER NOT NULL,
    started TEXT NOT NULL,
    broken  TEXT NOT NULL
) STRICT;
CREATE INDEX job_open ON job (signed, started);
CREATE INDEX job_vehicle ON job (vehicle, started);
CREATE INDEX job_pattern ON job (signed, pattern);

CREATE TABLE fastener (
    job      TEXT NOT NULL,
    joint    TEXT NOT NULL,
    letter   TEXT NOT NULL,
    mark     TEXT NOT NULL,
    evidence TEXT NOT NULL,
    owed     INTEGER NOT NULL,
    PRIMARY KEY (job, joint, letter)
) STRICT, WITHOUT ROWID;

CREATE TABLE job_tool (
    job   TEXT NOT NULL,
    tool  TEXT NOT NULL,
    pulls INTEGER NOT NULL,
    PRIMARY KEY (job, tool)
) STRICT, WITHOUT ROWID;
CREATE TABLE tool (
    name  TEXT PRIMARY KEY,
    pulls INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

CREATE TABLE part (
    job    TEXT NOT NULL,
    key    TEXT NOT NULL,
    title  TEXT NOT NULL,
    status TEXT NOT NULL,
    PRIMARY KEY (job, key)
) STRICT, WITHOUT ROWID;

CREATE TABLE finding (
    id   TEXT PRIMARY KEY,
    job  TEXT NOT NULL,
    text TEXT NOT NULL,
    at   TEXT NOT NULL,
    by   TEXT NOT NULL
) STRICT;
CREATE INDEX finding_job ON finding (job);

CREATE TABLE follow_up (
    n      INTEGER PRIMARY KEY,
    job    TEXT NOT NULL,
    kind   TEXT NOT NULL,
    title  TEXT NOT NULL,
    km     INTEGER NOT NULL,
    joint  TEXT NOT NULL,
    letter TEXT NOT NULL
) STRICT;
CREATE INDEX follow_up_job ON follow_up (job);

CREATE TABLE step_time (
    n       INTEGER PRIMARY KEY,
    job     TEXT NOT NULL,
    step    TEXT NOT NULL,
    minutes REAL NOT NULL,
    signed  TEXT NOT NULL
) STRICT;
CREATE INDEX step_time_job ON step_time (job);
CREATE INDEX step_time_signed ON step_time (signed);

-- What a tool sends by itself is let in by its token.
CREATE TABLE tool_token (
    token TEXT PRIMARY KEY, -- SHA-256 of the secret
    tool  TEXT NOT NULL
) STRICT, WITHOUT ROWID;
