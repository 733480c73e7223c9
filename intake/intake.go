// Package intake reads lists that come from elsewhere, shows what they would do, and says line
// by line what is wrong with them. What was read is taken whole or not at all.
package intake

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/csv"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"
	"unicode/utf8"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/record"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
	"lugtak/core/wrench"
	"lugtak/shop"
)

// Kind is what a list holds.
type Kind string

// The kinds of list.
const (
	Vehicles Kind = "vehicles"
	People   Kind = "people"
	Figures  Kind = "figures"
	Job      Kind = "job"
	Sheet    Kind = "sheet"
	Tools    Kind = "tools"
	Sockets  Kind = record.StockSockets
	Adapters Kind = record.StockAdapters
	Prices   Kind = record.StockPrices
)

// Columns are those each list may have; the first so many of required must be there.
var columns = map[Kind]struct {
	required int
	names    []string
}{
	Vehicles: {2, []string{"fleet", "pattern", "plate", "vin", "bay"}},
	People:   {3, []string{"name", "role", "pin"}},
	Figures:  {5, []string{"pattern", "joint", "recipe", "source", "why"}},
	Tools:    {6, []string{"name", "kind", "max_nm", "step_nm", "drive", "length_mm", "serial"}},
	Sockets:  {1, []string{"socket", "drive", "kind"}},
	Adapters: {2, []string{"name", "length_mm", "angle_deg", "flex_deg_per_nm"}},
	Prices:   {2, []string{"part", "price"}},
}

// examples are two lines of each list, under its header: what a shop's own list may look like.
var examples = map[Kind]string{
	Vehicles: "fleet,pattern,plate,vin,bay\nB-12,%s,TQ 9012,,bay 2\nB-13,%s,TQ 9013,,yard",
	People:   "name,role,pin\nTechnician Dun,technician,804127\nForeman Ela,foreman,519283",
	Figures:  "pattern,joint,recipe,source,why\n%s,suspension.front.linkbar,50 Nm,maker’s book p. 12,misread before",
	Tools: "name,kind,max_nm,step_nm,drive,length_mm,serial\nLong,click,340,2,1/2,560,A 7\n" +
		"Traced,torque-angle,250,0.1,1/2,600,B 1",
	Sockets:  "socket,drive,kind\n18 mm,1/2,\n14 mm,1/2,twelve-point",
	Adapters: "name,length_mm,angle_deg\ncrow’s foot,50,\nsquare foot,50,90",
	Prices:   "part,price\nhub-unit,148.50\ntie-rod-end,32",
}

// Example is a list of that kind as one may write it, of a sheet the shop has; empty of what is no list of lines.
func Example(k Kind, pattern string) string {
	return strings.ReplaceAll(examples[k], "%s", pattern)
}

// Columns names the columns of a list, those that must be there first.
func Columns(k Kind) (required, others []string) {
	c := columns[k]
	return c.names[:c.required], c.names[c.required:]
}

// Bounds of a list.
const (
	MaxList = 1 << 20 // bytes
	maxRows = 5000
)

// Fault is what is wrong with one line.
type Fault struct {
	Line int // of the file, from 1
	*fault.Fault
}

// Row is a line as it was read.
type Row struct {
	Line  int
	Cells []string
}

// Preview is a list as it was read, with what it would do.
type Preview struct {
	Kind    Kind
	Columns []string
	Rows    []Row
	Faults  []Fault // a hundred of them at most
	Faulty  int     // how many there are
	Digest  string  // SHA-256 of the file

	Vehicles []vehicle.Vehicle
	People   []shop.NewPerson
	Figures  []vehicle.Correction
	Tools    []wrench.Tool
	Stock    record.StockKept
	ByTwo    bool // a figure of it is read by two people
	Job      *JobRead
	Sheet    *SheetRead
	file     *shop.SheetFile
}

