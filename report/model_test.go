package report_test

import (
	"bytes"
	"maps"
	"slices"
	"strings"
	"testing"
	"time"

	"lugtak/core/inspect"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/record"
	"lugtak/core/wrench"
	"lugtak/report"
)

// What may be driven is never said for more than the evidence bears out.
func TestVerdictFollowsTheEvidence(t *testing.T) {
	declined := finished(t)
	if r := report.New(source(declined)); r.Whole || r.Verdict != "Not safe as it leaves" {
		t.Errorf("with what was found unsafe and declined: %s", r.Verdict)
	}
	whole := *declined
	whole.Walk.Proposals = nil
	signed := &whole
	r := report.New(source(signed))
	if !r.Whole || r.Verdict != "May be driven" || !strings.Contains(r.Says, "14 were tightened to a known figure") {
		t.Errorf("%s: %s", r.Verdict, r.Says)
	}
	open := *signed
	open.Signature = nil
	if r := report.New(source(&open)); r.Whole || r.Verdict != "Must not be driven" || r.Gates != "Not signed." {
		t.Errorf("not signed: %s, %s", r.Verdict, r.Gates)
	}
	owes := *signed
	owes.Fasteners = maps.Clone(signed.Fasteners)
	for id, f := range owes.Fasteners {
		if f.Phase != job.Rest {
			loose := *f
			loose.Done, loose.Pulls = 0, nil
			owes.Fasteners[id] = &loose
			break
		}
	}
	if r := report.New(source(&owes)); !r.Barred || r.Verdict != "Must not be driven" ||
		!strings.Contains(r.Says, "1 still owed") {
		t.Errorf("one fastener has no figure: %s: %s", r.Verdict, r.Says)
	}
	broken := *signed
	broken.Broken = "event 9 does not match its seal"
	if r := report.New(source(&broken)); !r.Barred || r.Whole || r.Verdict != "Must not be driven" {
		t.Errorf("of a broken record: %s", r.Verdict)
	}
	passed := *signed
	passed.Deviations = []job.Deviation{
		{Deviated: record.Deviated{Gate: "drive", Reason: "ice", Second: "Foreman Cass"}, By: "Aro"},
	}
	r = report.New(source(&passed))
	if r.Whole || !strings.Contains(r.Verdict, "with what is signed for") {
		t.Errorf("with a deviation: %s", r.Verdict)
	}
	if d := r.Notes[0]; !strings.HasPrefix(d.Title, "D1 · Deviation: Road test") || !strings.Contains(d.Text, "ice") ||
		!strings.Contains(d.Text, "Foreman Cass") {
		t.Errorf("%+v", r.Notes)
	}
}

// What was declined says whether it is unsafe to leave, and a tool whether it was in date on the day it pulled.
func TestWhatIsUnsafeAndOverdueSaysSo(t *testing.T) {
	st := *finished(t)
	st.Walk.Proposals = []job.Proposal{
		{ProposalTaken: record.ProposalTaken{Name: "ball joint", Safety: true, Reason: "next month"}},
		{ProposalTaken: record.ProposalTaken{Name: "air filter", Reason: "next month"}},
	}
	r := report.New(source(&st))
	want := []string{"Ball joint (unsafe to leave): “next month”", "Air filter: “next month”"}
	if r.Verdict != "Not safe as it leaves" || !slices.Equal(r.Declined, want) {
		t.Errorf("%s, %q", r.Verdict, r.Declined)
	}
	st.Walk.Proposals = st.Walk.Proposals[1:]
	if r := report.New(source(&st)); !strings.HasPrefix(r.Verdict, "May be driven") {
		t.Errorf("what is safe to leave was declined: %s", r.Verdict)
	}
	var pulled string
	for _, p := range st.Pulls {
		if p.Counts() && p.Tool != "" {
			pulled = p.Tool
		}
	}
	for name, c := range map[string]struct {
		tool wrench.Tool
		want string
	}{
		"eleven months on":          {wrench.Tool{Calibrated: st.Last.AddDate(0, -11, 0)}, "in date"},
		"thirteen months on":        {wrench.Tool{Calibrated: st.Last.AddDate(0, -13, 0)}, "overdue that day"},
		"after five thousand pulls": {wrench.Tool{Calibrated: st.Last, Cycles: wrench.Recalibrate}, "overdue that day"},
		"dropped since":             {wrench.Tool{Calibrated: st.Last, Out: "dropped"}, "out of use: dropped"},
	} {
		with := source(&st)
		c.tool.Name = pulled
		with.Tools = []wrench.Tool{c.tool}
		i := slices.IndexFunc(report.New(with).Tools, func(l report.ToolLine) bool { return l.Name == pulled })
		if got := report.New(with).Tools[i].State; got != c.want {
			t.Errorf("calibrated, and pulled %s: %s, want %s", name, got, c.want)
		}
	}
}

