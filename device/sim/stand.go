package sim

import "lugtak/device"

// Stand plays pulls for the practice bay, at once.
type Stand struct{}

// Swing pulls a fastener as act says, and lets go.
func (Stand) Swing(on device.Fastener, act device.Act) []device.Reading {
	return begin(on, act).Play().Readings
}
