package store

import (
	"cmp"
	"context"
	"crypto/ed25519"
	"database/sql"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"lugtak/core/fault"
	"lugtak/core/listing"
	"lugtak/core/record"
	"lugtak/core/vehicle"
	"lugtak/core/wrench"
)

// shop is what the acts of the shop add up to. It is small, is read once at the start,
// and grows with each act.
type shop struct {
	n       int
	seen    map[string]record.Act
	tools   []wrench.Logged
	figures []vehicle.Correction

	figureActs []record.EventID // of the figures

	files   []File
	hung    []wrench.Tool
	imports map[string]listing.Import // by job
	trusted map[string]string         // shop by key
	own     map[string]bool           // keys this shop has had
	people  map[string]personSeal
	built   []Built
	outside []listing.Outside

	set        *record.ShopSet // nil where nobody has said
	stock      map[string]record.StockKept
	access     map[string][]vehicle.Access    // by sheet
	taken      map[string][]record.SheetTaken // by sheet, of each other shop the last
	sheets     []vehicle.Sheet
	readings   map[string]readings       // by sheet
	jointsSeen map[string][]vehicle.Seen // by sheet

	toolTokens  map[string]string // digest by tool
	scripts     map[string]string // digest, name and scope by id
	hooks       map[string]string // address and kinds by id
	hookSecrets map[string]string // digest by id
}

// Built is one answer to how a vehicle is built.
type Built struct {
	record.VehicleBuilt
	By string
	At time.Time
}

// personSeal is what is sealed of a person.
type personSeal struct {
	name, role, pin string
	active          bool
}

func newShop() *shop {
	return &shop{
		seen:    map[string]record.Act{},
		imports: map[string]listing.Import{},
		trusted: map[string]string{},
		own:     map[string]bool{},
		people:  map[string]personSeal{},

		readings:   map[string]readings{},
		jointsSeen: map[string][]vehicle.Seen{},
		stock:      map[string]record.StockKept{},
		access:     map[string][]vehicle.Access{},
		taken:      map[string][]record.SheetTaken{},

		toolTokens:  map[string]string{},
		scripts:     map[string]string{},
		hooks:       map[string]string{},
		hookSecrets: map[string]string{},
	}
}

// take adds one act. It fails on a body that cannot be read.
func (sh *shop) take(a record.Act) error {
	at, err := time.Parse(time.RFC3339Nano, a.At)
	if err != nil {
		return fmt.Errorf("act %d has no time", a.N)
	}
	read := actReaders[a.Kind]
	if read == nil {
		return fmt.Errorf("act %d is of unknown kind %q", a.N, a.Kind)
	}
	if err := read(sh, a, at); err != nil {
		return fmt.Errorf("act %d of kind %q: %w", a.N, a.Kind, err)
	}
	sh.n = a.N
	sh.seen[a.ID] = a
	return nil
}

