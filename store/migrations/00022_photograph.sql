-- +goose Up
-- How something was before it was opened: the next job of the vehicle at that place shows it.
CREATE TABLE photograph (
    job     TEXT NOT NULL,
    event   TEXT NOT NULL,
    vehicle TEXT NOT NULL,
    place   TEXT NOT NULL,
    at      TEXT NOT NULL,
    by      TEXT NOT NULL,
    PRIMARY KEY (job, event)
) STRICT, WITHOUT ROWID;
CREATE INDEX photograph_place ON photograph (vehicle, place, at);
