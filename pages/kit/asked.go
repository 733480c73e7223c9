package kit

import (
	"strings"

	"lugtak/core/job"
	"lugtak/core/plan"
	"lugtak/core/thread"
	"lugtak/core/vehicle"
)

// Asked is a joint whose figure somebody is to read.
type Asked struct {
	Joint  *plan.Joint
	Second bool            // by a second person, who does not see the first
	First  string          // who read it first
	Mine   bool            // whoever looks did
	Alone  bool            // nobody else works in the shop
	Last   vehicle.Reading // what was read last for this sheet: mostly the next figure stands beside it
	ByTwo  bool            // a life hangs on it

	Elsewhere []vehicle.Elsewhere // what other shops have read; nothing for a second reader
}

// AskedOf is what is asked of a joint, for whoever looks; nil where its figure is known as it should be.
func AskedOf(
	st *job.State, j *plan.Joint, person string, alone bool, last vehicle.Reading, elsewhere []vehicle.Elsewhere,
) *Asked {
	a := &Asked{Joint: j, Alone: alone, Last: last, ByTwo: st.Critical(j)}
	switch {
	case st.WantsReader(j):
		a.Second, a.First = true, j.Readers[0]
		a.Mine = a.First == person
	case !j.Unread() && len(j.Differs) == 0 && !j.ByBolt:
		return nil
	}
	for _, e := range elsewhere {
		if e.Joint == j.Sheet && !a.Second {
			a.Elsewhere = append(a.Elsewhere, e)
		}
	}
	return a
}

// Form names its fields: those of a first reader are others than those of a second, so that nothing one of them typed
// stands before the other.
func (a *Asked) Form() string {
	switch {
	case a.Second:
		return "second"
	case len(a.Joint.Differs) > 0:
		return "anew"
	}
	return "first"
}

// PadKey is one key of the pad a figure is typed on: what it writes, and what stands on it.
type PadKey struct{ Types, Says string }

// Pad is the keys, row by row: what a maker writes is made of these.
func Pad() []PadKey {
	var out []PadKey
	for _, row := range [][]PadKey{
		{{"1", "1"}, {"2", "2"}, {"3", "3"}, {" Nm", "N·m"}, {" + ", "+"}, {"°", "°"}},
		{{"4", "4"}, {"5", "5"}, {"6", "6"}, {" ft-lb", "ft·lb"}, {" + 1/4 turn", "¼ turn"}, {"; back off ", "back off"}},
		{{"7", "7"}, {"8", "8"}, {"9", "9"}, {"–", "to"}, {" ± ", "±"}, {" ×2", "×2"}},
		{{"0", "0"}, {".", "."}, {"⌫", "⌫"}, {"snug", "snug"}, {"; next slot", "next slot"}, {"; ", "then"}},
	} {
		out = append(out, row...)
	}
	return out
}

// Treatments are how threads are treated.
func Treatments() []thread.Treatment { return thread.Treatments() }

// Stances are how a vehicle may have to stand for a joint.
func Stances() []vehicle.Condition {
	return []vehicle.Condition{vehicle.AnyCondition, vehicle.Hanging, vehicle.OnGround, vehicle.AtRideHeight}
}

// Initial is the letter somebody's reading is signed with: of the last word of their name.
func Initial(name string) string {
	words := strings.Fields(name)
	if len(words) == 0 {
		return "?"
	}
	return strings.ToUpper(string([]rune(words[len(words)-1])[:1]))
}
