package vehicle

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"
	"time"
	"unicode"

	"lugtak/core/fault"
	"lugtak/core/recipe"
	"lugtak/core/thread"
)

// Sheet is what a shop itself has learnt of a model. It may be nearly empty, and grows by work.
type Sheet struct {
	ID, Name string
	Outline  string            // kind of vehicle, a key of Outlines
	Built    map[string]string // answers of builds
	By       string
	At       time.Time
}

// Outlines are vehicles in plan view as their kinds are mostly built, millimetres (common practice).
var Outlines = []Outline{
	{Kind: "car", Length: 4400, Width: 1800, Wheelbase: 2650, Overhang: 880},
	{Kind: "van", Length: 5300, Width: 2000, Wheelbase: 3200, Overhang: 950},
	{Kind: "pickup", Length: 5400, Width: 1950, Wheelbase: 3250, Overhang: 950},
	{Kind: "bus", Length: 6400, Width: 2100, Wheelbase: 3900, Overhang: 1050},
	{Kind: "truck", Length: 7000, Width: 2300, Wheelbase: 4200, Overhang: 1200},
}

// Bounds of what is typed in.
const (
	maxName   = 60
	maxSource = 150
	maxPage   = 40
	maxCount  = 24
)

// Check refuses a sheet nobody could find again. Its fault names the field.
func (s *Sheet) Check() error {
	s.Name = strings.TrimSpace(s.Name)
	switch {
	case s.Name == "":
		return fault.New(fault.Missing, "name", "The model has no name.", "Write what people call it.")
	case len([]rune(s.Name)) > maxName:
		return fault.New(fault.TooLong, "name", "That name is too long.", "Keep it under 60 characters.")
	case s.Outline != "" && s.outline() < 0:
		return fault.New(fault.BadChoice, "outline", "That is no outline of a vehicle.", "Touch one of those drawn.")
	}
	return nil
}

// Pattern is the sheet before anything was read for it. What can be done to it is the library's to say.
func (s Sheet) Pattern() Pattern {
	p := Pattern{ID: s.ID, Name: s.Name, Version: 1, Open: true, Traits: maps.Clone(s.Built), Spec: map[string]Spec{}}
	p.Outline = Outlines[max(0, s.outline())] // drawn as a car until somebody says
	return p
}

func (s Sheet) outline() int {
	return slices.IndexFunc(Outlines, func(o Outline) bool { return o.Kind == s.Outline })
}

// Reading is the figure of a joint as one person read it in one source.
type Reading struct {
	Sheet, Joint             string
	Recipe                   string
	Thread, Class, Treatment string
	Condition                Condition
	Renew                    bool
	Hardware, Drive, Socket  string
	Count                    int // of the joint's fasteners; 0 where it is not said
	Source, Page             string
	Note                     string // words that stood beside the figure
	Script                   bool   // a program brought it: it is a first reading, whoever else read it
	Hidden                   bool   // read without seeing what was read before
	Photo                    []byte // JPEG, of the page, as it is read; not kept in hand afterwards
	Act                      string // that tells of it in the shop's journal
	Pictured                 bool   // it came with a photograph
	By                       string
	At                       time.Time
}

// From is where it stands written.
func (r Reading) From() string {
	if r.Page == "" {
		return r.Source
	}
	return r.Source + ", " + r.Page
}

// Check refuses a reading nobody could hold a bolt against, and writes its figure in one form. Its
// fault names the field.
func (r *Reading) Check() error {
	r.Source, r.Page = strings.TrimSpace(r.Source), strings.TrimSpace(r.Page)
	r.Thread = strings.TrimSpace(r.Thread)
	r.Hardware, r.Socket = strings.TrimSpace(r.Hardware), strings.TrimSpace(r.Socket)
	read, err := recipe.Parse(r.Recipe)
	if err != nil {
		return err
	}
	r.Recipe = read.String()
	if len(read.Notes) > 0 { // what is written in one form has none any more
		r.Note = strings.Join(read.Notes, ", ")
	}
	switch {
	case r.Source == "":
		return fault.New(fault.Missing, "source", "It is not said where the figure stands.",
			"Name the maker's book or sheet, and its page.")
	case len([]rune(r.Source)) > maxSource || len([]rune(r.Page)) > maxPage:
		return fault.New(fault.TooLong, "source", "That source is too long.", "Name book and page in a few words.")
	case len([]rune(r.Hardware)) > maxSource || len([]rune(r.Socket)) > maxPage:
		return fault.New(fault.TooLong, "hardware", "That is too long.", "Name it in a few words.")
	case r.Count < 0 || r.Count > maxCount:
		return fault.New(fault.OutOfRange, "count", "No joint has so many fasteners.", "Count them: from 1 to 24.")
	case !slices.Contains([]Condition{"", AnyCondition, Hanging, OnGround, AtRideHeight}, r.Condition):
		return fault.New(fault.BadChoice, "condition", "That is not how a vehicle stands.", "Choose one of the list.")
	}
	if r.Treatment != "" {
		if _, err := thread.Friction(thread.Treatment(r.Treatment)); err != nil {
			return fault.In("treatment", err)
		}
	}
	return r.bears(read)
}

