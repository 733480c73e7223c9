package demo

import (
	"bytes"
	"compress/zlib"
	"context"
	"encoding/csv"
	"encoding/json"
	"fmt"
	"html"
	"io"
	"maps"
	"math/rand/v2"
	"net"
	"net/http"
	"net/http/httptest"
	"net/url"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"
	"unicode/utf16"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/job"
	"lugtak/core/record"
	"lugtak/core/vehicle"
	"lugtak/demo/files"
	"lugtak/library"
	"lugtak/shop"
	"lugtak/store"
	"lugtak/web"
	"lugtak/web/hooks"
)

// sealed are a walker's events as lines of a file.
func (w *walker) sealed() []record.Line {
	var out []record.Line
	prev := ""
	for _, e := range w.journal {
		l, err := record.Seal(prev, e)
		if err != nil {
			w.t.Fatal(err)
		}
		prev = l.Hash
		out = append(out, l)
	}
	return out
}

func counted(lines []record.Line) *rawCount {
	r := newRawCount()
	for _, l := range lines {
		r.take(l)
	}
	return r
}

// What the program counts of a job is what stands in its journal.
func (w *walker) recounted() {
	r := counted(w.sealed())
	want := r.grades()
	got := map[string]string{}
	a := w.st.Account()
	for _, x := range a.Fasteners {
		got[x.Fastener.String()] = string(x.Grade)
	}
	if !maps.Equal(got, want) {
		for key := range want {
			if got[key] != want[key] {
				w.t.Errorf("%s: %s is %q by the account, %q by its journal", w.job, key, got[key], want[key])
			}
		}
		w.t.Errorf("%s: %d fasteners by the account, %d by its journal", w.job, len(got), len(want))
	}
	if a.Renewed() != r.renewed() {
		w.t.Errorf("%s: %d renewed by the account, %d by its journal", w.job, a.Renewed(), r.renewed())
	}
	if len(w.st.LeftOut()) != r.leftOut || len(w.st.Deviations) != r.deviations {
		w.t.Errorf("%s: %d left out, %d deviations; the journal says %d, %d", w.job, len(w.st.LeftOut()),
			len(w.st.Deviations), r.leftOut, r.deviations)
	}
}

// face is one job in a served shop, with what its journal comes to.
type face struct {
	t   *testing.T
	job string
	raw *rawCount
	get func(path string) (int, string)
}

// tally counts grades.
func (f *face) tally() map[string]int {
	out := map[string]int{}
	for _, g := range f.raw.grades() {
		out[g]++
	}
	return out
}

func (f *face) says(want map[string]int, words map[string]string, where, text string) {
	f.t.Helper()
	got := map[string]int{}
	for grade, word := range words {
		for _, m := range regexp.MustCompile(`(\d+) `+word+`\b`).FindAllStringSubmatch(text, -1) {
			n, _ := strconv.Atoi(m[1])
			got[grade] += n
		}
	}
	for grade, n := range want {
		if got[grade] != n {
			f.t.Errorf("%s, %s: %d %s, its journal says %d, in %q", f.job, where, got[grade], grade, n, text)
		}
	}
	for grade, n := range got {
		if want[grade] != n {
			f.t.Errorf("%s, %s: %d %s, its journal says %d, in %q", f.job, where, n, grade, want[grade], text)
		}
	}
}

// inHead are the words of every grade where all are named.
var inHead = map[string]string{
	"traced": "traced", "clicked": "clicked", "marked": "turned by a mark", "play": "proved by play", "stated": "stated",
	"by_hand": "by hand, as asked", "not_measured": "not measured", "deviating": "by deviation", "owed": "owed",
}

// inSentence are the words of the owner's sentence.
var inSentence = map[string]string{
	"figured": "(?:was|were) tightened to a known figure", "by_hand": "by hand, as asked",
	"not_measured": "not measured", "deviating": "left by a signed deviation", "owed": "still owed",
}

