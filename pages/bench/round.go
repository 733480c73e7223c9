package bench

// counted are small numbers in words.
var counted = []string{"none", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten"}

// RoundSays names what a round still lacks: all of the joint, or the rest of it.
func (p *pulled) RoundSays() string {
	n := len(p.Round)
	if n >= len(counted) {
		return "All"
	}
	if p.Rest {
		return "The other " + counted[n]
	}
	return "All " + counted[n]
}