// actReaders lists what each kind of act does to the shop.
var actReaders = map[string]func(*shop, record.Act, time.Time) error{
	record.ToolHung{}.ActKind(): reads(func(sh *shop, a record.Act, _ time.Time, b record.ToolHung) {
		t := wrench.Tool{
			ID:          b.Tool,
			Name:        b.Name,
			Kind:        b.Kind,
			MaxNm:       b.MaxNm,
			StepNm:      b.StepNm,
			Drive:       b.Drive,
			LengthMM:    b.LengthMM,
			Own:         true,
			Serial:      b.Serial,
			Certificate: b.Certificate,
			Act:         a.ID,
		}
		t.Calibrated, _ = time.Parse(time.DateOnly, b.Calibrated) // one that came with none names no day
		i := slices.IndexFunc(sh.hung, func(x wrench.Tool) bool { return x.ID == t.ID })
		if i < 0 {
			sh.hung = append(sh.hung, t)
			return
		}
		t.Act = sh.hung[i].Act // by which the picture came
		sh.hung[i] = t
	}),
	record.ToolLogged{}.ActKind(): reads(func(sh *shop, a record.Act, at time.Time, b record.ToolLogged) {
		l := wrench.Logged{
			Tool:        b.Tool,
			Kind:        b.Kind,
			At:          at,
			By:          a.By,
			Note:        b.Note,
			Pulls:       b.Pulls,
			Reference:   b.Reference,
			Certificate: b.Certificate,
			Second:      b.Second,
			Act:         a.ID,
			Photo:       len(b.Photo) > 0,
		}
		l.ReferenceUntil, _ = time.Parse(time.DateOnly, b.ReferenceUntil) // logs of before name none
		for _, p := range b.Points {
			l.Points = append(l.Points, wrench.CheckPoint(p))
		}
		sh.tools = append(sh.tools, l)
	}),
	record.FigureCorrected{}.ActKind(): reads(func(sh *shop, a record.Act, at time.Time, b record.FigureCorrected) {
		sh.figureActs = append(sh.figureActs, record.EventID(a.ID))
		sh.figures = append(sh.figures, vehicle.Correction{
			Pattern: b.Pattern,
			Joint:   b.Joint,
			Recipe:  b.Recipe,
			Source:  b.Source,
			Why:     b.Why,
			Second:  b.Second,
			Shop:    b.Shop,
			Variant: b.Variant,
			By:      a.By,
			At:      at,
		})
	}),
	record.StockKept{}.ActKind(): reads(func(sh *shop, _ record.Act, _ time.Time, b record.StockKept) {
		sh.stock[b.What] = b
	}),
	record.ShopSet{}.ActKind(): reads(func(sh *shop, _ record.Act, _ time.Time, b record.ShopSet) { sh.set = &b }),
	record.SheetBegun{}.ActKind(): reads(func(sh *shop, a record.Act, at time.Time, b record.SheetBegun) {
		sh.sheets = append(sh.sheets, vehicle.Sheet{
			ID:      b.Sheet,
			Name:    b.Name,
			Outline: b.Outline,
			Built:   b.Built,
			By:      a.By,
			At:      at,
		})
	}),
	record.FigureRead{}.ActKind(): reads(func(sh *shop, a record.Act, at time.Time, b record.FigureRead) {
		sh.readings[b.Sheet] = sh.readings[b.Sheet].with(vehicle.Reading{
			Sheet:     b.Sheet,
			Joint:     b.Joint,
			Recipe:    b.Recipe,
			Thread:    b.Thread,
			Class:     b.Class,
			Treatment: b.Treatment,
			Condition: vehicle.Condition(b.Condition),
			Renew:     b.Renew,
			Hardware:  b.Hardware,
			Drive:     b.Drive,
			Socket:    b.Socket,
			Count:     b.Count,
			Source:    b.Source,
			Page:      b.Page,
			Note:      b.Note,
			Hidden:    b.Hidden,
			Script:    b.Script,
			Act:       a.ID,
			Pictured:  len(b.Photo) > 0,
			By:        a.By,
			At:        at,
		}, record.EventID(a.ID))
	}),
	record.AccessKept{}.ActKind(): reads(func(sh *shop, a record.Act, at time.Time, b record.AccessKept) {
		sh.access[b.Sheet] = append(sh.access[b.Sheet], vehicle.Access{
			Sheet:     b.Sheet,
			Joint:     b.Joint,
			Socket:    b.Socket,
			Drive:     b.Drive,
			Extension: b.Extension,
			Blocked:   b.Blocked,
			By:        a.By,
			At:        at,
		})
	}),
	record.SheetSent{}.ActKind(): noted[record.SheetSent](),
	record.SheetTaken{}.ActKind(): reads(func(sh *shop, _ record.Act, _ time.Time, b record.SheetTaken) {
		before := func(x record.SheetTaken) bool { return x.Key == b.Key }
		sh.taken[b.Sheet] = append(slices.DeleteFunc(sh.taken[b.Sheet], before), b)
	}),
	record.JointSeen{}.ActKind(): reads(func(sh *shop, a record.Act, at time.Time, b record.JointSeen) {
		sh.jointsSeen[b.Sheet] = append(sh.jointsSeen[b.Sheet], vehicle.Seen{
			Sheet:  b.Sheet,
			Joint:  b.Joint,
			Absent: b.Absent,
			Count:  b.Count,
			Thread: b.Thread,
			Drive:  b.Drive,
			Socket: b.Socket,
			Title:  b.Title,
			Beside: b.Beside,
			Act:    a.ID,
			Second: b.Second,
			Spot:   (*vehicle.Place)(b.Spot),
			By:     a.By,
			At:     at,
		})
	}),
	record.FileShelved{}.ActKind(): reads(func(sh *shop, a record.Act, at time.Time, b record.FileShelved) {
		sh.files = append(sh.files, File{At: at, By: a.By, Second: b.Second, Kind: b.Kind, Text: b.Text})
	}),
	record.PersonAdded{}.ActKind(): reads(func(sh *shop, _ record.Act, _ time.Time, b record.PersonAdded) {
		sh.people[b.Person] = personSeal{name: b.Name, role: b.Role, pin: b.PIN, active: true}
	}),
	record.PINSet{}.ActKind(): reads(func(sh *shop, _ record.Act, _ time.Time, b record.PINSet) {
		p := sh.people[b.Person]
		p.pin = b.PIN
		sh.people[b.Person] = p
	}),
	record.PersonActive{}.ActKind(): reads(func(sh *shop, _ record.Act, _ time.Time, b record.PersonActive) {
		p := sh.people[b.Person]
		p.active = b.Active
		sh.people[b.Person] = p
	}),
	record.PersonRole{}.ActKind(): reads(func(sh *shop, _ record.Act, _ time.Time, b record.PersonRole) {
		p := sh.people[b.Person]
		p.role = b.Role
		sh.people[b.Person] = p
	}),
	record.JobImported{}.ActKind(): reads(func(sh *shop, a record.Act, at time.Time, b record.JobImported) {
		sh.imports[b.Job] = listing.Import{JobImported: b, By: a.By, At: at}
	}),
	record.KeyMade{}.ActKind(): reads(func(sh *shop, _ record.Act, _ time.Time, b record.KeyMade) {
		sh.trusted[b.Key] = "this shop"
		sh.own[b.Key] = true
	}),
	record.KeyTrusted{}.ActKind(): reads(func(sh *shop, _ record.Act, _ time.Time, b record.KeyTrusted) {
		if sh.trusted[b.Key] = b.Shop; b.Shop == "" {
			delete(sh.trusted, b.Key)
		}
	}),
	record.VehicleBuilt{}.ActKind(): reads(func(sh *shop, a record.Act, at time.Time, b record.VehicleBuilt) {
		sh.built = append(sh.built, Built{VehicleBuilt: b, By: a.By, At: at})
	}),
	record.WorkedElsewhere{}.ActKind(): reads(func(sh *shop, a record.Act, at time.Time, b record.WorkedElsewhere) {
		sh.outside = append(sh.outside, listing.Outside{WorkedElsewhere: b, By: a.By, At: at})
	}),
	record.ToolToken{}.ActKind(): reads(func(sh *shop, _ record.Act, _ time.Time, b record.ToolToken) {
		sh.toolTokens[b.Tool] = b.Token
	}),
	record.ScriptLetIn{}.ActKind(): reads(func(sh *shop, _ record.Act, _ time.Time, b record.ScriptLetIn) {
		sh.scripts[b.Script] = b.Token + " " + b.Name + " " + b.Scope
	}),
	record.ScriptKeptOut{}.ActKind(): reads(func(sh *shop, _ record.Act, _ time.Time, b record.ScriptKeptOut) {
		delete(sh.scripts, b.Script)
	}),
	record.HookMade{}.ActKind(): reads(func(sh *shop, _ record.Act, _ time.Time, b record.HookMade) {
		sh.hooks[b.Hook] = b.URL + " " + strings.Join(b.Kinds, ",")
		sh.hookSecrets[b.Hook] = b.Secret
	}),
	record.HookEnded{}.ActKind(): reads(func(sh *shop, _ record.Act, _ time.Time, b record.HookEnded) {
		delete(sh.hooks, b.Hook)
	}),
	record.Mended{}.ActKind():         noted[record.Mended](),
	record.SessionRevoked{}.ActKind(): noted[record.SessionRevoked](),
	record.Exported{}.ActKind():       noted[record.Exported](),
	record.FleetImported{}.ActKind():  noted[record.FleetImported](),
}