// SheetRead is a sheet file that holds.
type SheetRead struct {
	Name, Shop string
	Key        string // fingerprint of the key that signed it
	Trusted    string // the shop of that key, by its chain; empty where nobody has named it
	Begins     bool   // no such model is here: it begins with the file
	Figures    []string
}

// JobRead is a job file that holds.
type JobRead struct {
	ID, Fleet, Title string
	Events           int
	Hash, Key        string // fingerprint of the key that signed its end
	Signed           bool
	Here             bool // it is in the shop already
}

// OK says that nothing is wrong with it.
func (p *Preview) OK() bool { return len(p.Faults) == 0 }

// Shop is what a list is held against.
type Shop struct {
	*shop.Shop
	By string
}

// Read reads a list. Its error is one of the shop; what is wrong with the list is in its faults.
func (s Shop) Read(ctx context.Context, k Kind, text []byte) (*Preview, error) {
	sum := sha256.Sum256(text)
	p := &Preview{Kind: k, Digest: hex.EncodeToString(sum[:])}
	if k == Job {
		return p, s.job(ctx, p, text)
	}
	if k == Sheet {
		return p, s.sheet(ctx, p, text)
	}
	if _, known := columns[k]; !known {
		p.fault(0, fault.New(fault.BadChoice, "kind", "There is no list of that kind.", "Choose one of the list."))
		return p, nil
	}
	if !p.table(text) {
		return p, nil
	}
	var err error
	switch k {
	case Vehicles:
		err = s.vehicles(ctx, p)
	case People:
		err = s.people(ctx, p)
	case Tools:
		err = s.tools(ctx, p)
	case Sockets, Adapters, Prices:
		s.stock(p)
	default:
		err = s.figures(ctx, p)
	}
	p.sort()
	return p, err
}

// mostFaults is how many are told: whoever has mended these sends the list again.
const mostFaults = 100

// mostColumns is more than any list has.
const mostColumns = 100

func (p *Preview) fault(line int, err error) {
	f := fault.As(err)
	if f == nil {
		f = fault.New(fault.BadFile, "", "It cannot be read: "+err.Error()+".", "Look at that line.")
	}
	if p.Faulty++; p.Faulty <= mostFaults {
		p.Faults = append(p.Faults, Fault{line, f})
	}
}

// table reads CSV (RFC 4180) with a header, parted by commas, semicolons or tabs. Its cells
// are put in the order of the kind's columns. It is false where no row can be told apart; a row that does not fit the
// header is a fault of its own.
func (p *Preview) table(text []byte) bool {
	text = bytes.TrimPrefix(text, []byte("\ufeff"))
	switch {
	case len(text) > MaxList:
		p.fault(0, fault.New(fault.TooLong, "file", "The list is larger than 1 MB.", "Part it."))
		return false
	case !utf8.Valid(text) || bytes.ContainsRune(text, 0):
		p.fault(0, fault.New(fault.BadFile, "file", "The list is no text in UTF-8.", "Save it as CSV in UTF-8."))
		return false
	}
	r := csv.NewReader(bytes.NewReader(text))
	r.Comma = parted(text)
	r.TrimLeadingSpace = true
	r.FieldsPerRecord = -1 // a row is held against the header below
	header, err := r.Read()
	if err != nil {
		p.fault(1, fault.New(fault.BadFile, "file", "The list has no header.", "Name the columns on its first line."))
		return false
	}
	if len(header) > mostColumns {
		p.fault(1, fault.New(fault.TooLong, "file", fmt.Sprintf("The header names %d columns.", len(header)),
			"Known are "+strings.Join(columns[p.Kind].names, ", ")+"."))
		return false
	}
	place := p.places(header)
	if !p.OK() {
		return false
	}
	for {
		cells, err := r.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		var bad *csv.ParseError
		if errors.As(err, &bad) {
			p.fault(bad.Line, fault.New(fault.BadFile, "", "This line cannot be read: "+bad.Err.Error()+".",
				"Close what is quoted."))
			return false // where the next begins nobody knows
		}
		if err != nil {
			p.fault(0, err)
			return false
		}
		line, _ := r.FieldPos(0)
		for len(cells) > len(header) && strings.TrimSpace(cells[len(cells)-1]) == "" {
			cells = cells[:len(cells)-1] // as a spreadsheet leaves them
		}
		if len(cells) != len(header) {
			p.fault(line, fault.New(fault.BadFile, "", fmt.Sprintf("This line has %d cells, the header %d.", len(cells),
				len(header)), "Give it as many; a cell that holds what parts them stands in quotes."))
			continue
		}
		row := Row{Line: line, Cells: make([]string, len(p.Columns))}
		for i, at := range place {
			if at >= 0 {
				row.Cells[i] = strings.TrimSpace(cells[at])
			}
		}
		if p.Rows = append(p.Rows, row); len(p.Rows) > maxRows {
			p.fault(line, fault.New(fault.TooLong, "file", fmt.Sprintf("The list has more than %d rows.", maxRows), "Part it."))
			return false
		}
	}
	if p.OK() && len(p.Rows) == 0 {
		p.fault(1, fault.New(fault.BadFile, "file", "The list has a header and no rows.", "Write a row for each."))
	}
	return len(p.Rows) > 0
}

