package shop

import (
	"path/filepath"
	"strings"
	"testing"
	"time"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/record"
	"lugtak/core/vehicle"
	"lugtak/core/wrench"
	"lugtak/demo/files"
	"lugtak/library"
	"lugtak/store"

	"golang.org/x/sync/errgroup"
)

var noon = time.Date(2026, 11, 29, 12, 0, 0, 0, time.UTC)

func begun(t *testing.T) *Shop {
	t.Helper()
	s, err := store.Open(t.Context(), filepath.Join(t.TempDir(), "shop.db"))
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { s.Close() })
	for name, role := range map[string]job.Role{"Aro": job.Technician, "Cass": job.Foreman, "Dey": job.Reader} {
		if _, err := s.AddPerson(t.Context(), name, role, "482915", "test"); err != nil {
			t.Fatal(err)
		}
	}
	lib, err := library.Load("", files.FS)
	if err != nil {
		t.Fatal(err)
	}
	x, err := New(t.Context(), s, lib, Options{})
	if err != nil {
		t.Fatal(err)
	}
	return x
}

// codeOf is the code of a refusal; empty where there was none.
func codeOf(t *testing.T, err error) fault.Code {
	t.Helper()
	if err == nil {
		return ""
	}
	f := fault.As(err)
	if f == nil || f.Error() == "" || f.Remedy == "" {
		t.Fatalf("no refusal a person could read: %v", err)
	}
	return f.Code
}

// A figure a life hangs on is read by two people of the shop, however it comes in; one list is
// taken whole or not at all, and taken once.
func TestAFigureIsReadByTwo(t *testing.T) {
	figure := func(by, second string) vehicle.Correction {
		return vehicle.Correction{
			Pattern: "ostrel-c22",
			Joint:   "hub.front.knuckle",
			Recipe:  "100 Nm",
			Source:  "page 7",
			Why:     "misread",
			By:      by,
			Second:  second,
			At:      noon,
		}
	}
	other := figure("Aro", "Cass")
	other.Joint = "hub.front.wheel"
	for name, c := range map[string]struct {
		list []vehicle.Correction
		code fault.Code
	}{
		"two people":               {[]vehicle.Correction{figure("Aro", "Cass")}, ""},
		"one":                      {[]vehicle.Correction{figure("Aro", "")}, fault.Missing},
		"one under two names":      {[]vehicle.Correction{figure("Aro", " aro")}, fault.BadChoice},
		"a reader":                 {[]vehicle.Correction{figure("Aro", "Dey")}, fault.Role},
		"somebody of no shop":      {[]vehicle.Correction{figure("Aro", "Mallory")}, fault.Role},
		"a good one and a bad one": {[]vehicle.Correction{other, figure("Aro", "")}, fault.Missing},
		"a sheet nobody has":       {[]vehicle.Correction{{Pattern: "none", Joint: "x"}}, "not_found"},
	} {
		s := begun(t)
		if code := codeOf(t, s.Correct(t.Context(), "figures", c.list)); code != c.code {
			t.Errorf("%s: refused as %q, want %q", name, code, c.code)
		}
		taken, err := s.Store.Corrections(t.Context(), "ostrel-c22")
		if err != nil || (len(taken) > 0) != (c.code == "") {
			t.Errorf("%s: %d taken, %v", name, len(taken), err)
		}
		if c.code != "" {
			continue
		}
		if err := s.Correct(t.Context(), "figures", c.list); err != nil {
			t.Errorf("%s, once more: %v", name, err)
		}
		if again, _ := s.Store.Corrections(t.Context(), "ostrel-c22"); len(again) != len(taken) {
			t.Errorf("%s: a repeat counts again", name)
		}
	}
}