// noted is an act that is read back for who did it and when, and changes nothing else.
func noted[B record.ShopBody]() func(*shop, record.Act, time.Time) error {
	return reads(func(*shop, record.Act, time.Time, B) {})
}

func reads[B record.ShopBody](take func(*shop, record.Act, time.Time, B)) func(*shop, record.Act, time.Time) error {
	return func(sh *shop, a record.Act, at time.Time) error {
		var b B
		if err := json.Unmarshal(a.Body, &b); err != nil {
			return err
		}
		take(sh, a, at, b)
		return nil
	}
}

const selectActs = `SELECT n, id, at, by, kind, body, link FROM act WHERE n > ? ORDER BY n`

type rowsQuerier interface {
	QueryContext(context.Context, string, ...any) (*sql.Rows, error)
}

// readActs gives the acts behind one, oldest first.
func readActs(ctx context.Context, q rowsQuerier, after int) ([]record.Act, error) {
	rows, err := q.QueryContext(ctx, selectActs, after)
	return scanActs(rows, err)
}

func scanActs(rows *sql.Rows, err error) ([]record.Act, error) {
	return rowsOf(rows, err, func(scan scanner, a *record.Act) error {
		var body string
		err := scan(&a.N, &a.ID, &a.At, &a.By, &a.Kind, &body, &a.Link)
		a.Body = json.RawMessage(body)
		return err
	})
}