// places finds each column of the kind in a header; -1 where it is not there.
func (p *Preview) places(header []string) []int {
	c := columns[p.Kind]
	p.Columns = c.names
	place := make([]int, len(c.names))
	for i := range place {
		place[i] = -1
	}
	for at, name := range header {
		name = strings.ToLower(strings.TrimSpace(name))
		i := slices.Index(c.names, name)
		switch {
		case i < 0:
			p.fault(1, fault.New(fault.UnknownField, name, "There is no column “"+name+"” in a list of "+string(p.Kind)+".",
				"Known are "+strings.Join(c.names, ", ")+"."))
		case place[i] >= 0:
			p.fault(1, fault.New(fault.Exists, name, "The column “"+name+"” is there twice.", "Leave one out."))
		default:
			place[i] = at
		}
	}
	for i, name := range c.names[:c.required] {
		if place[i] < 0 {
			p.fault(1, fault.New(fault.Missing, name, "The column “"+name+"” is missing.", "Add it to the header."))
		}
	}
	return place
}

// parted is what parts the cells: what the header has most of.
func parted(text []byte) rune {
	header, _, _ := bytes.Cut(text, []byte("\n"))
	best, most := ',', 0
	for _, c := range ",;\t" {
		if n := bytes.Count(header, []byte(string(c))); n > most {
			best, most = c, n
		}
	}
	return best
}

func (s Shop) vehicles(ctx context.Context, p *Preview) error {
	models, err := s.Models(ctx)
	if err != nil {
		return err
	}
	for _, r := range p.Rows {
		v := vehicle.Vehicle{Fleet: r.Cells[0], Pattern: r.Cells[1], Plate: r.Cells[2], VIN: r.Cells[3], Bay: r.Cells[4]}
		i := slices.IndexFunc(models, func(m vehicle.Pattern) bool {
			return m.ID == v.Pattern || unit.Fold(m.Name) == unit.Fold(v.Pattern)
		})
		if i < 0 {
			p.fault(r.Line, fault.New(fault.BadChoice, "pattern", "There is no pattern “"+v.Pattern+"” on the Shelf.",
				"Take the id or the name of one that is there, or have the first of its vehicles come in."))
		} else {
			v.Pattern, v.Name = models[i].ID, models[i].Name
		}
		p.Vehicles = append(p.Vehicles, v)
	}
	checked, err := s.Shop.CheckVehicles(ctx, p.Vehicles)
	for i, c := range checked {
		if c.Fault != nil {
			p.fault(p.Rows[i].Line, c.Fault)
		}
	}
	return err
}

