-- +goose Up
-- Sessions are listed and end when nobody uses them; scripts come in by tokens of their own.
ALTER TABLE session ADD COLUMN began TEXT NOT NULL DEFAULT '';
ALTER TABLE session ADD COLUMN seen TEXT NOT NULL DEFAULT '';
ALTER TABLE session ADD COLUMN device TEXT NOT NULL DEFAULT '';
DELETE FROM session; -- those of old have no beginning
CREATE TABLE script_token (
    id    TEXT PRIMARY KEY,
    token TEXT NOT NULL UNIQUE, -- SHA-256 of the secret
    name  TEXT NOT NULL,
    scope TEXT NOT NULL,
    by    TEXT NOT NULL,
    made  TEXT NOT NULL,
    used  TEXT NOT NULL DEFAULT ''
) STRICT;

-- What a person sees pages with: no record, changed by its owner alone.
CREATE TABLE preference (
    person TEXT PRIMARY KEY REFERENCES person (id),
    look   TEXT NOT NULL,
    unit   TEXT NOT NULL,
    text   INTEGER NOT NULL
) STRICT;

-- Who is told of new events: how far each has been told is kept here.
CREATE TABLE webhook (
    id     TEXT PRIMARY KEY,
    url    TEXT NOT NULL,
    secret TEXT NOT NULL,
    kinds  TEXT NOT NULL, -- of events, parted by commas; empty for all
    upto   INTEGER NOT NULL,
    fails  INTEGER NOT NULL DEFAULT 0,
    trouble TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX vehicle_vin ON vehicle (vin);

-- What a signed job came to, for the office: the lists are made anew.
CREATE TABLE outcome (
    job    TEXT PRIMARY KEY,
    signed TEXT NOT NULL,
    body   TEXT NOT NULL
) STRICT;
CREATE INDEX outcome_signed ON outcome (signed);
UPDATE projection SET upto = 0;
