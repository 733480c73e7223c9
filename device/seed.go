package device

import "hash/fnv"

// Seed makes a number of some words, so that a stand-in plays the same for the same fastener.
func Seed(parts ...string) uint64 {
	h := fnv.New64a()
	for _, p := range parts {
		h.Write([]byte(p))
	}
	return h.Sum64()
}

// Snugged is what a fastener stands at before its angle where no torque was recorded, N·m (common practice).
const Snugged = 20