// Who counts the fasteners of a job reads which joints were left out of it, and why it was planned anew.
func TestWhatWasLeftOutIsNamed(t *testing.T) {
	st := *finished(t)
	p := *st.Plan
	p.Without = []string{"rotor screw"}
	p.Free = &operation.Draft{Title: "Rear leaf spring"}
	st.Plan = &p
	st.Troubles = []job.Trouble{
		{What: "wrong part", Note: "It came too short.", By: "Aro"},
		{What: "sheared", By: "Aro", Said: []string{"the battery is off", "earth on the part"}},
	}
	st.Replans = []job.Replanning{{Why: "4 on this vehicle: wheel nuts, with Cass", By: "Aro"}}
	var all []string
	for _, n := range report.New(source(&st)).Notes {
		all = append(all, n.Title)
		if strings.Contains(n.Title, "sheared") && !strings.Contains(n.Text, "the battery is off, earth on the part") {
			t.Errorf("what was said before the weld is not told: %s", n.Text)
		}
		if strings.Contains(n.Text, "..") {
			t.Errorf("a sentence ends twice: %s", n.Text)
		}
	}
	for _, want := range []string{
		"L1 · Left out of the plan: rotor screw",
		"F1 · Free work: Rear leaf spring",
		"P1 · Planned anew: 4 on this vehicle: wheel nuts, with Cass",
	} {
		if !slices.Contains(all, want) {
			t.Errorf("the report does not say %q: %q", want, all)
		}
	}
}

// A measure that was beyond its limit and is inside it now was mended; one that is beyond it
// still is to be watched. What was measured again before any work was not mended by it.
func TestMeasuresFoundAndNow(t *testing.T) {
	st := job.Replay(
		[]job.Event{
			{ID: "start:x", Job: "x", Seq: 1, At: time.Unix(0, 0), By: "a", Body: record.Started{Complaint: "hum"}},
		},
	)
	take := func(key, step string, value float64, v inspect.Verdict) {
		m := record.Measured{
			Key:     key,
			Name:    key,
			Unit:    "mm",
			Limit:   0.05,
			Value:   value,
			Step:    step,
			Verdict: string(v),
			Corner:  "FL",
		}
		st.Walk.Measured = append(st.Walk.Measured, job.Measurement{Measured: m})
	}
	take("play", "", 0.4, inspect.Over)
	take("play", "measure", 0.02, inspect.OK)
	take("run-out", "measure", 0.06, inspect.MeasureAgain)
	take("lining", "", 7, inspect.OK)
	take("lash", "", 70, inspect.Over)
	take("shimmy", "", 0.4, inspect.Over)
	take("shimmy", "", 0.02, inspect.OK)
	take("rotor", "", 22, inspect.MeasureAgain)
	take("toe", "", 2, inspect.NoLimit)
	want := map[string]string{"Play": "mended", "Run-out": "watch", "Lining": "kept", "Lash": "beyond its limit",
		"Shimmy": "kept", "Rotor": "at its limit", "Toe": "no limit known"}
	got := report.New(source(st)).Measures
	if len(got) != len(want) {
		t.Errorf("%d measures", len(got))
	}
	for _, m := range got {
		if m.Comes != want[m.What] {
			t.Errorf("%s: %s, want %s", m.What, m.Comes, want[m.What])
		}
	}
}

// A long text takes more lines and more pages, and is never cut.
func TestNothingIsShortened(t *testing.T) {
	st := *finished(t)
	long := strings.Repeat("a clip of the left rear brake pipe is rusted through and the pipe itself is sound; ", 60)
	st.Findings = append(st.Findings, job.Finding{Text: long})
	st.Complaint = long
	r := report.New(source(&st))
	if got := r.Seen[len(r.Seen)-1].Text; got != long {
		t.Errorf("cut to %d bytes", len(got))
	}
	var b bytes.Buffer
	if err := report.PDF(&b, source(&st)); err != nil {
		t.Fatal(err)
	}
	if pages := bytes.Count(b.Bytes(), []byte("/Type /Page\n")); pages < 3 {
		t.Errorf("%d pages hold %d bytes of finding", pages, len(long))
	}
}

// What is due is a calendar by RFC 5545: CRLF, folded at 75 octets, an identity that stays.
func TestCalendar(t *testing.T) {
	at := time.Date(2026, 12, 8, 9, 0, 0, 0, time.UTC)
	dues := []report.Due{
		{Job: "j", No: 1, Vehicle: "Q-14, Ostrel C22 van", Title: "Wheel nuts again; see the mark, too",
			AtKM: 148330, At: at},
		{Job: "j", No: 2, Vehicle: "Q-14", Title: "no day"},
	}
	var a, b bytes.Buffer
	for _, w := range []*bytes.Buffer{&a, &b} {
		if err := report.Calendar(w, dues, at); err != nil {
			t.Fatal(err)
		}
	}
	if a.String() != b.String() {
		t.Error("written again it differs")
	}
	text := a.String()
	for _, want := range []string{
		"BEGIN:VCALENDAR\r\n", "VERSION:2.0\r\n", "PRODID:", "UID:j-1@lugtak\r\n", "DTSTAMP:20261208T090000Z\r\n",
		"DTSTART;VALUE=DATE:20261208\r\n", "DTEND;VALUE=DATE:20261209\r\n", `Wheel nuts again\; see the mark\, too`,
	} {
		if !strings.Contains(text, want) {
			t.Errorf("lacks %q in\n%s", want, text)
		}
	}
	if n := strings.Count(text, "BEGIN:VEVENT"); n != 1 {
		t.Errorf("%d events: what has no day is none", n)
	}
	for l := range strings.SplitSeq(text, "\r\n") {
		if len(l) > 75 {
			t.Errorf("not folded: %q", l)
		}
	}
}
