package store

import (
	"context"
	"strconv"
	"strings"
	"time"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/listing"
	"lugtak/core/record"
)

// Lists of a shop of many years are read a page at a time: a cursor names the last row of the
// page before, so that no page costs more than another.

// mark parts the pieces of a cursor; none of them has one.
const mark = "!"

// JobFilter says which jobs are listed.
type JobFilter struct {
	Vehicle string // empty for all
	State   string // open, signed, broken; empty for all
	After   string // cursor of the last job of the page before
	Most    int
}

// JobCursor is the place of a job in the lists, newest first.
func JobCursor(r listing.Job) string { return stamp(r.Started) + mark + r.ID }

// Jobs lists jobs, the newest first.
func (s *Store) Jobs(ctx context.Context, f JobFilter) ([]listing.Job, error) {
	where, args := []string{"1"}, []any{}
	switch f.State {
	case "":
	case "open":
		where = append(where, `signed = 0 AND broken = ''`)
	case "signed":
		where = append(where, `signed = 1 AND broken = ''`)
	case "broken":
		where = append(where, `broken <> ''`)
	default:
		return nil, fault.New(
			fault.BadChoice,
			"state",
			"There is no such state.",
			"Give open, signed or broken, or leave it out.",
		)
	}
	if f.Vehicle != "" {
		where = append(where, `vehicle = ?`)
		args = append(args, f.Vehicle)
	}
	if f.After != "" {
		at, id, ok := strings.Cut(f.After, mark)
		if !ok {
			return nil, badCursor
		}
		where = append(where, `(started, id) < (?, ?)`)
		args = append(args, at, id)
	}
	return s.rows(ctx, selectRows+`WHERE `+strings.Join(where, " AND ")+` ORDER BY started DESC, id DESC LIMIT ?`,
		append(args, f.Most)...)
}

var badCursor = fault.New(
	fault.BadChoice,
	"after",
	"This is no cursor of this list.",
	"Give the value of next on the page before.",
)

// DueCursor is the place of a follow-up in the list of what is owed.
func DueCursor(day time.Time, job string, no int) string {
	return strings.Join([]string{dueStamp(day), job, strconv.Itoa(no)}, mark)
}

// DuesAfter lists what is still owed behind a cursor, the soonest first, what has no day last;
// of one vehicle, or of all where none is named; no more than most, or all where it is -1.
func (s *Store) DuesAfter(ctx context.Context, vehicle, after string, most int) ([]listing.FollowUp, error) {
	if err := s.settle(ctx); err != nil {
		return nil, err
	}
	at, id, no := "", "", -1
	if after != "" {
		parts := strings.Split(after, mark)
		if len(parts) != 3 {
			return nil, badCursor
		}
		n, err := strconv.Atoi(parts[2])
		if err != nil {
			return nil, badCursor
		}
		at, id, no = parts[0], parts[1], n
	}
	where := `(due, job, no) > (?, ?, ?) ORDER BY due, job, no LIMIT ?`
	if vehicle == "" {
		return s.followUps(ctx, where, at, id, no, most)
	}
	return s.followUps(ctx, `vehicle = ? AND `+where, vehicle, at, id, no, most)
}

// Outcomes lists what the jobs came to that were signed since a day, the newest first, no more
// than most.
func (s *Store) Outcomes(ctx context.Context, since time.Time, most int) ([]job.Outcome, error) {
	if err := s.settle(ctx); err != nil {
		return nil, err
	}
	rows, err := s.r.QueryContext(
		ctx,
		`SELECT job, vehicle, COALESCE((SELECT fleet FROM vehicle v WHERE v.id = vehicle), ''),
			tasks, started, signed, planned, took, deviations, unmeasured
		FROM outcome WHERE signed >= ? ORDER BY signed DESC LIMIT ?`,
		stamp(since),
		most,
	)
	return rowsOf(rows, err, func(scan scanner, o *job.Outcome) error {
		var tasks, started, signed string
		err := scan(&o.Job, &o.Vehicle, &o.Fleet, &tasks, &started, &signed,
			&o.PlannedMin, &o.TookMin, &o.Deviations, &o.Unmeasured)
		if err != nil {
			return err
		}
		o.Tasks = strings.Split(tasks, "\n")
		if o.Started, err = time.Parse(time.RFC3339Nano, started); err != nil {
			return err
		}
		if o.Signed, err = time.Parse(time.RFC3339Nano, signed); err != nil {
			return err
		}
		return nil
	})
}

// OpenSums counts the open jobs and the fasteners they owe.
func (s *Store) OpenSums(ctx context.Context) (jobs, owed int, err error) {
	if err := s.settle(ctx); err != nil {
		return 0, 0, err
	}
	err = s.r.QueryRowContext(ctx, `SELECT count(*), coalesce(sum(owed), 0) FROM job WHERE signed = 0 AND broken = ''`).
		Scan(&jobs, &owed)
	return jobs, owed, err
}

// Lines are the sealed lines of a job as they stand in the file.
func (s *Store) Lines(ctx context.Context, id string) ([]record.Line, error) {
	lines, err := readLines(ctx, s.lines, id)
	if err == nil && len(lines) == 0 {
		err = ErrNoJob
	}
	return lines, err
}
