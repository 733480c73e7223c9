package record

import "strings"

// gradesOfOld are the words of the first release for how a pull is known.
var gradesOfOld = map[string]string{
	"trace":      "traced",
	"click":      "clicked",
	"hand":       "marked",
	"unmeasured": "not_measured",
}

func liftPulled(p Pulled) Pulled {
	p.Evidence = gradesOfOld[p.Evidence]
	return p
}

// troublesOfOld are the words the first release offered for a trouble, in which any
// other could be written too.
var troublesOfOld = []struct{ word, code string }{
	{"sheared", "sheared"},
	{"stuck", "stuck"},
	{"rounded", "rounded"},
	{"thread damaged", "thread_damaged"},
	{"wrong part", "wrong_part"},
	{"part missing", "part_missing"},
}

func liftTroubled(t Troubled) Troubled {
	t.Code = "other"
	said := strings.ToLower(t.What)
	for _, old := range troublesOfOld {
		if strings.Contains(said, old.word) {
			t.Code = old.code
			break
		}
	}
	return t
}
