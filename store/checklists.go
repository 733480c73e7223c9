package store

import (
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"maps"
	"slices"

	"lugtak/core/job"
	"lugtak/core/vehicle"
)

// What pages read is compared with what the journals say, row by row.

// searchList is what jobs are found by; its rows lie in a table of words.
var searchList = list{"search s JOIN search_job j ON j.id = s.rowid", "j.job, s.body"}

// sum adds up rows without their order: each counts by its SHA-256.
type sum [sha256.Size]byte

func (s *sum) add(l list, values []any) error {
	plain := slices.Clone(values)
	for i, v := range plain {
		if is, ok := v.(bool); ok { // a truth is a number in the file
			plain[i] = 0
			if is {
				plain[i] = 1
			}
		}
	}
	text, err := json.Marshal([]any{l.name, plain})
	if err != nil {
		return err
	}
	h := sha256.Sum256(text)
	for i := range s {
		s[i] ^= h[i]
	}
	return nil
}

// wantedSum is what the rows of a job add up to by its journal.
func wantedSum(st *job.State) (s sum, err error) {
	rows, err := listsOf(st)
	if err != nil {
		return s, err
	}
	for _, r := range append(rows, listed{searchList, []any{st.ID, words(st)}}) {
		if err := s.add(r.list, r.values); err != nil {
			return s, err
		}
	}
	return s, nil
}

// listed adds up the rows of every job as they stand in the lists.
func (c *checker) listed() (map[string]*sum, error) {
	out := map[string]*sum{}
	for _, l := range append(slices.Clip(lists), searchList) {
		rows, err := c.r.QueryContext(c.ctx, `SELECT `+l.columns+` FROM `+l.name)
		if err != nil {
			return nil, err
		}
		defer rows.Close()
		columns, err := rows.Columns()
		if err != nil {
			return nil, err
		}
		values := make([]any, len(columns))
		into := make([]any, len(columns))
		for i := range values {
			into[i] = &values[i]
		}
		for rows.Next() {
			if err := rows.Scan(into...); err != nil {
				return nil, err
			}
			id := fmt.Sprint(values[0])
			if out[id] == nil {
				out[id] = &sum{}
			}
			if err := out[id].add(l, values); err != nil {
				return nil, err
			}
		}
		if err := rows.Err(); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// sums are lists that count over all jobs: each row must be what the rows of the jobs come to.
var sums = []struct{ says, query string }{
	{"the pulls of a tool are not those of the jobs",
		`SELECT coalesce(name, tool) FROM tool
			FULL JOIN (SELECT tool, SUM(pulls) AS n FROM job_tool GROUP BY tool) ON tool = name
		WHERE coalesce(pulls, 0) <> coalesce(n, 0) LIMIT 1`},
	{"how often a joint was stuck is not what the jobs say",
		`SELECT coalesce(p.sheet, w.sheet) FROM seized_past p FULL JOIN
			(SELECT sheet, COUNT(*) AS opened, SUM(stuck <> '') AS stuck FROM opened GROUP BY sheet) w ON w.sheet = p.sheet
		WHERE coalesce(p.opened, 0) <> coalesce(w.opened, 0) OR coalesce(p.stuck, 0) <> coalesce(w.stuck, 0) LIMIT 1`},
	{"what the tries to free something came to is not what the jobs say",
		`SELECT coalesce(p.kind, w.kind) FROM release_past p FULL JOIN
			(SELECT kind, rung, COUNT(*) AS tries, SUM(freed) AS freed, SUM(plain) AS plain,
				SUM(spread) AS spread FROM release_try GROUP BY kind, rung) w
			ON w.kind = p.kind AND w.rung = p.rung
		WHERE coalesce(p.tries, 0) <> coalesce(w.tries, 0) OR coalesce(p.freed, 0) <> coalesce(w.freed, 0)
			OR abs(coalesce(p.plain, 0) - coalesce(w.plain, 0)) > 1e-6
			OR abs(coalesce(p.spread, 0) - coalesce(w.spread, 0)) > 1e-6 LIMIT 1`},
}

// lists reads all that the journals of some jobs are compared with.
func (c *checker) lists(jobs []string) (is *listsAsTheyStand, err error) {
	is = &listsAsTheyStand{}
	if c.rep.Older { // they are made anew before anybody reads them
		is.behind = map[string]bool{}
		for _, id := range jobs {
			is.behind[id] = true
		}
		is.fleet, err = c.fleet()
		return is, err
	}
	if is.behind, err = c.behind(); err != nil {
		return nil, err
	}
	if is.sums, err = c.listed(); err != nil {
		return nil, err
	}
	for id := range is.sums {
		if _, known := slices.BinarySearch(jobs, id); !known {
			c.rep.fault("job %s is in the lists and not in the journal", id)
		}
	}
	if is.fleet, err = c.fleet(); err != nil {
		return nil, err
	}
	is.node = map[string]bool{}
	of, err := readStrings(c.ctx, c.r, `SELECT job FROM chain_job`)
	for _, id := range of {
		is.node[id] = true
	}
	return is, err
}

// fleet are the vehicles by their id.
func (c *checker) fleet() (map[string]vehicle.Vehicle, error) {
	rows, err := c.r.QueryContext(c.ctx, selectVehicle)
	all, err := scanVehicles(rows, err)
	if err != nil {
		return nil, err
	}
	out := make(map[string]vehicle.Vehicle, len(all))
	for _, v := range all {
		out[v.ID] = v
	}
	return out, nil
}

// anotherVehicle says that a vehicle is not the one a job was begun on. Where it stands is no mark of
// it; a node tells two of one number apart by what it puts behind the number.
func anotherVehicle(is, was vehicle.Vehicle, ofNode bool) bool {
	is.Bay = was.Bay
	if ofNode {
		is.Fleet = was.Fleet
	}
	return is != was
}

// actLists are the tables that follow from the acts of the shop, as rows of text.
func (c *checker) actLists() error {
	for _, x := range []struct {
		says, query string
		want        map[string]string
	}{
		{"the token of a tool", `SELECT tool, token FROM tool_token`, c.shop.toolTokens},
		{"the token of a script", `SELECT id, token || ' ' || name || ' ' || scope FROM script_token`, c.shop.scripts},
		{"a hook", `SELECT id, url || ' ' || kinds FROM webhook`, c.shop.hooks},
	} {
		is, err := c.pairs(x.query)
		if err != nil {
			return err
		}
		if !maps.Equal(is, x.want) {
			c.rep.fault("%s is not what the acts of the shop say", x.says)
		}
	}
	secrets, err := c.pairs(`SELECT id, secret FROM webhook`)
	for id, secret := range secrets {
		if was := c.shop.hookSecrets[id]; was != "" && was != digest(secret) { // acts of before hold none
			c.rep.fault("the secret of a hook is not what the acts of the shop say")
		}
	}
	return err
}

// pairs reads rows of two texts, by the first.
func (c *checker) pairs(query string) (map[string]string, error) {
	rows, err := c.r.QueryContext(c.ctx, query)
	out := map[string]string{}
	err = eachRow(rows, err, func(scan scanner) error {
		var id, text string
		if err := scan(&id, &text); err != nil {
			return err
		}
		out[id] = text
		return nil
	})
	return out, err
}
