package bench

import (
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/record"
	"lugtak/draw"
	"lugtak/library"
	"lugtak/pages/kit"
	"strconv"
)

// drive is a road test.
type drive struct {
	Manoeuvres []manoeuvre
}

// manoeuvre is one of a road test, with what was said of it.
type manoeuvre struct {
	operation.Manoeuvre
	No          int
	Found, Note string // as typed, or as recorded
	Was         string // what was wrong on the drive that failed
}

// feltWord is an answer to a manoeuvre, as one says it.
type feltWord struct{ Key, Word string }

var feltWords = []feltWord{
	{job.FeltSound, "Sound"},
	{job.FeltWatch, "Watch"},
	{job.FeltWrong, "Wrong"},
	{job.FeltLeftOut, "Not driven"},
}

// Word is what was found, as one says it.
func (m manoeuvre) Word() string {
	for _, w := range feltWords {
		if w.Key == m.Found {
			return w.Word
		}
	}
	return ""
}

// Words are what is said most of what was felt, or of what was done about it: a touch each, beside any others.
func (m manoeuvre) Words() []string {
	if m.Was != "" {
		return []string{"tightened again", "renewed", "clipped again", "balanced", "cleaned"}
	}
	return []string{"knocks", "rattles", "hums", "grinds", "shakes", "pulls", "binds"}
}

// manoeuvres are those of the drive, with what is typed or was said of each.
func manoeuvres(st *job.State, typed map[string]string) []manoeuvre {
	var said []record.Felt
	if n := len(st.Trials); n > 0 && st.Failed() == nil {
		said = st.Trials[n-1].Felt
	}
	var out []manoeuvre
	for i, m := range st.Manoeuvres() {
		no := strconv.Itoa(i)
		x := manoeuvre{
			Manoeuvre: m,
			No:        i,
			Found:     typed["found-"+no],
			Note:      typed["note-"+no],
			Was:       st.WasWrong(m.Do),
		}
		for _, f := range said {
			if f.Do == m.Do {
				x.Found, x.Note = f.Found, f.Note
			}
		}
		out = append(out, x)
	}
	return out
}

// bedding puts the heat of a series of stops in the picture's place, where the series is part
// of the drive and it is known what the heat goes into.
func (v *View) bedding(lib *library.Library) {
	if v.Drive == nil {
		return
	}
	p, known := lib.Pattern(v.Job.Vehicle.Pattern)
	fresh := v.Job.NewPads()
	if !known || len(fresh) == 0 {
		return
	}
	for _, m := range v.Drive.Manoeuvres {
		if m.Stops == 0 {
			continue
		}
		series := p.Brakes.Bedding(fresh[0], m.Stops, m.FromKMH, m.ToKMH, m.IntervalS)
		if picture := draw.Bedding(series); picture != "" {
			v.Picture, v.Corner = picture, false
			v.Title = "Bedding the " + fresh[0] + " discs, as reckoned"
		}
	}
}

// brief is the card that driver and passenger take along.
type brief struct {
	Job        *job.State
	Owed       int
	Step       operation.StepID // the road test, where it can be answered now
	Manoeuvres []manoeuvre
}

// Brief is the road test on a card: read before it rolls, written on by the passenger.
func Brief(st *job.State) kit.Page {
	b := brief{Job: st, Owed: len(st.Owed()), Manoeuvres: manoeuvres(st, nil)}
	if step := st.ToDrive(); step != nil {
		b.Step = step.ID
	}
	return pages.Page("brief", "Road test", b)
}

// Felt is what was said of each manoeuvre in a form.
func Felt(st *job.State, typed map[string]string) (out []record.Felt) {
	for _, m := range manoeuvres(st, typed) {
		if m.Found != "" {
			out = append(out, record.Felt{Do: m.Do, Found: m.Found, Note: m.Note})
		}
	}
	return out
}