// bears refuses a figure no bolt of that thread and class can bear, where both are known.
func (r *Reading) bears(read recipe.Recipe) error {
	if r.Thread == "" {
		return knownClass(r.Class)
	}
	th, err := thread.Parse(r.Thread)
	if err != nil {
		return err
	}
	r.Thread = th.Name
	if r.Class == "" {
		return nil
	}
	cl, err := thread.ParseClass(r.Class, th)
	if err != nil {
		return err
	}
	f := recipe.Fastener{Thread: th, Class: cl, Treatment: thread.Treatment(r.Treatment)}
	if f.Treatment == "" {
		f.Treatment = thread.Treatment("dry")
	}
	warns, err := recipe.Check(read, f)
	for _, w := range warns {
		if w.Code == recipe.Impossible {
			return fault.New(fault.OutOfRange, "recipe", w.Message, "Read figure, unit and thread once more.")
		}
	}
	return err
}

// knownClass refuses a number on a head that no bolt has, of whatever thread it is.
func knownClass(class string) error {
	if class == "" {
		return nil
	}
	var refused error
	for _, of := range []string{"M10", "3/8-16"} {
		th, err := thread.Parse(of)
		if err == nil {
			_, err = thread.ParseClass(class, th)
		}
		if err == nil {
			return nil
		}
		if refused == nil {
			refused = err
		}
	}
	return refused
}

// sameFigure says that two recipes are one figure: the same stages with the same figures or, in another
// unit, within what rounding does to them.
func sameFigure(a, b string) bool {
	x, err1 := recipe.Parse(a)
	y, err2 := recipe.Parse(b)
	if err1 != nil || err2 != nil || len(x.Stages) != len(y.Stages) {
		return false
	}
	for i, s := range x.Stages {
		t := y.Stages[i]
		if s.Kind != t.Kind || s.Full != t.Full || s.Left != t.Left || s.PlusDrag != t.PlusDrag {
			return false
		}
		if s.Unit == t.Unit && (s.A != t.A || s.B != t.B || s.C != t.C || s.Form != t.Form) {
			return false
		}
		if math.Abs(s.Target()-t.Target()) > unitRounding*max(s.Target(), t.Target()) {
			return false
		}
	}
	return true
}

// unitRounding is what writing a figure in another unit, and rounding it, does to it at most: a half in
// 20 (common practice, from memory).
const unitRounding = 0.025

// ReadAgain is how long somebody who is alone in the shop leaves a figure alone before they read it once more
// (common practice).
const ReadAgain = 30 * time.Minute

// Standing is what the readings of a joint come to.
type Standing struct {
	Reading          // the figure; its recipe is empty where nobody read one, or where readings differ
	Readers []string // who read it so; one person who read it twice stands there twice
	Differs []Figure // where readings differ, each with who read it
}

// Counted are the readings of a joint that count, oldest first: of each reader the last, and of one who read it again
// without seeing the first both.
func Counted(readings []Reading) []Reading {
	var last []Reading
	for _, r := range readings {
		mine := func(o Reading) bool { return o.By == r.By && (!r.Hidden || o.Hidden) }
		last = append(slices.DeleteFunc(last, mine), r)
	}
	slices.SortStableFunc(last, func(a, b Reading) int { return a.At.Compare(b.At) })
	return last
}

// Stand is what readings of a joint come to.
func Stand(readings []Reading) Standing {
	var st Standing
	for _, r := range Counted(readings) {
		if st.Reading.Recipe != "" && !sameFigure(st.Reading.Recipe, r.Recipe) {
			st.Differs = append(st.Differs, Figure{Recipe: r.Recipe, Source: r.From(), By: r.By})
			continue
		}
		if !r.Script || len(st.Readers) == 0 {
			st.Readers = append(st.Readers, r.By)
		}
		st.take(r)
	}
	if len(st.Differs) > 0 {
		first := Figure{Recipe: st.Reading.Recipe, Source: st.From(), By: strings.Join(st.Readers, ", ")}
		st.Differs = append([]Figure{first}, st.Differs...)
		st.Reading.Recipe = ""
		st.Readers = nil
	}
	return st
}

