package solid

import (
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"
)

// Scene is one picture, of the act of its key: which corner of a vehicle, what is in hand, how it is moved,
// which tool sits where, from where one looks, and what is marked. It is written for the right side; the left is
// its mirror, tools and the sense of a thread excepted.
type Scene struct {
	Key    string   `yaml:"key"`
	Says   string   `yaml:"says"`   // the picture in a sentence, for who cannot see it
	Steps  []string `yaml:"steps"`  // of the act whose key it has, these only; none: all
	Corner string   `yaml:"corner"` // of the album
	Hand   []string `yaml:"hand"`   // in hand

	When  map[string][]string `yaml:"when"`  // how the vehicle is built, and at which axle; none: however it is
	Plain []string            `yaml:"plain"` // drawn full; a star behind a name stands for all that begin so
	Ghost []string            `yaml:"ghost"` // where given, only these are thin; else all the rest of the corner
	Gone  []string            `yaml:"gone"`
	Moves []Move              `yaml:"move"`
	Uses  []Use               `yaml:"use"`
	Cuts  []Plane             `yaml:"cut"`
	CutOf []string            `yaml:"cutof"` // what is cut; none: all

	From  []float64 `yaml:"from"` // azimuth and elevation; none: chosen by what is seen of what is in hand
	Fit   []string  `yaml:"fit"`  // what fills the picture; none: all that is not thin
	Zoom  float64   `yaml:"zoom"`
	Shift []float64 `yaml:"shift"` // px right and down

	Marks   []Sign   `yaml:"marks"`
	Labels  []Label  `yaml:"labels"`
	Own     bool     `yaml:"-"` // the shop's
	Parts   []string `yaml:"-"` // of its corner, where that was composed of how a vehicle is built
	Lenses  []Lens   `yaml:"lens"`
	Panes   []Scene  `yaml:"panes"`  // side by side: before and after, good and bad; what one does not say is the scene's
	Sign    string   `yaml:"sign"`   // good or bad, of a pane
	Scaled  string   `yaml:"scaled"` // the field by which an old part is drawn longer or shorter than the new one
	ToScale bool     `yaml:"-"`      // all panes at one scale
	Where   string   `yaml:"where"`  // on the car: front, rear or under

	// the fasteners of a joint, in the order of their letters: the key is the joint's specification
	Bolts []string `yaml:"bolts"`
	Tool  string   `yaml:"tool"` // that tightens them
	Bar   string   `yaml:"bar"`  // that breaks them loose
	Near  bool     `yaml:"near"` // the one in hand fills the picture, where they lie far apart

	Overview bool `yaml:"overview"` // it shows where joints sit, and what is ordered
}

// Move shifts parts, or turns them about an axis through a frame.
type Move struct {
	What  []string `yaml:"what"`
	Along Vec      `yaml:"along"`
	MM    float64  `yaml:"mm"`
	Turn  float64  `yaml:"turn"` // degrees
	At    string   `yaml:"at"`
	To    string   `yaml:"-"` // and longer by Scale from At to there
	Scale float64  `yaml:"-"`
	Out   bool     `yaml:"out"` // of its hole: along the axis of the frame, by half its length
}

// Use brings a tool, a hand or a part to a frame of a part.
type Use struct {
	Is   string  `yaml:"is"`
	As   string  `yaml:"as"` // its name in the scene, where one is used twice
	On   string  `yaml:"on"`
	Off  Vec     `yaml:"off"`
	Up   Vec     `yaml:"up"`
	Turn float64 `yaml:"turn"` // degrees about the frame's axis
	Role string  `yaml:"role"`

	left  bool // on the left
	Aside bool `yaml:"aside"` // turned about the frame's axis until most is seen
}

// name is a use's in the scene.
func (u Use) name() string {
	if u.As != "" {
		return u.As
	}
	return u.Is
}

