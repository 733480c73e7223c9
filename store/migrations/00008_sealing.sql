-- +goose Up
-- An event and the signed end behind it in one statement: a row put into sealing is
-- written only behind the end it was sealed for.
CREATE VIEW sealing AS
    SELECT n, id, job, seq, at, by, kind, v, ask, body, hash, link,
        '' AS after_event, '' AS after_act, '' AS signature
    FROM event WHERE 0;

-- +goose StatementBegin
CREATE TRIGGER sealing_insert INSTEAD OF INSERT ON sealing
BEGIN
    INSERT INTO event (n, id, job, seq, at, by, kind, v, ask, body, hash, link)
        VALUES (NEW.n, NEW.id, NEW.job, NEW.seq, NEW.at, NEW.by, NEW.kind, NEW.v, NEW.ask, NEW.body, NEW.hash, NEW.link);
    UPDATE head SET events = NEW.n, event_link = NEW.link, signature = NEW.signature
        WHERE event_link = NEW.after_event AND act_link = NEW.after_act;
    SELECT RAISE(ABORT, 'the journal only grows at its end') WHERE changes() = 0;
END;
-- +goose StatementEnd