// known lets somebody read the shop as it stands, with what this or another process
// has done in it since.
func (s *Store) known(ctx context.Context, read func(*shop)) error {
	var n int
	if err := s.lastAct.QueryRowContext(ctx).Scan(&n); err != nil {
		return err
	}
	s.shopMu.Lock()
	defer s.shopMu.Unlock()
	if n != s.shop.n {
		acts, err := readActs(ctx, s.r, s.shop.n)
		if err != nil {
			return err
		}
		for _, a := range acts {
			if err := s.shop.take(a); err != nil {
				return err
			}
		}
	}
	read(s.shop)
	return nil
}

// Acts is how many acts the shop's own journal has.
func (s *Store) Acts(ctx context.Context) (n int, err error) {
	err = s.known(ctx, func(sh *shop) { n = sh.n })
	return n, err
}

// act records one act with whatever else belongs to it, rows and further acts, in one transaction. The same
// act under an id known already is harmless; another one under it is a conflict.
func (s *Store) act(
	ctx context.Context,
	id record.EventID,
	by string,
	at time.Time,
	body record.ShopBody,
	also func(*sql.Tx) error,
	with ...beside,
) error {
	s.mu.Lock()
	defer s.mu.Unlock()
	if repeat, err := s.actedBefore(ctx, id, by, body); err != nil || repeat {
		return err
	}
	return s.again(ctx, func() error {
		g := s.grow()
		if err := g.act(id, by, at, body); err != nil {
			return err
		}
		for _, x := range with {
			if err := g.act(x.id, by, at, x.body); err != nil {
				return err
			}
		}
		return s.write(ctx, g, also)
	})
}

// actedBefore says that this very act is in the journal; another one under its id is a conflict,
// and an id nobody could export is refused.
func (s *Store) actedBefore(ctx context.Context, id record.EventID, by string, body record.ShopBody) (bool, error) {
	if _, err := record.ParseEventID(string(id)); err != nil {
		return false, fault.New(fault.BadID, "id", "This has an id nobody could export: "+err.Error()+".",
			"Reload the page and try again; a program makes a UUID.")
	}
	var was record.Act
	var repeat bool
	if err := s.known(ctx, func(sh *shop) { was, repeat = sh.seen[string(id)] }); err != nil || !repeat {
		return false, err
	}
	return true, repeated(was, by, body)
}