// A shop hangs its own torque tools, and none that nobody has: each with what it is, used by the calibration it came
// with or by one made here.
func TestAToolIsHung(t *testing.T) {
	s := begun(t)
	lib, err := library.Load("")
	if err != nil {
		t.Fatal(err)
	}
	s.know(lib)
	ctx := t.Context()
	if tools, err := s.Tools(ctx); err != nil || len(tools) != 0 {
		t.Fatalf("a shop begins with %v, %v", tools, err)
	}
	day := s.Now().AddDate(0, -2, 0)
	whole := wrench.Tool{
		Name: "Long one", Kind: wrench.KindClick, MaxNm: 340, StepNm: 2, Drive: "1/2", LengthMM: 560, Serial: "A 118",
		Calibrated: day, Certificate: "C-1",
	}
	hang := func(id string, role job.Role, photo string, change func(*wrench.Tool)) (wrench.Tool, error) {
		x := whole
		change(&x)
		return s.HangTool(ctx, record.EventID(id), x, "Cass", role, []byte(photo))
	}
	for name, c := range map[string]struct {
		role   job.Role
		photo  string
		change func(*wrench.Tool)
		field  string
	}{
		"by a technician": {job.Technician, "picture", func(*wrench.Tool) {}, "name"},
		"too long a name": {
			job.Foreman, "picture", func(x *wrench.Tool) { x.Name = strings.Repeat("x", 61) }, "name",
		},
		"of no kind":              {job.Foreman, "picture", func(x *wrench.Tool) { x.Kind = "stretchy" }, "kind"},
		"without an end":          {job.Foreman, "picture", func(x *wrench.Tool) { x.MaxNm = 0 }, "max_nm"},
		"range upside down":       {job.Foreman, "picture", func(x *wrench.Tool) { x.StepNm = 500 }, "step_nm"},
		"on a drive there is not": {job.Foreman, "picture", func(x *wrench.Tool) { x.Drive = "5/8" }, "drive"},
		"as long as a bay":        {job.Foreman, "picture", func(x *wrench.Tool) { x.LengthMM = 5600 }, "length_mm"},
		"calibrated tomorrow": {
			job.Foreman, "picture", func(x *wrench.Tool) { x.Calibrated = s.Now().AddDate(0, 0, 1) }, "calibrated",
		},
		"a day without a number":  {job.Foreman, "picture", func(x *wrench.Tool) { x.Certificate = "" }, "certificate"},
		"a number without a day":  {job.Foreman, "", func(x *wrench.Tool) { x.Calibrated = time.Time{} }, "certificate"},
		"a paper nobody has seen": {job.Foreman, "", func(*wrench.Tool) {}, "photo"},
		"a paper without its day": {job.Foreman, "picture", func(x *wrench.Tool) {
			x.Calibrated, x.Certificate = time.Time{}, ""
		}, "calibrated"},
		"a paper of no one tool":    {job.Foreman, "picture", func(x *wrench.Tool) { x.Serial = "" }, "serial"},
		"another that is not there": {job.Foreman, "picture", func(x *wrench.Tool) { x.ID = "t9" }, "tool"},
	} {
		_, err := hang("refused "+name, c.role, c.photo, c.change)
		if f := fault.As(err); f == nil || f.Field != c.field {
			t.Errorf("%s: %v, want a word at %s", name, err, c.field)
		}
	}
	for range 2 { // the second is the same paper sent twice
		if x, err := hang("one", job.Foreman, "picture", func(*wrench.Tool) {}); err != nil || x.ID != "t1" {
			t.Fatal(x, err)
		}
	}
	_, err = hang("two", job.Foreman, "picture", func(x *wrench.Tool) { x.Name = " long ONE" })
	if codeOf(t, err) != fault.Exists {
		t.Errorf("a second of that name: %v", err)
	}
	_, err = hang("back", job.Foreman, "picture", func(x *wrench.Tool) { x.Name, x.Serial = "The long one", "a 118" })
	if f := fault.As(err); f == nil || f.Field != "serial" {
		t.Errorf("one that hangs comes again under another name: %v", err)
	}
	var twins errgroup.Group // one of them hangs
	for _, id := range []string{"left", "right"} {
		twins.Go(func() error {
			_, err := hang(id, job.Foreman, "picture", func(x *wrench.Tool) { x.Name, x.Serial = "Twin", id })
			return err
		})
	}
	if err := twins.Wait(); codeOf(t, err) != fault.Exists {
		t.Errorf("two of one name at once: %v", err)
	}
	if _, err := hang("raw", job.Foreman, "", func(x *wrench.Tool) {
		x.Name, x.Serial, x.Calibrated, x.Certificate = "Short one", "", time.Time{}, ""
	}); err != nil {
		t.Fatal(err)
	}
	// What is said again keeps the name its pulls stand under, and the paper it came with.
	if _, err := hang("again", job.Foreman, "", func(x *wrench.Tool) {
		x.ID, x.Name, x.MaxNm, x.Calibrated, x.Certificate = "t1", "Another", 330, s.Now(), "C-2"
	}); err != nil {
		t.Fatal(err)
	}
	tools, err := s.Tools(ctx)
	if err != nil || len(tools) != 3 {
		t.Fatal(tools, err)
	}
	long, short := tools[0], tools[2]
	if long.Name != "Long one" || long.MaxNm != 330 || long.Certificate != "C-1" || long.Overdue(s.Now()) ||
		long.Calibrated.Format(time.DateOnly) != day.Format(time.DateOnly) {
		t.Errorf("the long one stands as %+v", long)
	}
	if !short.Overdue(s.Now()) {
		t.Error("one that nobody calibrated is good for use")
	}
	if paper, err := s.Paper(ctx, long.Act); err != nil || string(paper) != "picture" {
		t.Errorf("its paper is %q, %v", paper, err)
	}
}