// take adds what a reading says beside the figure.
func (s *Standing) take(r Reading) {
	if s.Reading.Recipe == "" {
		s.Reading = r
		return
	}
	s.Thread = cmp.Or(s.Thread, r.Thread)
	s.Class = cmp.Or(s.Class, r.Class)
	s.Treatment = cmp.Or(s.Treatment, r.Treatment)
	s.Condition = cmp.Or(s.Condition, r.Condition)
	s.Renew = s.Renew || r.Renew
	s.Hardware = cmp.Or(s.Hardware, r.Hardware)
	s.Drive = cmp.Or(s.Drive, r.Drive)
	s.Socket = cmp.Or(s.Socket, r.Socket)
	s.Count = cmp.Or(s.Count, r.Count)
	s.Note = cmp.Or(s.Note, r.Note)
}

// Stands puts what was read of a joint over what its spec says.
func (s Spec) Stands(st Standing) Spec {
	s.Recipe, s.Readers, s.Differs = st.Recipe, st.Readers, st.Differs
	s.Stages, s.ByBolt = nil, false
	s.Source = ""
	if st.Recipe != "" {
		s.Source = st.From()
	}
	s.Thread = cmp.Or(st.Thread, s.Thread)
	s.Class = cmp.Or(st.Class, s.Class)
	s.Treatment = cmp.Or(st.Treatment, s.Treatment)
	s.Condition = cmp.Or(st.Condition, s.Condition)
	s.Renew = s.Renew || st.Renew
	s.Hardware = cmp.Or(st.Hardware, s.Hardware)
	s.Drive = cmp.Or(st.Drive, s.Drive)
	s.Socket = cmp.Or(st.Socket, s.Socket)
	s.Count = cmp.Or(st.Count, s.Count)
	s.Note = st.Note
	return s
}

// Seen is what somebody saw of a joint on a vehicle of the sheet.
type Seen struct {
	Sheet, Joint          string
	Absent                bool // it has none
	Count                 int
	Thread, Drive, Socket string
	Title, Beside         string // of one that the library does not name: see More
	Spot                  *Place // of such a one; nil where nobody touched it in the picture
	Act                   string // that tells of it in the shop's journal
	By, Second            string
	At                    time.Time
}

// Place is where something sits in the picture of a corner, in its own units, as its left side is drawn.
type Place [2]float64

// The ways a vehicle is otherwise than its sheet at a joint.
const (
	NotThere   = "absent"
	ThereAfter = "there" // after all: somebody had said it is not
	OtherCount = "count"
	OtherHead  = "thread"
	OneMore    = "more"
)

// As keeps of what was typed for a joint what belongs to one of the ways it is otherwise. Its fault names the field.
func (x Seen) As(way string) (Seen, error) {
	switch way {
	case NotThere:
		return Seen{Joint: x.Joint, Absent: true}, nil
	case ThereAfter:
		return Seen{Joint: x.Joint}, nil
	case OtherCount:
		if x.Count == 0 {
			return x, fault.New(fault.Missing, "count", "It is not said how many.", "Count them: from 1 to 24.")
		}
	case OtherHead:
		if strings.TrimSpace(x.Thread+x.Drive+x.Socket) == "" {
			return x, fault.New(fault.Missing, "thread", "It is not said what is otherwise.", "Write the thread, or the socket.")
		}
	case OneMore:
		return Seen{Joint: x.Joint, Beside: x.Joint, Title: x.Title, Count: max(1, x.Count), Spot: x.Spot}, nil
	default:
		return x, fault.New(fault.BadChoice, "what", "It is not said what is otherwise.", "Choose one of those shown.")
	}
	x.Title, x.Spot = "", nil
	return x, nil
}

// Says it in the words of a plan that follows, of a joint of that title.
func (x Seen) Says(title string) string {
	says := "otherwise on this vehicle: " + title
	switch {
	case x.Beside != "":
		says = "one more on this vehicle: " + x.Title
	case x.Absent:
		says = "not on this vehicle: " + title
	case x.Count > 0:
		says = fmt.Sprintf("%d on this vehicle: %s", x.Count, title)
	case x.Thread+x.Drive+x.Socket == "":
		says = "on this vehicle after all: " + title
	}
	if x.Second != "" {
		says += ", with " + x.Second
	}
	return says
}

// More is a joint that a sheet has besides those the library names: it comes off and goes on with another one.
type More struct {
	Joint, Beside string // keys of the sheet
	Title         string
	Spot          *Place // nil where nobody touched it in the picture
}

// moreMark parts the key of such a joint into the one beside it and its letter.
const moreMark = "-more-"

// MaxMore is how many such joints a sheet has at most.
const MaxMore = 20

