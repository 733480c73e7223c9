package store

import (
	"context"
	"database/sql"
	"errors"
	"time"
)

// moment tells one state of the journals and the lists from all others: each of them only grows.
const moment = `SELECT (SELECT coalesce(max(n), 0) FROM event) || ' ' || (SELECT coalesce(max(n), 0) FROM act)
	|| ' ' || (SELECT upto FROM projection)`

// snapshot gives so many connections that all read the file as it stood at one moment, whoever
// writes to it meanwhile. They are to be let go of, also after an error.
func snapshot(ctx context.Context, db *sql.DB, n int) ([]*sql.Conn, error) {
	for range 100 { // a pause in the writing is found long before
		conns, same, err := pin(ctx, db, n)
		if err != nil || same {
			return conns, err
		}
		letGo(conns)
		time.Sleep(time.Millisecond)
	}
	return nil, errors.New("it is written to without a pause: check it again later, or check a backup")
}

// letGo ends what the connections read; one that cannot is closed with the file.
func letGo(conns []*sql.Conn) {
	for _, c := range conns {
		_, _ = c.ExecContext(context.Background(), `ROLLBACK`)
		_ = c.Close()
	}
}

// pin begins to read on each connection; same says that all of them see one moment.
func pin(ctx context.Context, db *sql.DB, n int) (conns []*sql.Conn, same bool, err error) {
	same = true
	first := ""
	for i := range n {
		c, err := db.Conn(ctx)
		if err != nil {
			return conns, false, err
		}
		conns = append(conns, c)
		if _, err := c.ExecContext(ctx, `BEGIN`); err != nil {
			return conns, false, err
		}
		var at string
		if err := c.QueryRowContext(ctx, moment).Scan(&at); err != nil {
			return conns, false, err
		}
		if i == 0 {
			first = at
		}
		same = same && at == first
	}
	return conns, same, nil
}