var tags = regexp.MustCompile(`<[^>]*>`)

func plain(page string) string {
	text := html.UnescapeString(tags.ReplaceAllString(page, " "))
	return strings.Join(strings.Fields(text), " ")
}

// mayBeDriven is the verdict of a report on the vehicle.
var mayBeDriven = regexp.MustCompile(
	`May be driven(, with what is signed for)?|Must not be driven|Not safe as it leaves`)

// told holds a report, as a page or as paper, against the journal.
func (f *face) told(where, text string) {
	f.t.Helper()
	tally := f.tally()
	opened := len(f.raw.grades())
	sentence := regexp.MustCompile(`Of (\d+) fasteners? opened,[^.]*\.`).FindString(text)
	if opened > 0 {
		if !strings.HasPrefix(sentence, fmt.Sprintf("Of %d fastener", opened)) {
			f.t.Errorf("%s, %s: %q; %d were opened", f.job, where, sentence, opened)
		}
		want := map[string]int{
			"figured": tally["traced"] + tally["clicked"] + tally["marked"] + tally["play"] + tally["stated"],
		}
		for _, g := range []string{"by_hand", "not_measured", "deviating", "owed"} {
			if tally[g] > 0 {
				want[g] = tally[g]
			}
		}
		f.says(want, inSentence, where, sentence)
		head := regexp.MustCompile(`\d+ fasteners? touched:[^.|]*?(?: Joint, hardware|\.|$| The| \|)`).FindString(text)
		if head != "" {
			f.says(tally, inHead, where+", head", head[strings.Index(head, ":"):])
		}
	}
	whole := tally["not_measured"]+tally["deviating"]+tally["owed"]+f.raw.deviations+f.raw.leftOut == 0 && f.raw.signed
	may := mayBeDriven.FindString(text)
	switch {
	case may == "":
		f.t.Errorf("%s, %s: no verdict", f.job, where)
	case !f.raw.signed || tally["owed"] > 0:
		if may != "Must not be driven" {
			f.t.Errorf("%s, %s: %s", f.job, where, may)
		}
	case (may == "May be driven") != whole:
		f.t.Errorf("%s, %s: %s; its journal: %v, %d deviations, %d not driven", f.job, where, may, tally,
			f.raw.deviations, f.raw.leftOut)
	}
	if f.raw.leftOut > 0 && !strings.Contains(text, "not driven") {
		f.t.Errorf("%s, %s: silent about what was not driven", f.job, where)
	}
}

func (f *face) page(path string) string {
	f.t.Helper()
	code, text := f.get(path)
	if code != http.StatusOK {
		f.t.Fatalf("%s: %d: %s", path, code, plain(text))
	}
	return text
}

func (f *face) csv() {
	rows, err := csv.NewReader(strings.NewReader(f.page("/jobs/" + f.job + "/ledger.csv"))).ReadAll()
	if err != nil {
		f.t.Fatal(err)
	}
	at := map[string]int{}
	for i, name := range rows[0] {
		at[name] = i
	}
	got := map[string]string{}
	for _, r := range rows[1:] {
		if g := r[at["grade"]]; g != "" {
			got[r[at["joint"]]+"#"+r[at["fastener"]]] = g
		}
		if r[at["known_by"]] == "clicked" && r[at["torque_nm"]] != "" {
			f.t.Errorf("%s, CSV: a setting of %s stands as a reading", f.job, r[at["torque_nm"]])
		}
	}
	if want := f.raw.grades(); !maps.Equal(got, want) {
		f.t.Errorf("%s, CSV: %v, its journal says %v", f.job, got, want)
	}
}

func (f *face) ledger() {
	text := f.page("/jobs/" + f.job + "/ledger")
	got := ""
	for _, m := range regexp.MustCompile(`<h2>(?:Left|Right|Underneath) <span class="dim">([^<]*)</span>`).
		FindAllStringSubmatch(text, -1) {
		got += html.UnescapeString(m[1]) + " | "
	}
	f.says(f.tally(), inHead, "ledger", got)
}

