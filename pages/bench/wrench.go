package bench

import (
	"lugtak/core/claim"
	"lugtak/core/fault"
	"lugtak/core/unit"
	"lugtak/core/wrench"
	"lugtak/draw"
	"lugtak/pages/kit"
)

// Aim is what a claimed tool is on.
type Aim struct {
	claim.Claim
	Torque bool
	Target float64 // N·m or degrees
	Says   string
}

// Wrench is the page of a connected wrench.
type Wrench struct {
	Tool      wrench.Tool
	Aim       Aim
	Aimed     bool
	Mine      bool // the claim is of this very session
	Busy      bool
	Outcome   string
	Plays     []string
	Amount    string
	Fault     *fault.Fault
	Plot      draw.Plot
	Simulated bool
}

// window is the share of its target a pull is drawn within.
const window = 0.04

// Page draws the pull that is aimed at.
func (v Wrench) Page() kit.Page {
	if v.Aimed {
		t := v.Aim.Target
		v.Plot = draw.Trace(nil, nil, t*(1-window), t*(1+window), t, v.Aim.Torque)
	}
	return pages.Page("wrench", unit.Capital(v.Tool.Name), v)
}
