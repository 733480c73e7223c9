-- +goose Up
CREATE TABLE person (
    id      TEXT PRIMARY KEY,
    name    TEXT NOT NULL UNIQUE COLLATE NOCASE,
    role    TEXT NOT NULL CHECK (role IN ('technician', 'foreman', 'reader')),
    pin     TEXT NOT NULL,
    active  INTEGER NOT NULL DEFAULT 1
) STRICT;

CREATE TABLE throttle (
    name    TEXT PRIMARY KEY COLLATE NOCASE,
    fails   INTEGER NOT NULL,
    until   TEXT NOT NULL
) STRICT;

CREATE TABLE session (
    token   TEXT PRIMARY KEY, -- SHA-256 of the cookie
    person  TEXT NOT NULL REFERENCES person (id),
    csrf    TEXT NOT NULL,
    expires TEXT NOT NULL
) STRICT;

CREATE TABLE vehicle (
    id      TEXT PRIMARY KEY,
    fleet   TEXT NOT NULL UNIQUE COLLATE NOCASE,
    plate   TEXT NOT NULL,
    vin     TEXT NOT NULL,
    pattern TEXT NOT NULL,
    name    TEXT NOT NULL,
    bay     TEXT NOT NULL
) STRICT;

-- The journal. hash chains the events of one job, so that a job file carries its
-- own proof; link chains all rows of this file, so that no job can go missing.
CREATE TABLE event (
    n       INTEGER PRIMARY KEY,
    id      TEXT NOT NULL UNIQUE,
    job     TEXT NOT NULL,
    seq     INTEGER NOT NULL CHECK (seq > 0),
    at      TEXT NOT NULL,
    by      TEXT NOT NULL,
    kind    TEXT NOT NULL,
    body    TEXT NOT NULL,
    hash    TEXT NOT NULL,
    link    TEXT NOT NULL,
    UNIQUE (job, seq)
) STRICT;

-- What the lists read, written in the transaction of the event.
CREATE TABLE job (
    id      TEXT PRIMARY KEY,
    vehicle TEXT NOT NULL,
    title   TEXT NOT NULL,
    owed    INTEGER NOT NULL,
    signed  INTEGER NOT NULL,
    started TEXT NOT NULL
) STRICT;
CREATE INDEX job_open ON job (signed, vehicle);

-- +goose StatementBegin
CREATE TRIGGER event_no_update BEFORE UPDATE ON event
BEGIN SELECT RAISE(ABORT, 'the journal is never changed'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER event_no_delete BEFORE DELETE ON event
BEGIN SELECT RAISE(ABORT, 'the journal is never changed'); END;
-- +goose StatementEnd
-- INSERT OR REPLACE deletes without firing the trigger above, so an insert must
-- add to the end of its job.
-- +goose StatementBegin
CREATE TRIGGER event_only_append BEFORE INSERT ON event
WHEN NEW.seq <> (SELECT COALESCE(MAX(seq), 0) + 1 FROM event WHERE job = NEW.job)
  OR EXISTS (SELECT 1 FROM event WHERE id = NEW.id)
  OR EXISTS (SELECT 1 FROM event WHERE n = NEW.n)
BEGIN SELECT RAISE(ABORT, 'the journal only grows at its end'); END;
-- +goose StatementEnd
