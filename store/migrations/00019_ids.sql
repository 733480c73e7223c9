-- +goose Up
-- An event's id stands for one thing within its job: two shops of a chain may have tools that
-- number their pulls alike. The table is made anew, since SQLite drops no UNIQUE from one.
DROP TRIGGER sealing_insert;
DROP VIEW sealing;
DROP TRIGGER event_no_update;
DROP TRIGGER event_no_delete;
DROP TRIGGER event_only_append;

CREATE TABLE event_by_job (
    n       INTEGER PRIMARY KEY,
    id      TEXT NOT NULL,
    job     TEXT NOT NULL,
    seq     INTEGER NOT NULL CHECK (seq > 0),
    at      TEXT NOT NULL,
    by      TEXT NOT NULL,
    kind    TEXT NOT NULL,
    body    TEXT NOT NULL,
    hash    TEXT NOT NULL,
    link    TEXT NOT NULL,
    v       INTEGER NOT NULL DEFAULT 0,
    ask     TEXT NOT NULL DEFAULT '',
    sent    TEXT NOT NULL DEFAULT '',
    UNIQUE (job, seq)
) STRICT;
INSERT INTO event_by_job (n, id, job, seq, at, by, kind, body, hash, link, v, ask, sent)
    SELECT n, id, job, seq, at, by, kind, body, hash, link, v, ask, sent FROM event ORDER BY n;
DROP TABLE event;
ALTER TABLE event_by_job RENAME TO event;
CREATE INDEX event_id ON event (id);

-- +goose StatementBegin
CREATE TRIGGER event_no_update BEFORE UPDATE ON event
BEGIN SELECT RAISE(ABORT, 'the journal is never changed'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER event_no_delete BEFORE DELETE ON event
BEGIN SELECT RAISE(ABORT, 'the journal is never changed'); END;
-- +goose StatementEnd
-- +goose StatementBegin
CREATE TRIGGER event_only_append BEFORE INSERT ON event
WHEN NEW.seq <> (SELECT COALESCE(MAX(seq), 0) + 1 FROM event WHERE job = NEW.job)
  OR EXISTS (SELECT 1 FROM event WHERE id = NEW.id AND job = NEW.job)
  OR EXISTS (SELECT 1 FROM event WHERE n = NEW.n)
BEGIN SELECT RAISE(ABORT, 'the journal only grows at its end'); END;
-- +goose StatementEnd

CREATE VIEW sealing AS
    SELECT n, id, job, seq, at, by, kind, v, ask, body, hash, link, sent,
        '' AS after_event, '' AS after_act, '' AS signature
    FROM event WHERE 0;

-- +goose StatementBegin
CREATE TRIGGER sealing_insert INSTEAD OF INSERT ON sealing
BEGIN
    INSERT INTO event (n, id, job, seq, at, by, kind, v, ask, body, hash, link, sent)
        VALUES (NEW.n, NEW.id, NEW.job, NEW.seq, NEW.at, NEW.by, NEW.kind, NEW.v, NEW.ask, NEW.body, NEW.hash,
            NEW.link, NEW.sent);
    UPDATE head SET events = NEW.n, event_link = NEW.link, signature = NEW.signature
        WHERE event_link = NEW.after_event AND act_link = NEW.after_act;
    SELECT RAISE(ABORT, 'the journal only grows at its end') WHERE changes() = 0;
END;
-- +goose StatementEnd

DROP TABLE finding;
CREATE TABLE finding (
    id   TEXT NOT NULL,
    job  TEXT NOT NULL,
    text TEXT NOT NULL,
    at   TEXT NOT NULL,
    by   TEXT NOT NULL,
    PRIMARY KEY (job, id)
) STRICT;
UPDATE projection SET upto = 0; -- the lists are made anew