func (s Shop) people(ctx context.Context, p *Preview) error {
	for _, r := range p.Rows {
		p.People = append(
			p.People,
			shop.NewPerson{Name: r.Cells[0], Role: job.Role(strings.ToLower(r.Cells[1])), PIN: r.Cells[2]},
		)
		r.Cells[2] = strings.Repeat("•", min(len(r.Cells[2]), 12)) // what is shown gives no PIN away
	}
	checked, err := s.Shop.CheckPeople(ctx, p.People)
	for i, c := range checked {
		if c.Fault != nil {
			p.fault(p.Rows[i].Line, c.Fault)
		}
	}
	return err
}

// figures reads corrected figures, each held against the sheet as those before it leave it.
func (s Shop) figures(ctx context.Context, p *Preview) error {
	sheets := map[string]vehicle.Pattern{}
	for _, r := range p.Rows {
		c := vehicle.Correction{
			Pattern: r.Cells[0],
			Joint:   r.Cells[1],
			Recipe:  r.Cells[2],
			Source:  r.Cells[3],
			Why:     r.Cells[4],
			By:      s.By,
		}
		sheet, ok := sheets[c.Pattern]
		if !ok {
			var err error
			sheet, err = s.Pattern(ctx, c.Pattern)
			if err != nil {
				if fault.As(err) == nil {
					return err
				}
				p.fault(r.Line, err)
				continue
			}
		}
		p.ByTwo = p.ByTwo || s.Library().ByTwo(c.Joint)
		if err := sheet.Correct(&c); err != nil {
			p.fault(r.Line, err)
			continue
		}
		sheets[c.Pattern] = sheet.With([]vehicle.Correction{c})
		p.Figures = append(p.Figures, c)
	}
	return nil
}

func (s Shop) job(ctx context.Context, p *Preview, text []byte) error {
	f, st, err := shop.ReadJobFile(text)
	if fault.As(err) != nil {
		p.fault(0, err)
		return nil
	}
	if err != nil {
		return err
	}
	p.Job = &JobRead{
		ID:     f.Job,
		Fleet:  st.Vehicle.Fleet,
		Title:  st.Title(),
		Events: len(f.Events),
		Hash:   f.Hash(),
		Key:    f.Fingerprint(),
		Signed: st.Signature != nil,
	}
	have, err := s.Shop.Lines(ctx, f.Job)
	if errors.Is(err, shop.ErrNoJob) {
		return nil
	}
	if err != nil {
		return err
	}
	p.Job.Here = true
	if have[len(have)-1].Hash != p.Job.Hash {
		p.fault(
			0,
			fault.New(fault.Conflict, "file", "This job is here already and differs.", "Look at both before anything is done."),
		)
	}
	return nil
}

// sort puts faults in the order of their lines.
func (p *Preview) sort() {
	slices.SortStableFunc(p.Faults, func(a, b Fault) int { return a.Line - b.Line })
}

// Take takes what was read, all of it or nothing; text is the list itself. The id makes a repeat harmless.
// Added is false for a job that is here already.
func (s Shop) Take(
	ctx context.Context, id record.EventID, p *Preview, text []byte, src shop.Source,
) (added bool, err error) {
	switch p.Kind {
	case Vehicles:
		err = s.TakeVehicles(ctx, id, p.Vehicles, src, p.Digest)
	case People:
		err = s.TakePeople(ctx, id, p.People, src, p.Digest)
	case Figures:
		for i := range p.Figures {
			p.Figures[i].At = src.At
		}
		err = s.Correct(ctx, id, p.Figures)
	case Sheet:
		err = s.Shop.TakeSheet(ctx, id, p.file, src, "")
	case Tools:
		err = s.Shop.HangTools(ctx, id, p.Tools, src.By)
	case Sockets, Adapters, Prices:
		err = s.Shop.KeepStock(ctx, id, src.By, job.Foreman, p.Stock)
	default:
		_, added, err = s.Import(ctx, text, src)
		return added, err
	}
	return err == nil, err
}