// beside is an act that is recorded together with another, all or none.
type beside struct {
	id   record.EventID
	body record.ShopBody
}

// repeated answers an act whose id is known.
func repeated(was record.Act, by string, body record.ShopBody) error {
	text, err := json.Marshal(body)
	if err != nil {
		return err
	}
	if was.By == by && was.Kind == body.ActKind() && string(was.Body) == string(text) {
		return nil
	}
	return fault.New(fault.Conflict, "id",
		fmt.Sprintf("This id stands for act %d, “%s” by %s; what %s sends now is something else.",
			was.N, was.Kind, was.By, by),
		"Reload the page: what was recorded stands there. Then do again what is still to do.")
}

// Corrections lists the corrected figures of a pattern, oldest first.
func (s *Store) Corrections(ctx context.Context, pattern string) ([]vehicle.Correction, error) {
	var out []vehicle.Correction
	err := s.known(ctx, func(sh *shop) {
		for _, c := range sh.figures {
			if c.Pattern == pattern {
				out = append(out, c)
			}
		}
	})
	return out, err
}

// SetBuilt keeps how a vehicle turned out to be built.
func (s *Store) SetBuilt(ctx context.Context, id record.EventID, b Built) error {
	return s.act(ctx, id, b.By, b.At, b.VehicleBuilt, nil)
}

// AddOutside keeps what another shop did on a vehicle.
func (s *Store) AddOutside(ctx context.Context, id record.EventID, o listing.Outside) error {
	return s.act(ctx, id, o.By, o.At, o.WorkedElsewhere, nil)
}

// OutsideOf lists what other shops did on a vehicle, the newest work first.
func (s *Store) OutsideOf(ctx context.Context, vehicle string) ([]listing.Outside, error) {
	var out []listing.Outside
	err := s.known(ctx, func(sh *shop) {
		for _, o := range sh.outside {
			if o.Vehicle == vehicle {
				out = append(out, o)
			}
		}
	})
	slices.SortStableFunc(out, func(a, b listing.Outside) int { return cmp.Compare(b.Day, a.Day) })
	return out, err
}

// BuiltLike lists what was found of the vehicles of a pattern, oldest first: this very
// vehicle's answers are its own, the others' are offered to it.
func (s *Store) BuiltLike(ctx context.Context, pattern string) ([]Built, error) {
	var out []Built
	err := s.known(ctx, func(sh *shop) {
		for _, b := range sh.built {
			if b.Pattern == pattern {
				out = append(out, b)
			}
		}
	})
	return out, err
}

// File is a pattern or an operation the shop has put on the Shelf, as its file reads.
type File struct {
	At       time.Time
	By, Kind string
	Second   string // who read it too; nobody in a journal of old
	Text     string
}

// AddFile puts a file on the Shelf.
func (s *Store) AddFile(ctx context.Context, id record.EventID, f File) error {
	if f.Kind != "pattern" && f.Kind != "operation" {
		return fault.New(fault.BadChoice, "kind", "It is neither a pattern nor an operation.", "Say which it is.")
	}
	return s.act(ctx, id, f.By, f.At, record.FileShelved{Kind: f.Kind, Text: f.Text, Second: f.Second}, nil)
}

// Files lists the files on the Shelf, oldest first.
func (s *Store) Files(ctx context.Context) ([]File, error) {
	var files []File
	err := s.known(ctx, func(sh *shop) { files = slices.Clip(sh.files) })
	return files, err
}

