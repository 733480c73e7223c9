package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"lugtak/core/forecast"
	"lugtak/core/job"
	"lugtak/core/listing"
)

// Projections are what pages read instead of the journal: tables that can be dropped
// and rebuilt. They follow the journal a moment behind, in transactions of their own,
// so that recording waits for none of them; a list that must be up to date asks for it.

// batch is how many events are projected in one transaction.
const batch = 2000

// lagging wakes the projector.
func (s *Store) lagging() {
	select {
	case s.behind <- struct{}{}:
	default: // it is awake
	}
}

// rest is how long the projector lets records pile up before it takes them in.
const rest = 200 * time.Millisecond

func (s *Store) projectInBackground() {
	ctx, cancel := context.WithCancel(context.Background())
	s.closing = cancel
	s.projector.Go(func() {
		for {
			select {
			case <-ctx.Done():
				return
			case <-s.behind:
			}
			select {
			case <-ctx.Done():
				return
			case <-time.After(rest):
			}
			if err := s.settle(ctx); err != nil && ctx.Err() == nil {
				s.lagging() // the next round tries again
			}
		}
	})
}

// settle brings the projections up to the end of the journal.
func (s *Store) settle(ctx context.Context) error { return s.project(ctx, nil) }

// project takes in all events behind the last projected; progress is told how far it
// is, where somebody listens.
func (s *Store) project(ctx context.Context, progress func(done, of int)) error {
	s.projectMu.Lock()
	defer s.projectMu.Unlock()
	for {
		var upto, last int
		err := s.r.QueryRowContext(ctx, `SELECT p.upto, COALESCE((SELECT MAX(n) FROM event), 0) FROM projection p`).
			Scan(&upto, &last)
		if err != nil {
			return err
		}
		if progress != nil {
			progress(upto, last)
		}
		if upto >= last {
			return nil
		}
		to := min(upto+batch, last)
		if err := s.projectSpan(ctx, upto, to); err != nil {
			return err
		}
	}
}