// MoreKey is the key of one beside a joint, from 0.
func MoreKey(beside string, n int) string { return beside + moreMark + string(rune('a'+n)) }

// BesideOf is the joint that one of those lies beside; ok is false for any other.
func BesideOf(key string) (beside string, ok bool) {
	beside, _, ok = strings.Cut(key, moreMark)
	return beside, ok
}

// ownMark begins the last part of the key of a joint that free work named: suspension.rear.own_shackle_bolt.
const ownMark = "own_"

// OwnKey is the last part of the key of a joint that somebody named: the same for names that differ in case, spaces
// or signs alone; empty for one of signs alone.
func OwnKey(title string) string {
	words := strings.FieldsFunc(strings.ToLower(title), func(r rune) bool {
		return !unicode.IsLetter(r) && !unicode.IsDigit(r)
	})
	if len(words) == 0 {
		return ""
	}
	return ownMark + strings.Join(words, "_")
}

// OwnTitle is what a joint of a sheet is called that free work named, and what it belongs to; ok is false for any
// other.
func OwnTitle(key string) (title, system string, ok bool) {
	parts := strings.SplitN(key, ".", 3)
	if len(parts) != 3 || !strings.HasPrefix(parts[2], ownMark) {
		return "", "", false
	}
	return strings.ReplaceAll(strings.TrimPrefix(parts[2], ownMark), "_", " "), parts[0], true
}

// IsOwn says that free work named a joint of a sheet.
func IsOwn(key string) bool { _, _, ok := OwnTitle(key); return ok }

// Check refuses what cannot be so of a joint.
func (x *Seen) Check() error {
	x.Thread, x.Socket = strings.TrimSpace(x.Thread), strings.TrimSpace(x.Socket)
	x.Title = strings.TrimSpace(x.Title)
	switch {
	case x.Beside != "" && x.Title == "":
		return fault.New(fault.Missing, "title", "It is not said what it is called.", "Write it in a few words.")
	case len([]rune(x.Title)) > maxName:
		return fault.New(fault.TooLong, "title", "That name is too long.", "Keep it under 60 characters.")
	case x.Count < 0 || x.Count > maxCount:
		return fault.New(fault.OutOfRange, "count", "No joint has so many fasteners.", "Count them: from 1 to 24.")
	case len([]rune(x.Socket)) > maxPage:
		return fault.New(fault.TooLong, "socket", "That is too long.", "Name it in a few words.")
	case x.Drive != "" && !slices.Contains(Heads, x.Drive):
		return fault.New(fault.BadChoice, "drive", "That is no head of a fastener.", "Choose one of the list.")
	case x.Thread == "":
		return nil
	}
	th, err := thread.Parse(x.Thread)
	x.Thread = th.Name
	return err
}

// Learnt lays over the pattern what was read and seen of its joints, oldest first.
func (p Pattern) Learnt(readings []Reading, seen []Seen) Pattern {
	if len(readings)+len(seen) == 0 {
		return p
	}
	p.Spec = maps.Clone(p.Spec)
	p.Version += len(readings) + len(seen)
	of := map[string][]Reading{}
	for _, r := range readings {
		of[r.Joint] = append(of[r.Joint], r)
	}
	for joint, rs := range of {
		p.Spec[joint] = p.Spec[joint].Stands(Stand(rs))
	}
	p.Absent = maps.Clone(p.Absent)
	for _, x := range seen {
		if p.Absent == nil {
			p.Absent = map[string]bool{}
		}
		p.Absent[x.Joint] = x.Absent
		if x.Beside != "" {
			p.More = append(slices.Clip(p.More), More{Joint: x.Joint, Beside: x.Beside, Title: x.Title, Spot: x.Spot})
		}
		s := p.Spec[x.Joint]
		s.Count = cmp.Or(x.Count, s.Count)
		s.Thread = cmp.Or(x.Thread, s.Thread)
		s.Drive = cmp.Or(x.Drive, s.Drive)
		s.Socket = cmp.Or(x.Socket, s.Socket)
		p.Spec[x.Joint] = s
	}
	return p
}

// Unread says that nobody has read a figure for the joint yet, or that readings differ.
func (s Spec) Unread() bool { return s.Recipe == "" }

// From says where the figure stands and, where it was read in this shop, by whom; empty where nobody named a source.
func (s Spec) From() string {
	if len(s.Readers) == 0 || s.Source == "" {
		return s.Source
	}
	by := slices.Compact(slices.Clone(s.Readers))
	says := s.Source + ", read by " + strings.Join(by, " and ")
	if len(by) < len(s.Readers) {
		says += " twice"
	}
	return says
}