// Trust names the shop whose key it is: from then on what it signs counts. A key that is none or this shop's own, and a
// name that another shop has, or that looks like it, are refused; saying it again changes nothing.
func (s *Store) Trust(ctx context.Context, key, name, by string, at time.Time) error {
	key, name = strings.TrimSpace(key), strings.Join(strings.Fields(name), " ")
	pub, err := base64.StdEncoding.DecodeString(key)
	switch {
	case err != nil || len(pub) != ed25519.PublicKeySize:
		return fault.New(fault.BadChoice, "key", "That is no key of a shop.",
			"Copy the whole key, as the page Shops of the chain or lugtak check shows it there.")
	case key == s.PublicKey():
		return fault.New(fault.BadChoice, "key", "That is the key of this shop itself.", "Enter the other shop's.")
	case name == "":
		return fault.New(fault.Missing, "shop", "The shop has no name.", "Say what it is called here.")
	}
	named, err := s.Named(ctx)
	if err != nil {
		return err
	}
	if named[key] == name {
		return nil
	}
	for k, other := range named {
		if k != key && SameName(other, name) {
			return fault.New(fault.Exists, "shop", fmt.Sprintf("Another shop is named %s.", other),
				"Tell the two apart by their names.")
		}
	}
	return s.trust(ctx, key, name, by, at)
}

// Distrust takes the name of another shop's key back: what it signs counts no more. What was taken stays.
func (s *Store) Distrust(ctx context.Context, key, by string, at time.Time) error {
	named, err := s.Named(ctx)
	if err != nil {
		return err
	}
	if named[key] == "" {
		return fault.New(fault.NotFound, "key", "No shop of that key is named here.", "Reload the page.")
	}
	return s.trust(ctx, key, "", by, at)
}

func (s *Store) trust(ctx context.Context, key, name, by string, at time.Time) error {
	id := record.EventID("trust:" + sha(key + name + stamp(at))[:32]) // a name may come back
	return s.act(ctx, id, by, at, record.KeyTrusted{Key: key, Shop: name}, nil)
}

// Origin says where a job came from; nil for one begun here.
func (s *Store) Origin(ctx context.Context, job string) (*listing.Import, error) {
	var origin *listing.Import
	err := s.known(ctx, func(sh *shop) {
		if i, ok := sh.imports[job]; ok {
			origin = &i
		}
	})
	return origin, err
}

// mend signs both journals as they end now, with a line that says who did it and why;
// for a new file there is nothing to explain.
func (s *Store) mend(ctx context.Context, by, why string) error {
	h, err := trueHead(ctx, s.w)
	if err != nil {
		return err
	}
	tx, err := s.w.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	defer tx.Rollback()
	bodies := []record.ShopBody{record.KeyMade{Key: public(s.key)}}
	if why != "" {
		bodies = append(bodies, record.Mended{Why: why, Events: h.events, Acts: h.acts})
	}
	g := growth{end: h}
	for _, b := range bodies {
		id := record.EventID(fmt.Sprintf("%s:%d", b.ActKind(), g.end.acts+1))
		if err := g.act(id, by, time.Now(), b); err != nil {
			return err
		}
	}
	for _, a := range g.acts {
		if err := insertAct(ctx, tx, a); err != nil {
			return err
		}
	}
	h = g.end
	if _, err := tx.ExecContext(ctx, `INSERT OR REPLACE INTO head VALUES (1,?,?,?,?,?,?)`,
		h.events, h.eventLink, h.acts, h.actLink, public(s.key), sign(s.key, h.text())); err != nil {
		return err
	}
	s.head = h
	return tx.Commit()
}

// Mend makes a file usable that was changed by another hand, with a new key where the
// old one is lost. That it was done stands in the shop's journal for ever.
func Mend(ctx context.Context, path, by, why string) error {
	s, err := openFile(ctx, path)
	if err != nil {
		return err
	}
	defer s.Close()
	if s.key, err = readKey(path); err != nil {
		return err
	}
	if s.key == nil {
		if s.key, err = makeKey(path); err != nil {
			return err
		}
	}
	if err := s.dropProjections(ctx); err != nil { // they may speak of what is gone
		return err
	}
	return s.mend(ctx, by, why)
}
