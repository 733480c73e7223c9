package bench

import (
	"cmp"
	"fmt"
	"lugtak/core/operation"
	"strings"
)

// handle is fasteners that are cracked, removed or started.
type handle struct {
	Left    []string // still to do
	NewOnes bool     // new hardware goes in, confirmed piece by piece
	New     string   // what the new one is
}

// handling fills in which fasteners are still to do.
func (v *View) handling() {
	st, step, j := v.Job, v.Step, v.Joint
	h := &handle{Left: st.LeftAt(step, j)}
	if step.Verb == operation.Start && v.Letter != "" && !v.Kept {
		h.NewOnes = st.AsksNew(j, st.Fastener(j.ID, v.Letter))
		h.New = cmp.Or(j.Hardware, strings.TrimSpace(j.Thread+" "+j.Class))
		v.One = v.One || h.NewOnes
		if !v.One {
			h.Left = st.Together(step, j)
		}
	}
	v.Handle = h
}

// LeftSays is which fasteners are still to do, and how one is kept alone.
func (v *View) LeftSays() string {
	h := v.Handle
	switch {
	case h == nil || len(h.Left) == 0 || len(v.Joint.Letters) < 2:
		return ""
	case v.One && !h.NewOnes:
		return "Only " + v.Letter + " is kept with this key."
	case h.NewOnes && len(h.Left) > 1:
		return "Still to do: " + strings.Join(h.Left, ", ") + ". One at a time: each new one is confirmed by who holds it."
	}
	return "Still to do: " + strings.Join(h.Left, ", ") + ". Touch one in the picture to keep it alone."
}

// HandleWords is what the key says that cracks, removes or starts fasteners.
func (v *View) HandleWords() string {
	one := v.One || len(v.Handle.Left) == 1
	all := fmt.Sprintf("All %d", len(v.Handle.Left))
	tray := ""
	if v.Joint.Tray != "" {
		tray = ", tray " + v.Joint.Tray
	}
	switch v.Step.Verb {
	case operation.Crack:
		if one {
			return "Loose"
		}
		return all + " loose"
	case operation.Remove:
		if one {
			return "Out" + tray
		}
		return all + " out" + tray
	}
	if v.Handle.NewOnes && len(v.Joint.Letters) > 1 {
		return v.Letter + " started by hand"
	}
	if one {
		return "Started by hand"
	}
	return all + " started by hand"
}