// signs are what the tally says of a fastener at each grade.
var signs = map[string]*regexp.Regexp{
	"traced":       regexp.MustCompile(`^proved, traced$`),
	"clicked":      regexp.MustCompile(`^proved, clicked$`),
	"marked":       regexp.MustCompile(`^proved, marked$`),
	"play":         regexp.MustCompile(`^proved by play$`),
	"by_hand":      regexp.MustCompile(`^proved, marked$`),
	"stated":       regexp.MustCompile(`^stated, `),
	"not_measured": regexp.MustCompile(`^not measured`),
	"deviating":    regexp.MustCompile(`^signed deviation(, by the bolt)?$`),
	"owed":         regexp.MustCompile(`^(broken loose|out, in its tray|started by hand|snug|between stages|trouble)$`),
	"":             regexp.MustCompile(`^not touched$`),
}

func (f *face) signs() {
	page := f.page("/jobs/" + f.job + "/bench")
	from := strings.Index(page, `<nav class="tally`)
	if from < 0 {
		f.t.Fatalf("%s: no tally", f.job)
	}
	nav := page[from : from+strings.Index(page[from:], "</nav>")]
	var says []string
	for _, m := range regexp.MustCompile(`aria-label="([^"]*: [^"]*)"`).FindAllStringSubmatch(nav, -1) {
		_, word, _ := strings.Cut(html.UnescapeString(m[1]), ": ")
		says = append(says, word)
	}
	i := 0
	for _, j := range f.raw.joints {
		for _, l := range f.raw.letters[j] {
			if i >= len(says) || !signs[f.raw.grade(j, l)].MatchString(says[i]) {
				f.t.Errorf("%s, tally: %s#%s says %q, its journal says %q", f.job, j, l, says[min(i, len(says)-1)],
					f.raw.grade(j, l))
			}
			i++
		}
	}
	if i != len(says) {
		f.t.Errorf("%s, tally: %d signs for %d fasteners", f.job, len(says), i)
	}
}

func (f *face) api() {
	var a struct {
		Opened, Renewed int
		Grades          map[string]int
		Fasteners       []struct{ Joint, Letter, Grade string }
	}
	if err := json.Unmarshal([]byte(f.page("/api/v1/jobs/"+f.job+"/account")), &a); err != nil {
		f.t.Fatal(err)
	}
	got := map[string]string{}
	for _, x := range a.Fasteners {
		got[x.Joint+"#"+x.Letter] = x.Grade
	}
	maps.DeleteFunc(a.Grades, func(_ string, n int) bool { return n == 0 })
	want := f.raw.grades()
	if a.Opened != len(want) || !maps.Equal(got, want) || !maps.Equal(a.Grades, f.tally()) ||
		a.Renewed != f.raw.renewed() {
		f.t.Errorf("%s, API: %+v; its journal says %v", f.job, a, f.tally())
	}
}

// pdfText is what stands on a paper: its streams unpacked, its strings read as UTF-16.
func pdfText(t *testing.T, data []byte) string {
	t.Helper()
	var out strings.Builder
	shown := regexp.MustCompile(`(?s)\(((?:[^\\()]|\\.)*)\)\s*T[jJ]`)
	for _, m := range regexp.MustCompile(`(?s)stream\r?\n(.*?)endstream`).FindAllSubmatch(data, -1) {
		r, err := zlib.NewReader(bytes.NewReader(m[1]))
		if err != nil {
			continue
		}
		text, _ := io.ReadAll(r)
		for _, s := range shown.FindAllSubmatch(text, -1) {
			raw := regexp.MustCompile(`(?s)\\(.)`).ReplaceAllFunc(s[1], func(b []byte) []byte {
				if b[1] == 'r' {
					return []byte{'\r'}
				}
				return b[1:]
			})
			var units []uint16
			for i := 0; i+1 < len(raw); i += 2 {
				units = append(units, uint16(raw[i])<<8|uint16(raw[i+1]))
			}
			out.WriteString(string(utf16.Decode(units)) + " ")
		}
	}
	return strings.Join(strings.Fields(out.String()), " ")
}

