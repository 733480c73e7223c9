package practice

import (
	"slices"

	"lugtak/core/diagnose"
)

// surely is the chance from which the car answers yes: it has the fault plainly.
const surely = 0.5

// answer is what the car says to a sign or test, by its hidden fault.
func (r *Run) answer(key string) (e diagnose.Evidence, yes, ok bool) {
	i := slices.IndexFunc(r.know.Signs.Evidence, func(e diagnose.Evidence) bool { return e.Key == key })
	if i < 0 {
		return e, false, false
	}
	e = r.know.Signs.Evidence[i]
	side := map[byte]string{'L': "left", 'R': "right"}[r.Find.Corner[1]]
	yes = e.Speaks[r.Find.Suspect] >= surely
	if e.Side != "" { // of a pair that tells the side, the one that points there says yes
		yes = e.Speaks[r.Find.Suspect] > e.Leak && e.Side == side
	}
	a := diagnose.Answer{Key: key, Yes: yes}
	if e.Corner && yes {
		a.Corner = diagnose.Corner(r.Find.Corner)
	}
	r.Answers = append(r.Answers, a)
	return e, yes, true
}

// Asked is the question of a sign or test.
func (r *Run) Asked(key string) string {
	for _, e := range r.know.Signs.Evidence {
		if e.Key == key {
			return e.Ask
		}
	}
	return key
}

// Weigh is what the answers so far add up to.
func (r *Run) Weigh() (diagnose.Report, error) {
	return r.know.Signs.Weigh(r.Answers, diagnose.History{Said: r.Find.Complaint})
}

func (r *Run) search(a Act) error {
	switch a.Do {
	case Test:
		asked := func(x diagnose.Answer) bool { return x.Key == a.Choice }
		if slices.ContainsFunc(r.Answers, asked) {
			return refuse("choice", "That was tried.", "Try another.")
		}
		e, yes, ok := r.answer(a.Choice)
		if !ok {
			return refuse("choice", "That is no test.", "Choose one that is laid out.")
		}
		r.Minutes += e.Minutes
		r.Said = e.Ask + map[bool]string{true: " Yes.", false: " No."}[yes]
		if yes && e.Corner {
			r.Said += " " + r.Find.Corner + "."
		}
		return nil
	case Name:
		known := func(s diagnose.Suspect) bool { return s.Key == a.Choice }
		if !slices.ContainsFunc(r.know.Signs.Suspects, known) {
			return refuse("choice", "That is no suspect.", "Choose one that is laid out.")
		}
		r.Named = a.Choice
		r.Ended = true
		if a.Choice != r.Find.Suspect {
			r.miss(r.happens(WrongSuspect), r.nameOf(a.Choice)+" in place of the "+r.worn())
		}
		return nil
	}
	return refuse("act", "On a walk-round one looks and names.", "Try a test, or name what is worn.")
}

// worn is what is hidden, in words.
func (r *Run) worn() string { return r.nameOf(r.Find.Suspect) + ", " + r.Find.Corner }

func (r *Run) nameOf(suspect string) string {
	for _, s := range r.know.Signs.Suspects {
		if s.Key == suspect {
			return s.Name
		}
	}
	return suspect
}
