package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"regexp"
	"strconv"
	"strings"
)

// A head names how far a journal of the file went, and what it held: the journal, E of jobs or A
// of the shop's acts, the number of the last row, and the first digits of its link, which holds
// all rows before it. Written down outside, it finds a file that was put back in time.

// headDigits are as many of a link as nobody finds another row for.
const headDigits = 16

var headText = regexp.MustCompile(`^([EA])([0-9]{1,12})-([0-9a-f]{16,64})$`)

// HeadAt is the head of the shop's file as it stood with a job's last event.
func (s *Store) HeadAt(ctx context.Context, jobID string) (string, error) {
	var n int
	var link string
	err := s.r.QueryRowContext(ctx, `SELECT n, link FROM event WHERE job = ? ORDER BY seq DESC LIMIT 1`, jobID).
		Scan(&n, &link)
	if err != nil {
		return "", err
	}
	return oneHead("E", n, link), nil
}

func oneHead(journal string, n int, link string) string {
	return fmt.Sprintf("%s%d-%s", journal, n, link[:min(headDigits, len(link))])
}

// heads are both ends of a file as they stand.
func (h head) heads() string {
	var out []string
	if h.events > 0 {
		out = append(out, oneHead("E", h.events, h.eventLink))
	}
	if h.acts > 0 {
		out = append(out, oneHead("A", h.acts, h.actLink))
	}
	return strings.Join(out, " ")
}

// wrote is a head as it was written down outside.
type wrote struct {
	table string // event or act
	n     int
	link  string
}

// parseHead reads what oneHead writes.
func parseHead(text string) (wrote, error) {
	m := headText.FindStringSubmatch(text)
	if m == nil {
		return wrote{}, fmt.Errorf("%q is no head: it is written as on a report, E1234-0123456789abcdef", text)
	}
	n, err := strconv.Atoi(m[2])
	if m[1] == "A" {
		return wrote{"act", n, m[3]}, err
	}
	return wrote{"event", n, m[3]}, err
}

// against holds the file against heads that were written down outside it.
func (c *checker) against(heads []wrote) error {
	for _, h := range heads {
		var link string
		err := c.r.QueryRowContext(c.ctx, `SELECT link FROM `+h.table+` WHERE n = ?`, h.n).Scan(&link)
		switch {
		case errors.Is(err, sql.ErrNoRows):
			c.rep.fault("%s %d, which stood here once, is not in the file: it was put back in time, or cut", h.table, h.n)
		case err != nil:
			return err
		case !strings.HasPrefix(link, h.link):
			c.rep.fault("%s %d is not the one that stood here once: the file went another way", h.table, h.n)
		}
	}
	return nil
}
