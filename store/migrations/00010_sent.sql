-- +goose Up
-- When a record came that was kept on a tablet without network first; empty for others.
ALTER TABLE event ADD COLUMN sent TEXT NOT NULL DEFAULT '';

DROP TRIGGER sealing_insert;
DROP VIEW sealing;
CREATE VIEW sealing AS
    SELECT n, id, job, seq, at, by, kind, v, ask, body, hash, link, sent,
        '' AS after_event, '' AS after_act, '' AS signature
    FROM event WHERE 0;

-- +goose StatementBegin
CREATE TRIGGER sealing_insert INSTEAD OF INSERT ON sealing
BEGIN
    INSERT INTO event (n, id, job, seq, at, by, kind, v, ask, body, hash, link, sent)
        VALUES (NEW.n, NEW.id, NEW.job, NEW.seq, NEW.at, NEW.by, NEW.kind, NEW.v, NEW.ask, NEW.body, NEW.hash, NEW.link, NEW.sent);
    UPDATE head SET events = NEW.n, event_link = NEW.link, signature = NEW.signature
        WHERE event_link = NEW.after_event AND act_link = NEW.after_act;
    SELECT RAISE(ABORT, 'the journal only grows at its end') WHERE changes() = 0;
END;
-- +goose StatementEnd