// shopOf serves a shop that holds the walkers' jobs, and asks it as its first technician.
func shopOf(t *testing.T, lib *library.Library) (house *shop.Shop, get func(path string) (int, string)) {
	t.Helper()
	s, err := store.Open(ctx, filepath.Join(t.TempDir(), "faces.db"))
	if err != nil {
		t.Fatal(err)
	}
	if _, err := s.AddPerson(ctx, People[0].Name, job.Foreman, People[0].PIN, "test"); err != nil {
		t.Fatal(err)
	}
	later := func() time.Time { return now.AddDate(0, 0, 30) }
	house, err = shop.New(ctx, s, lib, shop.Options{Now: later, Demo: true})
	if err != nil {
		t.Fatal(err)
	}
	server, err := web.New(web.Config{Shop: house})
	if err != nil {
		t.Fatal(err)
	}
	ln, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	go server.App.Listener(ln, fiber.ListenConfig{DisableStartupMessage: true})
	t.Cleanup(func() {
		server.App.ShutdownWithTimeout(time.Second)
		server.Close()
		house.Close()
	})
	at := "http://" + ln.Addr().String()
	client := &http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	in, err := client.PostForm(at+"/signin", url.Values{"name": {People[0].Name}, "pin": {People[0].PIN}})
	if err != nil {
		t.Fatal(err)
	}
	in.Body.Close()
	return house, func(path string) (int, string) {
		t.Helper()
		req, err := http.NewRequest(http.MethodGet, at+path, nil)
		if err != nil {
			t.Fatal(err)
		}
		for _, c := range in.Cookies() {
			req.AddCookie(c)
		}
		res, err := client.Do(req)
		if err != nil {
			t.Fatal(err)
		}
		defer res.Body.Close()
		text, err := io.ReadAll(res.Body)
		if err != nil {
			t.Fatal(err)
		}
		return res.StatusCode, string(text)
	}
}

// imported puts a journal into a shop, as a job file brings it.
func imported(t *testing.T, s *shop.Shop, id string, lines []record.Line) {
	t.Helper()
	text, err := json.Marshal(map[string]any{"format": "lugtak-job", "version": 2, "job": id, "events": lines})
	if err != nil {
		t.Fatal(err)
	}
	if _, added, err := s.Import(ctx, text, store.Source{By: "Cass", From: "a walker", At: now}); err != nil || !added {
		t.Fatal(added, err)
	}
}