// projectSpan takes in the jobs that some events belong to, each as it stands now.
func (s *Store) projectSpan(ctx context.Context, from, to int) error {
	jobs, err := s.strings(ctx, `SELECT DISTINCT job FROM event WHERE n > ? AND n <= ?`, from, to)
	if err != nil {
		return err
	}
	states := make([]*job.State, 0, len(jobs))
	for _, id := range jobs {
		st, err := s.Job(ctx, id)
		if err != nil {
			return err
		}
		states = append(states, st)
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	tx, err := s.w.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	defer tx.Rollback()
	for _, st := range states {
		if err := projectJob(ctx, tx, st); err != nil {
			return fmt.Errorf("job %s cannot be listed: %w", st.ID, err)
		}
	}
	if _, err := tx.ExecContext(ctx, `UPDATE projection SET upto = ?`, to); err != nil {
		return err
	}
	return tx.Commit()
}

// list is a table of the projections, all of whose rows are read from one job each: its name and
// its columns, the job's first.
type list struct{ name, columns string }

// The lists.
var (
	jobList      = list{"job", "id, vehicle, pattern, title, owed, signed, started, broken, km"}
	fastenerList = list{"fastener", "job, joint, letter, sheet, mark, evidence, grade, owed"}
	openedList   = list{"opened", "job, joint, sheet, minutes, tool, stuck"}
	toolList     = list{"job_tool", "job, tool, pulls, last"}
	partList     = list{"part", "job, key, title, status"}
	findingList  = list{"finding", "job, id, text, at, by"}
	photoList    = list{"photograph", "job, event, vehicle, place, at, by"}
	dueList      = list{"follow_up", "job, vehicle, no, kind, title, at_km, due, closed"}
	timeList     = list{"step_time", "job, step, minutes, signed"}
	tryList      = list{"release_try", "job, trouble, no, kind, rung, odds, plain, spread, freed"}
	measureList  = list{"measure", "job, n, km, body"}
	suspectList  = list{"suspicion", "job, suspect, chance, plain, was"}
	outcomeList  = list{"outcome", "job, vehicle, tasks, started, signed, planned, took, deviations, unmeasured"}

	lists = []list{
		jobList, fastenerList, openedList, toolList, partList, findingList, photoList,
		dueList, timeList, tryList, measureList, suspectList, outcomeList,
	}
)

// key is the column that names the job.
func (l list) key() string { return strings.SplitN(l.columns, ",", 2)[0] }

// listed is a row of a list, its values as its columns stand.
type listed struct {
	list
	values []any
}

// listsOf are all rows that are read from one job.
func listsOf(st *job.State) (out []listed, err error) {
	add := func(l list, values ...any) { out = append(out, listed{l, append([]any{st.ID}, values...)}) }
	title, owed := "Unreadable", 0
	if st.Plan != nil {
		title, owed = st.Title(), len(st.Owed())
	}
	add(jobList, st.Vehicle.ID, st.Vehicle.Pattern, title, owed, st.Signature != nil,
		stamp(st.Started), st.Broken, st.OdometerKM)
	if st.Plan == nil {
		return out, nil
	}
	for _, x := range st.Account().Fasteners {
		id := x.Fastener
		f := st.Fasteners[id]
		sheet := st.Plan.Joint(id.Joint).Sheet
		add(fastenerList, id.Joint, id.Letter, sheet, string(f.Mark()), string(f.Evidence), string(x.Grade), f.Owed())
	}
	for _, o := range st.Opened() {
		add(openedList, o.Joint.ID, o.Joint.Sheet, o.Minutes, o.Tool, o.Stuck)
	}
	pulls, last := map[string]int{}, map[string]time.Time{}
	for _, x := range st.Pulls {
		if x.Tool == "" {
			continue
		}
		pulls[x.Tool]++
		if x.At.After(last[x.Tool]) {
			last[x.Tool] = x.At
		}
	}
	for tool, n := range pulls {
		add(toolList, tool, n, stamp(last[tool]))
	}
	for _, t := range st.Troubles {
		for no, x := range t.Tries {
			plain := forecast.Case(x.ByLibrary(), x.Outcome == job.Freed)
			add(tryList, t.ID, no, x.Seizure, x.Rung, x.Odds, plain.Said, plain.Spread, plain.Happened)
		}
	}
	if x := st.Suspicion; x != nil {
		add(suspectList, x.Suspect, x.Chance, x.Plain, x.Was)
	}
	for i, m := range st.Taken() {
		body, err := json.Marshal(m.Measured)
		if err != nil {
			return nil, err
		}
		add(measureList, i, m.KM, string(body))
	}
	for _, x := range st.Plan.Parts {
		add(partList, x.Key, x.Title, string(st.Parts[x.Key]))
	}
	for _, f := range st.Findings {
		add(findingList, f.ID, f.Text, stamp(f.At), f.By)
	}
	for _, x := range st.Photos {
		add(photoList, x.ID, st.Vehicle.ID, x.Place, stamp(x.At), x.By)
	}
	if st.Signature == nil {
		return out, nil
	}
	for _, d := range st.Dues() {
		add(dueList, st.Vehicle.ID, d.No, string(d.Kind), d.Title, d.AtKM, dueStamp(d.At), d.Closed != nil)
	}
	o := st.Outcome()
	add(outcomeList, o.Vehicle, strings.Join(o.Tasks, "\n"), stamp(o.Started), stamp(o.Signed),
		o.PlannedMin, o.TookMin, o.Deviations, o.Unmeasured)
	for step, times := range st.Took() {
		for _, minutes := range times {
			add(timeList, string(step), minutes, stamp(st.Signature.At))
		}
	}
	return out, nil
}

// words are what a job is found by.
func words(st *job.State) string { return strings.Join(st.Words(), " · ") }

// projectJob writes every row that is read from one job, and brings the sums over jobs along.
func projectJob(ctx context.Context, tx *sql.Tx, st *job.State) error {
	rows, err := listsOf(st)
	if err != nil {
		return err
	}
	p := projecting{ctx: ctx, tx: tx}
	p.exec(`UPDATE tool SET pulls = tool.pulls - was.pulls
		FROM job_tool was WHERE was.job = ? AND was.tool = tool.name`, st.ID)
	p.exec(`UPDATE release_past AS p SET tries = p.tries - was.tries, freed = p.freed - was.freed,
			plain = p.plain - was.plain, spread = p.spread - was.spread
		FROM (`+triedOf+`) was WHERE was.kind = p.kind AND was.rung = p.rung`, st.ID)
	p.exec(`UPDATE seized_past AS p SET opened = p.opened - was.opened, stuck = p.stuck - was.stuck
		FROM (`+seizedOf+`) was WHERE was.sheet = p.sheet`, st.ID)
	for _, l := range lists {
		p.exec(`DELETE FROM `+l.name+` WHERE `+l.key()+` = ?`, st.ID)
	}
	for _, r := range rows {
		marks := strings.Repeat(",?", len(r.values))[1:]
		p.exec(`INSERT OR REPLACE INTO `+r.name+` (`+r.columns+`) VALUES (`+marks+`)`, r.values...)
	}
	p.exec(`INSERT INTO tool SELECT tool, pulls FROM job_tool WHERE job = ?
		ON CONFLICT (name) DO UPDATE SET pulls = pulls + excluded.pulls`, st.ID)
	p.exec(`INSERT INTO release_past `+triedOf+` ON CONFLICT (kind, rung)
		DO UPDATE SET tries = tries + excluded.tries, freed = freed + excluded.freed,
			plain = plain + excluded.plain, spread = spread + excluded.spread`, st.ID)
	p.exec(`INSERT INTO seized_past `+seizedOf+` ON CONFLICT (sheet)
		DO UPDATE SET opened = opened + excluded.opened, stuck = stuck + excluded.stuck`, st.ID)
	p.exec(`INSERT OR IGNORE INTO search_job (job) VALUES (?)`, st.ID)
	p.exec(`DELETE FROM search WHERE rowid = (SELECT id FROM search_job WHERE job = ?)`, st.ID)
	p.exec(`INSERT INTO search (rowid, body) SELECT id, ? FROM search_job WHERE job = ?`, words(st), st.ID)
	return p.err
}

// triedOf is what the tries to free something in a job came to, by kind and rung, as release_past has it.
const triedOf = `SELECT kind, rung, COUNT(*) AS tries, SUM(freed) AS freed, SUM(plain) AS plain,
	SUM(spread) AS spread FROM release_try WHERE job = ? GROUP BY kind, rung`

// seizedOf is how often each kind of joint was opened in a job, and stuck.
const seizedOf = `SELECT sheet, COUNT(*) AS opened, SUM(stuck <> '') AS stuck FROM opened WHERE job = ? GROUP BY sheet`

// projecting writes rows; after the first error it does nothing.
type projecting struct {
	ctx context.Context
	tx  *sql.Tx
	err error
}

func (p *projecting) exec(query string, args ...any) {
	if p.err == nil {
		_, p.err = p.tx.ExecContext(p.ctx, query, args...)
	}
}

// Seized is how often joints of each kind were opened in this shop, and how often one was stuck.
func (s *Store) Seized(ctx context.Context) (map[string][2]int, error) {
	rows, err := s.r.QueryContext(ctx, `SELECT sheet, opened, stuck FROM seized_past WHERE opened > 0`)
	out := map[string][2]int{}
	err = eachRow(rows, err, func(scan scanner) error {
		var sheet string
		var n [2]int
		if err := scan(&sheet, &n[0], &n[1]); err != nil {
			return err
		}
		out[sheet] = n
		return nil
	})
	return out, err
}

// LastOpened is what a joint of a sheet took in the newest signed job on it that opened it, but for one; empty where
// none did.
func (s *Store) LastOpened(ctx context.Context, sheet, joint, but string) (o listing.Opened, err error) {
	var at string
	err = s.r.QueryRowContext(ctx, `SELECT COALESCE(v.fleet, ''), j.started, o.minutes, o.tool, o.stuck
		FROM job j CROSS JOIN opened o ON o.sheet = ? AND o.job = j.id LEFT JOIN vehicle v ON v.id = j.vehicle
		WHERE j.signed = 1 AND j.pattern = ? AND j.id <> ? ORDER BY j.started DESC LIMIT 1`, joint, sheet, but).
		Scan(&o.Fleet, &at, &o.Minutes, &o.Tool, &o.Stuck)
	if errors.Is(err, sql.ErrNoRows) {
		return listing.Opened{}, nil
	}
	if err != nil {
		return o, err
	}
	o.At, err = time.Parse(time.RFC3339Nano, at)
	return o, err
}

// Rebuild drops every projection and makes it anew from the journal.
func (s *Store) Rebuild(ctx context.Context, progress func(done, of int)) error {
	s.mu.Lock()
	err := s.dropProjections(ctx)
	s.mu.Unlock()
	if err != nil {
		return err
	}
	return s.project(ctx, progress)
}

func (s *Store) dropProjections(ctx context.Context) error {
	tx, err := s.w.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	defer tx.Rollback()
	p := projecting{ctx: ctx, tx: tx}
	for _, l := range lists {
		p.exec(`DELETE FROM ` + l.name)
	}
	for _, table := range []string{"tool", "release_past", "seized_past", "search", "search_job"} {
		p.exec(`DELETE FROM ` + table)
	}
	p.exec(`UPDATE projection SET upto = 0`)
	if p.err != nil {
		return p.err
	}
	return tx.Commit()
}

const selectRows = `SELECT id, vehicle, title, km, owed, signed, started, broken,
	COALESCE((SELECT fleet FROM vehicle v WHERE v.id = vehicle), '') FROM job `

// OpenJobs lists the open jobs, newest first, all of them.
func (s *Store) OpenJobs(ctx context.Context) ([]listing.Job, error) {
	return s.rows(ctx, selectRows+`WHERE signed = 0 ORDER BY started DESC`)
}

// SignedJobs lists the last jobs signed, newest first.
func (s *Store) SignedJobs(ctx context.Context, limit int) ([]listing.Job, error) {
	return s.rows(ctx, selectRows+`WHERE signed = 1 ORDER BY started DESC LIMIT ?`, limit)
}

func (s *Store) rows(ctx context.Context, query string, args ...any) ([]listing.Job, error) {
	if err := s.settle(ctx); err != nil {
		return nil, err
	}
	rows, err := s.r.QueryContext(ctx, query, args...)
	var out []listing.Job
	err = eachRow(rows, err, func(scan scanner) error {
		var r listing.Job
		var at string
		err := scan(&r.ID, &r.Vehicle, &r.Title, &r.KM, &r.Owed, &r.Signed, &at, &r.Broken, &r.Fleet)
		if err != nil {
			return err
		}
		r.Started, _ = time.Parse(time.RFC3339Nano, at) // a broken job may have no time
		out = append(out, r)
		return nil
	})
	return out, err
}

func (s *Store) strings(ctx context.Context, query string, args ...any) ([]string, error) {
	return readStrings(ctx, s.r, query, args...)
}

func readStrings(ctx context.Context, q rowsQuerier, query string, args ...any) ([]string, error) {
	rows, err := q.QueryContext(ctx, query, args...)
	var out []string
	err = eachRow(rows, err, func(scan scanner) error {
		var v string
		if err := scan(&v); err != nil {
			return err
		}
		out = append(out, v)
		return nil
	})
	return out, err
}

// OpenOf lists the open jobs of a pattern.
func (s *Store) OpenOf(ctx context.Context, pattern string) ([]string, error) {
	if err := s.settle(ctx); err != nil {
		return nil, err
	}
	return s.openOf(ctx, pattern)
}

// Tightened counts the jobs of a sheet in which a fastener of each joint was tightened by its figure.
func (s *Store) Tightened(ctx context.Context, sheet string) (map[string]int, error) {
	if err := s.settle(ctx); err != nil {
		return nil, err
	}
	rows, err := s.r.QueryContext(ctx, `SELECT f.sheet, f.grade, f.job FROM job j JOIN fastener f ON f.job = j.id
		WHERE j.pattern = ? AND j.broken = ''`, sheet)
	jobs, out := map[[2]string]bool{}, map[string]int{}
	err = eachRow(rows, err, func(scan scanner) error {
		var joint, in string
		var grade job.Grade
		if err := scan(&joint, &grade, &in); err != nil {
			return err
		}
		if grade.Figured() && !jobs[[2]string{joint, in}] {
			jobs[[2]string{joint, in}] = true
			out[joint]++
		}
		return nil
	})
	return out, err
}

func (s *Store) openOf(ctx context.Context, pattern string) ([]string, error) {
	return s.strings(ctx, `SELECT id FROM job WHERE signed = 0 AND pattern = ? AND broken = ''`, pattern)
}

// LastJobs lists the jobs of a vehicle, newest first, as states.
func (s *Store) LastJobs(ctx context.Context, vehicle string, most int) ([]*job.State, error) {
	if err := s.settle(ctx); err != nil {
		return nil, err
	}
	ids, err := s.strings(ctx, `SELECT id FROM job WHERE vehicle = ? AND broken = '' ORDER BY started DESC LIMIT ?`,
		vehicle, most)
	if err != nil {
		return nil, err
	}
	return s.jobs(ctx, ids)
}

// Taken lists what was measured last on a vehicle, oldest first, no more than most.
func (s *Store) Taken(ctx context.Context, vehicle string, most int) ([]job.Taken, error) {
	if err := s.settle(ctx); err != nil {
		return nil, err
	}
	rows, err := s.r.QueryContext(ctx, `SELECT m.km, m.body FROM job j JOIN measure m ON m.job = j.id
		WHERE j.vehicle = ? AND j.broken = '' ORDER BY j.started DESC, m.n DESC LIMIT ?`, vehicle, most)
	out, err := rowsOf(rows, err, func(scan scanner, t *job.Taken) error {
		var body string
		if err := scan(&t.KM, &body); err != nil {
			return err
		}
		return json.Unmarshal([]byte(body), &t.Measured)
	})
	slices.Reverse(out)
	return out, err
}

// LastRow is the newest job of a vehicle, as lists have it; ok is false where there is none.
func (s *Store) LastRow(ctx context.Context, vehicle string) (r listing.Job, ok bool, err error) {
	if err := s.settle(ctx); err != nil {
		return r, false, err
	}
	rows, err := s.JobsOf(ctx, vehicle, "", 1)
	if err != nil || len(rows) == 0 {
		return r, false, err
	}
	return rows[0], true, nil
}

// JobsWith lists the jobs some pull was made in with a tool, by its name, since a day, the last
// pulled in first, from the one numbered from 0 on.
func (s *Store) JobsWith(ctx context.Context, tool string, since time.Time, from, most int) ([]*job.State, error) {
	if err := s.settle(ctx); err != nil {
		return nil, err
	}
	ids, err := s.strings(ctx, `SELECT j.id FROM job_tool t JOIN job j ON j.id = t.job
		WHERE t.tool = ? AND t.last >= ? AND j.broken = '' ORDER BY t.last DESC, t.job LIMIT ? OFFSET ?`,
		tool, stamp(since), most, from)
	if err != nil {
		return nil, err
	}
	return s.jobs(ctx, ids)
}

// jobs reads jobs by their ids.
func (s *Store) jobs(ctx context.Context, ids []string) ([]*job.State, error) {
	var out []*job.State
	for _, id := range ids {
		st, err := s.Job(ctx, id)
		if err != nil {
			return nil, err
		}
		out = append(out, st)
	}
	return out, nil
}

// ToolPulls counts the pulls each tool has made in this shop, by its name; those of the
// last moment may be missing.
func (s *Store) ToolPulls(ctx context.Context) (map[string]int, error) {
	rows, err := s.r.QueryContext(ctx, `SELECT name, pulls FROM tool`)
	out := map[string]int{}
	err = eachRow(rows, err, func(scan scanner) error {
		var tool string
		var n int
		if err := scan(&tool, &n); err != nil {
			return err
		}
		out[tool] = n
		return nil
	})
	return out, err
}

// timed is how many step times say something of how the shop works now: some sixty
// jobs of fifty steps.
const timed = 3000

// StepTimes gathers how long steps took in the jobs signed last, in minutes, by
// owner.step.
func (s *Store) StepTimes(ctx context.Context) (map[string][]float64, error) {
	if err := s.settle(ctx); err != nil {
		return nil, err
	}
	rows, err := s.r.QueryContext(ctx, `SELECT step, minutes FROM step_time ORDER BY signed DESC, n LIMIT ?`, timed)
	out := map[string][]float64{}
	err = eachRow(rows, err, func(scan scanner) error {
		var step string
		var minutes float64
		if err := scan(&step, &minutes); err != nil {
			return err
		}
		out[step] = append(out[step], minutes)
		return nil
	})
	return out, err
}

// noDay stands in the place of a day where there is none: behind every day.
const noDay = "~"

func dueStamp(day time.Time) string {
	if day.IsZero() {
		return noDay
	}
	return stamp(day)
}

// FollowUps lists what is still owed after signatures, the soonest first, what has no day
// last; of one vehicle, or of all where none is named.
func (s *Store) FollowUps(ctx context.Context, vehicle string) ([]listing.FollowUp, error) {
	return s.DuesAfter(ctx, vehicle, "", -1)
}

// DueOf lists the first of what is still owed of a vehicle, the soonest first, what has no day
// last.
func (s *Store) DueOf(ctx context.Context, vehicle string, most int) ([]listing.FollowUp, error) {
	return s.DuesAfter(ctx, vehicle, "", most)
}

// DueBy lists the first of what is owed by a day, the soonest first: of a shop of many years
// it reads no more than it gives. What was recorded in the last moment may be missing.
func (s *Store) DueBy(ctx context.Context, day time.Time, most int) ([]listing.FollowUp, error) {
	return s.followUps(ctx, `due <= ? ORDER BY due, job, no LIMIT ?`, stamp(day), most)
}

// followUps reads what is still owed and fits.
func (s *Store) followUps(ctx context.Context, fits string, args ...any) ([]listing.FollowUp, error) {
	rows, err := s.r.QueryContext(ctx, `SELECT job, vehicle, no, kind, title, at_km, due,
			COALESCE((SELECT fleet FROM vehicle v WHERE v.id = vehicle), '')
		FROM follow_up WHERE closed = 0 AND `+fits, args...)
	var out []listing.FollowUp
	err = eachRow(rows, err, func(scan scanner) error {
		var f listing.FollowUp
		var due string
		if err := scan(&f.Job, &f.Vehicle, &f.No, &f.Kind, &f.Title, &f.AtKM, &due, &f.Fleet); err != nil {
			return err
		}
		if due != noDay {
			if f.At, err = time.Parse(time.RFC3339Nano, due); err != nil {
				return err
			}
		}
		out = append(out, f)
		return nil
	})
	return out, err
}