// A calibration names what it was held against and its paper, with a picture of it; without a
// second person the tool is one person's word, and its log says so.
func TestACalibrationHasItsPaper(t *testing.T) {
	s := begun(t)
	tool := s.Library().Tools[0]
	sound := func() wrench.Logged {
		l := wrench.Logged{Tool: tool.ID, Kind: wrench.LogCheck, At: noon, By: "Aro", Reference: "bench 7",
			Certificate:    "C-1",
			ReferenceUntil: noon.AddDate(1, 0, 0)}
		for _, share := range []float64{0.2, 0.6, 1} {
			p := wrench.CheckPoint{SetNm: share * tool.MaxNm}
			for range 5 {
				p.Readings = append(p.Readings, 1.001*share*tool.MaxNm)
			}
			l.Points = append(l.Points, p)
		}
		return l
	}
	for name, c := range map[string]struct {
		change func(*wrench.Logged)
		photo  []byte
		field  string
	}{
		"whole":          {func(*wrench.Logged) {}, []byte("picture"), ""},
		"no reference":   {func(l *wrench.Logged) { l.Reference = "" }, []byte("picture"), "reference"},
		"no certificate": {func(l *wrench.Logged) { l.Certificate = "" }, []byte("picture"), "certificate"},
		"reference run out": {
			func(l *wrench.Logged) { l.ReferenceUntil = noon.AddDate(0, 0, -2) }, []byte("picture"), "reference_until",
		},
		"seen by one twice": {func(l *wrench.Logged) { l.Second = " aro" }, []byte("picture"), "second"},
		"no picture":        {func(*wrench.Logged) {}, nil, "photo"},
	} {
		l := sound()
		c.change(&l)
		field := ""
		if f := fault.As(s.LogTool(t.Context(), "log", tool, l, job.Technician, c.photo)); f != nil {
			field = f.Field
		}
		if field != c.field {
			t.Errorf("%s: refused at %q, want %q", name, field, c.field)
		}
	}
	if code := codeOf(t, s.LogTool(t.Context(), "back", tool,
		wrench.Logged{Tool: tool.ID, Kind: wrench.LogReturn, At: noon, By: "Aro"},
		job.Technician, nil)); code != fault.Role {
		t.Errorf("a technician puts a tool back into use: %q", code)
	}
}

// What comes over the chain is held against this shop's own rules.
func TestFiguresOfOtherShopsAreChecked(t *testing.T) {
	s := begun(t)
	p, ok := s.Library().Pattern("ostrel-c22")
	if !ok {
		t.Fatal("no pattern")
	}
	var life string
	for key, spec := range p.Spec {
		if s.Library().ByTwo(key) && len(spec.Variants) == 0 {
			life = key
		}
	}
	good := record.FigureCorrected{
		Pattern: "ostrel-c22", Joint: life, Recipe: "47 Nm", Source: "sheet 9", Why: "misprint", Second: "Pim",
	}
	for name, change := range map[string]func(*record.FigureCorrected){
		"":                  func(*record.FigureCorrected) {},
		"by one alone":      func(c *record.FigureCorrected) { c.Second = "" },
		"by the same twice": func(c *record.FigureCorrected) { c.Second = " ode" },
		"of no joint":       func(c *record.FigureCorrected) { c.Joint = "nowhere" },
		"of no pattern":     func(c *record.FigureCorrected) { c.Pattern = "none" },
		"read in two ways":  func(c *record.FigureCorrected) { c.Recipe = "1.200 Nm" },
		"without a source":  func(c *record.FigureCorrected) { c.Source = "" },
	} {
		c := good
		change(&c)
		from := Source{By: "Ode", From: "Head Office", At: noon}
		if err := s.TakeFigure(t.Context(), record.EventID("chain:"+name), from, c); (err != nil) != (name != "") {
			t.Errorf("a figure %s: %v", name, err)
		}
	}
}
