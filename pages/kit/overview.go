package kit

import (
	"html/template"
	"maps"
	"math"
	"slices"
	"strings"

	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
	"lugtak/draw"
	"lugtak/library"
	"lugtak/solid"
)

// under is the place of what is at no corner.
const under = "under"

// Seat is a fastener that an overview is to show: of a joint of the sheet the k-th, or where it was touched.
type Seat struct {
	Joint string
	K     int
	Spot  *operation.Point
	draw.Seated
}

// besideBy is how far one more fastener is shown from the one it lies beside where nobody touched its place, px.
const besideBy = 60

// Overview is the picture of a place of a vehicle that is built so, with the fasteners that have a seat there;
// empty where the library has no such picture.
func Overview(l *library.Library, place string, built solid.Answers, left, turns bool, all []Seat) template.HTML {
	built = maps.Clone(built)
	built["axle"] = place
	s := l.Scenes.Overview(place, built)
	if s == nil || l.Pictures == nil {
		return ""
	}
	picture, places, err := l.Pictures.Overview(s, left)
	if err != nil {
		return ""
	}
	sits := map[string]map[int]solid.Seat{}
	for _, x := range places.Seats {
		joint := strings.ReplaceAll(x.Of, "{axle}", place)
		if sits[joint] == nil {
			sits[joint] = map[int]solid.Seat{}
		}
		sits[joint][x.K] = x
	}
	var shown []draw.Seated
	for _, x := range all {
		at, ok := seatOf(sits, x.Joint, x.K)
		x.X, x.Y = at.X, at.Y
		if x.Spot != nil {
			ok = true
			x.X, x.Y = x.Spot[0], x.Spot[1]
			if !left && place != under {
				x.X = across(x.X)
			}
		}
		if ok {
			shown = append(shown, x.Seated)
		}
	}
	return draw.Overview(picture, s.Says, shown, turns)
}

// seatOf is where the k-th fastener of a joint is shown: at its own seat; beside one of that joint where the vehicle
// has more than the picture; beside the joint it lies next to where it has no seat at all.
func seatOf(sits map[string]map[int]solid.Seat, joint string, k int) (at solid.Seat, ok bool) {
	if at, ok = sits[joint][k]; ok {
		return at, true
	}
	if n := len(sits[joint]); n > 0 {
		at, ok = sits[joint][k%n]
	} else if beside, more := vehicle.BesideOf(joint); more {
		at, ok = sits[beside][0]
	}
	at.X += besideBy
	return at, ok
}

// across is where a place of a corner's picture lies in that of the other side: both have one pane from outside
// and one from inboard.
func across(x float64) float64 {
	pane := math.Min(math.Floor(x/(solid.Width/2)), 1) * solid.Width / 2
	return pane + solid.Width/2 - (x - pane)
}

// Corner is the overview of the corner a step is at, with every fastener of its task, the chosen one ringed, and
// what the picture is of.
func Corner(
	l *library.Library, st *job.State, step *plan.Step, chosen string, turns bool,
	link func(letter string) template.HTMLAttr,
) (picture template.HTML, title string) {
	if len(st.Plan.Scenes) == 0 || step == nil {
		return "", ""
	}
	at := st.Plan.Scenes[min(step.Scene, len(st.Plan.Scenes)-1)]
	place, title := under, "under the vehicle"
	if at.Corner != "" {
		place, title = at.Corner.Axle(), at.Corner.Axle()+" "+at.Corner.Side()
	}
	var all []Seat
	for i := range st.Plan.Joints {
		j := &st.Plan.Joints[i]
		if !slices.Contains(at.Joints, j.ID) {
			continue
		}
		here := step.Joint == j.ID
		for k, l := range j.Letters {
			f := st.Fastener(j.ID, l)
			x := Seat{Joint: j.Sheet, K: k, Spot: j.Spot, Seated: draw.Seated{
				Sign: draw.Sign{Drive: j.Drive, Mark: f.Sign()},
				Name: unit.Capital(j.One) + " " + l + ": " + f.Sign().Words(),
				Here: here && l == chosen, Faint: !here && f.Sign() == job.Rest,
			}}
			if here && link != nil {
				x.Link = link(l)
			}
			all = append(all, x)
		}
	}
	left := at.Corner != "" && at.Corner.Left()
	return Overview(l, place, builtAt(l, st.Plan, step), left, turns, all), unit.Capital(title)
}

// Where is the vehicle seen small, with the wheel of a corner told from the others, or its middle.
func Where(l *library.Library, c vehicle.Corner) template.HTML {
	place := under
	if c != "" {
		place = c.Axle()
	}
	s := l.Scenes.Where(place)
	if s == nil || l.Pictures == nil {
		return ""
	}
	picture, _, err := l.Pictures.Over(s, c != "" && c.Left())
	if err != nil {
		return ""
	}
	return draw.Thumb(picture, "where")
}

// Touches is the picture of a place of a vehicle that is built so, by its name, and where in its first pane each
// operation is touched; empty where there is none.
func Touches(l *library.Library, place string, built solid.Answers, left bool) (picture string, at []solid.Seat) {
	built = maps.Clone(built)
	built["axle"] = place
	s := l.Scenes.Overview(place, built)
	if s == nil || l.Pictures == nil {
		return "", nil
	}
	picture, places, err := l.Pictures.Overview(s, left)
	if err != nil {
		return "", nil
	}
	return picture, places.Touches
}