// Sign is one sign of what is done: an arrow, a turn, a pull at a grip, a blow, a cross, a dimension.
type Sign struct {
	Arrow string  `yaml:"arrow"` // from a frame, along its axis
	Turn  string  `yaml:"turn"`  // about the axis of a fastener
	Pull  string  `yaml:"pull"`  // at a grip, in the sense that turns what it is about
	About string  `yaml:"about"`
	Sense string  `yaml:"sense"` // tighten or loosen, of a right-hand thread; left behind it: of a left-hand one
	Blow  string  `yaml:"blow"`
	Never string  `yaml:"never"`
	Bare  bool    `yaml:"bare"` // a blow without its arrow
	Along Vec     `yaml:"along"`
	Off   Vec     `yaml:"off"`
	From  float64 `yaml:"from"` // mm before it begins
	Len   float64 `yaml:"len"`
	R     float64 `yaml:"r"`
	Round bool    `yaml:"round"` // a turn just outside the fastener
	A     string  `yaml:"a"`     // a dimension between two frames
	B     string  `yaml:"b"`
	Out   Vec     `yaml:"out"` // where its line is drawn, mm off the part
	Says  string  `yaml:"says"`
	Field string  `yaml:"field"` // of what is measured of a part, which a dimension shows
}

// Label is a few words about a frame; a stroke parts its lines.
type Label struct {
	At   string `yaml:"at"`
	Says string `yaml:"says"`
	Bad  bool   `yaml:"bad"`
	Off  Vec    `yaml:"off"`
	Side string `yaml:"side"` // left, right, up or down of it only
}

// Lens shows a frame larger, in a circle.
type Lens struct {
	At    string    `yaml:"at"`
	Zoom  float64   `yaml:"zoom"`
	R     float64   `yaml:"r"` // px
	From  []float64 `yaml:"from"`
	Place []float64 `yaml:"place"` // its middle in the picture, px; none: where there is room
	Bare  bool      `yaml:"bare"`  // without tools and hands
	Sign  string    `yaml:"sign"`
}

// Album is all scenes, and how the corners of vehicles are put together: of each place the parts of one build,
// by itself or by what is answered to a question, or to several with a blank between: composed by corner, place,
// question and answer.
type Album struct {
	Builds   map[string]map[string][]string                     `yaml:"builds"`
	Corners  map[string]map[string]string                       `yaml:"corners"`
	Composed map[string]map[string]map[string]map[string]string `yaml:"composed"`
	// where a joint's fasteners sit: frames, by its specification
	Seats map[string][]string `yaml:"seats"`
	// where an operation is ordered: a frame, by its key
	Touch  map[string]string `yaml:"-"`
	Scenes []Scene           `yaml:"-"` // each of a file of its own room

	Own    map[string]*Part `yaml:"-"` // the owner's solids beside those that ship, by name
	OwnSum string           `yaml:"-"` // of their files
}

// Solids are all there are, by name.
func (a *Album) Solids() (map[string]*Part, error) {
	parts, err := Parts()
	if err != nil || len(a.Own) == 0 {
		return parts, err
	}
	all := maps.Clone(parts)
	maps.Copy(all, a.Own)
	return all, nil
}

// Try sets a scene up on a vehicle it is of, and says what is missing for it.
func (a *Album) Try(s *Scene) error {
	on, ok := a.Any(s)
	if !ok {
		return errors.New("no vehicle has what it names")
	}
	parts, err := a.Solids()
	if err != nil {
		return err
	}
	for _, scene := range on.All() {
		pic, err := drawAt(1, scene, parts, a, false)
		if err != nil {
			return err
		}
		if len(pic.Lacks) > 0 {
			return errors.New(strings.Join(pic.Lacks, "; "))
		}
	}
	return nil
}

// parts of a scene's corner.
func (a *Album) parts(s *Scene) ([]string, error) {
	if s.Parts != nil {
		return s.Parts, nil
	}
	if _, ok := a.Corners[s.Corner]; !ok {
		return nil, fmt.Errorf("there is no corner %q", s.Corner)
	}
	return a.compose(s.Corner, nil), nil
}