// Every face of a job says what its journal says: report, paper, ledger, CSV, tally, API; Bays and
// Office of all of them together; and what another program is told when one is signed. Each
// third job is shown unfinished.
func TestEveryFaceSaysTheSame(t *testing.T) {
	lib, err := library.Load("", files.FS)
	if err != nil {
		t.Fatal(err)
	}
	s, get := shopOf(t, lib)
	told := told(t, s)
	seen := map[string]int{}
	var owed, open, signed, unmeasured, deviations int
	owing := map[string]int{}
	for seed := range uint64(*walks) / 2 {
		own := vehicle.Sheet{}
		if seed%2 == 1 { // a vehicle nobody entered
			own = begun(lib, rand.New(rand.NewPCG(seed, 27)), fmt.Sprint("own-", seed))
			own.By, own.At = "Cass", now
			if err := s.BeginSheet(ctx, record.EventID(fmt.Sprint("sheet-", seed)), own); err != nil {
				t.Fatal(err)
			}
		}
		w := walkOn(t, lib, 5000+seed, own, seed%4 == 1, seen)
		lines := w.sealed()
		if seed%3 == 2 { // as it stood on the way
			lines = lines[:len(lines)*(40+int(seed)%50)/100]
		}
		imported(t, s, w.job, lines)
		f := &face{t: t, job: w.job, raw: counted(lines), get: get}
		f.told("report", plain(f.page("/jobs/"+w.job+"/report")))
		f.told("paper", pdfText(t, []byte(f.page("/jobs/"+w.job+"/report.pdf"))))
		f.csv()
		f.ledger()
		f.signs()
		f.api()
		tally := f.tally()
		if f.raw.signed {
			signed++
			unmeasured += tally["not_measured"]
			deviations += f.raw.deviations
			told.hold(t, f)
		} else {
			open++
			owed += tally["owed"]
			owing[w.job] = tally["owed"]
		}
		if t.Failed() {
			t.Fatalf("seed %d", 5000+seed)
		}
	}
	_, office := get("/office")
	if want := fmt.Sprintf("%d job", open); !strings.Contains(plain(office), want) {
		t.Errorf("Office does not say %q", want)
	}
	if want := fmt.Sprintf("%d fastener", owed); !strings.Contains(plain(office), want) {
		t.Errorf("Office does not say %q: %s", want, plain(office)[:300])
	}
	for what, n := range map[string]int{"signed": signed, "deviations": deviations, "not measured": unmeasured} {
		if want := fmt.Sprintf("%s, %d", what, n); !strings.Contains(plain(office), want) {
			t.Errorf("Office does not say %q", want)
		}
	}
	bays(t, get, owing)
}

// bays holds what the bays say is owed against the journals, page by page.
func bays(t *testing.T, get func(string) (int, string), owing map[string]int) {
	t.Helper()
	got := map[string]int{}
	for n := 1; n <= 1+len(owing); n++ {
		_, page := get(fmt.Sprint("/?page=", n))
		for _, part := range strings.Split(page, `<section class="card bay `)[1:] {
			_, named, _ := strings.Cut(part, `aria-label="`)
			name := named[:strings.IndexByte(named, '"')]
			sum := 0
			for _, m := range regexp.MustCompile(`class="owing">(\d+) owed`).FindAllStringSubmatch(part, -1) {
				k, _ := strconv.Atoi(m[1])
				sum += k
			}
			got[name] = sum
		}
	}
	if !maps.Equal(got, owing) {
		t.Errorf("Bays say %v is owed, the journals %v", got, owing)
	}
}

// hooked is what another program is told of signatures.
type hooked struct {
	mu     sync.Mutex
	sender *hooks.Sender
	signed map[string]record.Account
}

func told(t *testing.T, s *shop.Shop) *hooked {
	t.Helper()
	h := &hooked{signed: map[string]record.Account{}}
	other := httptest.NewServer(http.HandlerFunc(func(_ http.ResponseWriter, r *http.Request) {
		var m struct {
			Data struct {
				Job  string        `json:"job"`
				Body record.Signed `json:"body"`
			} `json:"data"`
		}
		if json.NewDecoder(r.Body).Decode(&m) == nil && m.Data.Body.Account != nil {
			h.mu.Lock()
			defer h.mu.Unlock()
			h.signed[m.Data.Job] = *m.Data.Body.Account
		}
	}))
	t.Cleanup(other.Close)
	if _, err := s.AddHook(ctx, other.URL, []string{"signed"}, "test", now); err != nil {
		t.Fatal(err)
	}
	h.sender = &hooks.Sender{Shop: s}
	return h
}

func (h *hooked) hold(t *testing.T, f *face) {
	t.Helper()
	if err := h.sender.Once(context.Background()); err != nil {
		t.Fatal(err)
	}
	h.mu.Lock()
	defer h.mu.Unlock()
	if a := h.signed[f.job]; a.Opened != len(f.raw.grades()) || !maps.Equal(a.Grades, f.tally()) {
		t.Errorf("%s, hook: %+v; its journal says %v", f.job, a, slices.Sorted(maps.Keys(f.tally())))
	}
}