// named says that a name is one of these.
func named(list []string, name string) bool {
	return slices.ContainsFunc(list, func(p string) bool {
		stem, all := strings.CutSuffix(p, "*")
		return p == name || all && strings.HasPrefix(name, stem)
	})
}

// panes are the pictures a scene shows side by side: one where it parts none.
func (s Scene) panes() []Scene {
	if len(s.Panes) == 0 {
		return []Scene{s}
	}
	var out []Scene
	for _, p := range s.Panes {
		out = append(out, s.pane(p))
	}
	return out
}

// pane is the scene with what a pane of it says laid over.
func (s Scene) pane(p Scene) Scene {
	out := s
	out.Panes, out.Where = nil, ""
	set := func(to *[]string, from []string) {
		if from != nil {
			*to = from
		}
	}
	set(&out.Hand, p.Hand)
	set(&out.Plain, p.Plain)
	set(&out.Ghost, p.Ghost)
	set(&out.Gone, p.Gone)
	set(&out.CutOf, p.CutOf)
	set(&out.Fit, p.Fit)
	if p.Moves != nil {
		out.Moves = p.Moves
	}
	if p.Uses != nil {
		out.Uses = p.Uses
	}
	if p.Cuts != nil {
		out.Cuts = p.Cuts
	}
	if p.From != nil {
		out.From = p.From
	}
	if p.Shift != nil {
		out.Shift = p.Shift
	}
	if p.Zoom != 0 {
		out.Zoom = p.Zoom
	}
	if p.Corner != "" {
		out.Corner = p.Corner
	}
	out.Marks, out.Labels, out.Lenses, out.Sign = p.Marks, p.Labels, p.Lenses, p.Sign
	return out
}

// mirrored is the scene of the other side.
func (s Scene) mirrored() Scene {
	if len(s.From) == 2 {
		s.From = []float64{180 - s.From[0], s.From[1]}
	}
	if len(s.Shift) == 2 {
		s.Shift = []float64{-s.Shift[0], s.Shift[1]}
	}
	s.Moves, s.Uses, s.Marks = slices.Clone(s.Moves), slices.Clone(s.Uses), slices.Clone(s.Marks)
	s.Labels, s.Cuts, s.Lenses, s.Panes = slices.Clone(s.Labels), slices.Clone(s.Cuts), slices.Clone(s.Lenses),
		slices.Clone(s.Panes)
	for i := range s.Moves {
		s.Moves[i].Along, s.Moves[i].Turn = s.Moves[i].Along.mirrored(), -s.Moves[i].Turn
	}
	for i := range s.Uses {
		u := &s.Uses[i]
		u.Up, u.left = u.Up.mirrored(), true
		if u.On == "" {
			u.Off = u.Off.mirrored()
		}
	}
	for i := range s.Marks {
		m := &s.Marks[i]
		m.Along, m.Off, m.Out = m.Along.mirrored(), m.Off.mirrored(), m.Out.mirrored()
	}
	for i := range s.Labels {
		l := &s.Labels[i]
		l.Off = l.Off.mirrored()
		switch l.Side {
		case "left":
			l.Side = "right"
		case "right":
			l.Side = "left"
		}
	}
	for i := range s.Cuts {
		s.Cuts[i] = Plane{s.Cuts[i].Normal.mirrored(), s.Cuts[i].At.mirrored()}
	}
	for i := range s.Lenses {
		l := &s.Lenses[i]
		if len(l.Place) == 2 {
			l.Place = []float64{Width - l.Place[0], l.Place[1]}
		}
		if len(l.From) == 2 {
			l.From = []float64{180 - l.From[0], l.From[1]}
		}
	}
	for i := range s.Panes {
		s.Panes[i] = s.Panes[i].mirrored()
	}
	return s
}
