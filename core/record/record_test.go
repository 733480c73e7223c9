package record

import (
	"bytes"
	"encoding/json"
	"math/rand/v2"
	"os"
	"path/filepath"
	"reflect"
	"strings"
	"testing"
	"time"
	"unicode/utf8"

	fast "github.com/segmentio/encoding/json"
)

// journal is a job's journal as an export holds it.
type journal struct {
	Job    string `json:"job"`
	Events []Line `json:"events"`
}

func golden(t *testing.T) map[string]journal {
	t.Helper()
	files, err := filepath.Glob("testdata/*.json")
	if err != nil || len(files) == 0 {
		t.Fatal("no golden journals", err)
	}
	all := map[string]journal{}
	for _, f := range files {
		data, err := os.ReadFile(f)
		if err != nil {
			t.Fatal(err)
		}
		var j journal
		if err := json.Unmarshal(data, &j); err != nil {
			t.Fatal(f, err)
		}
		all[filepath.Base(f)] = j
	}
	return all
}

// What was written is read and written again to the same bytes, and its seals hold.
func TestGoldenJournalsKeepTheirBytes(t *testing.T) {
	for file, j := range golden(t) {
		prev := ""
		for _, l := range j.Events {
			var kept bytes.Buffer
			if err := json.Compact(&kept, l.Body); err != nil {
				t.Fatal(err)
			}
			l.Body = kept.Bytes()
			if l.Sum(prev) != l.Hash {
				t.Fatalf("%s, event %d: the seal does not hold", file, l.Seq)
			}
			prev = l.Hash
			body, err := l.Wire()
			if err != nil {
				t.Fatalf("%s: %v", file, err)
			}
			again, err := json.Marshal(body)
			if err != nil {
				t.Fatal(err)
			}
			if !bytes.Equal(again, l.Body) {
				t.Errorf("%s, event %d of kind %s reads back as\n%s\nfrom\n%s", file, l.Seq, l.Kind, again, l.Body)
			}
		}
	}
}

// Every kind has stood in a file, in the version that is written today.
func TestEveryKindHasItsGoldenLine(t *testing.T) {
	type line struct {
		kind Kind
		v    int
	}
	seen := map[line]bool{}
	for _, j := range golden(t) {
		for _, l := range j.Events {
			seen[line{l.Kind, l.V}] = true
		}
	}
	for k, v := range Kinds() {
		if k == (PullKept{}).Kind() { // nobody writes it any more
			v = 0
		}
		if !seen[line{k, v}] {
			t.Errorf("event %s of version %d has no golden line: make a journal that has one", k, v)
		}
	}
}

// What is written today reads back as it was, sealed by what it says.
func TestSealedAndReadBack(t *testing.T) {
	at := time.Date(2026, 11, 25, 9, 30, 0, 5e6, time.UTC)
	e := Event{ID: "a", Job: "j", Seq: 3, At: at, By: "aro", Ask: "f00d", Body: Found{Text: "a < b & “c”"}}
	l, err := Seal("before", e)
	if err != nil {
		t.Fatal(err)
	}
	if l.V != 1 || l.Kind != "found" || l.Hash != l.Sum("before") {
		t.Errorf("%+v", l)
	}
	back, err := l.Event()
	if err != nil || back.Body.(Found).Text != "a < b & “c”" || !back.At.Equal(at) || back.Ask != "f00d" {
		t.Errorf("%+v, %v", back, err)
	}
	for name, change := range map[string]func(*Line){
		"id":   func(l *Line) { l.ID = "b" },
		"job":  func(l *Line) { l.Job = "k" },
		"seq":  func(l *Line) { l.Seq++ },
		"time": func(l *Line) { l.At = "2026-11-25T09:30:01Z" },
		"name": func(l *Line) { l.By = "bel" },
		"kind": func(l *Line) { l.Kind = "signed" },
		"v":    func(l *Line) { l.V = 2 },
		"ask":  func(l *Line) { l.Ask = "" },
		"sent": func(l *Line) { l.Sent = "2026-11-25T11:00:00Z" },
		"body": func(l *Line) { l.Body = json.RawMessage(`{"text":"nothing"}`) },
	} {
		other := l
		change(&other)
		if other.Sum("before") == l.Hash {
			t.Errorf("another %s has the same seal", name)
		}
	}
	if l.Sum("other") == l.Hash {
		t.Error("the seal does not rest on the line before")
	}
}

// A record that was kept without network says when it came, and its seal holds that too.
func TestKeptWithoutNetwork(t *testing.T) {
	at := time.Date(2026, 11, 25, 9, 30, 0, 0, time.UTC)
	e := Event{ID: "a", Job: "j", Seq: 1, At: at, By: "aro", Sent: at.Add(time.Hour), Body: Found{Text: "x"}}
	l, err := Seal("", e)
	if err != nil || l.Sent != "2026-11-25T10:30:00Z" {
		t.Fatalf("%+v, %v", l, err)
	}
	back, err := l.Event()
	if err != nil || !back.Sent.Equal(e.Sent) || !back.At.Equal(at) {
		t.Errorf("%+v, %v", back, err)
	}
	l.Sent = ""
	if l.Sum("") == l.Hash {
		t.Error("its seal does not hold when it came")
	}
}

func TestWhatCannotBeRead(t *testing.T) {
	for name, l := range map[string]Line{
		"unknown kind":  {Kind: "dreamt", Body: json.RawMessage(`{}`)},
		"newer version": {Kind: "found", V: 9, Body: json.RawMessage(`{}`)},
		"another shape": {Kind: "found", Body: json.RawMessage(`{"text":7}`)},
		"no time":       {Kind: "found", At: "noon", Body: json.RawMessage(`{"text":"x"}`)},
		"sent when":     {Kind: "found", At: "2026-11-25T09:30:00Z", Sent: "later", Body: json.RawMessage(`{"text":"x"}`)},
	} {
		if _, err := l.Event(); err == nil {
			t.Errorf("%s was read", name)
		}
	}
}

func TestLifted(t *testing.T) {
	for was, is := range map[string]string{
		"trace": "traced", "click": "clicked", "hand": "marked", "unmeasured": "not_measured",
	} {
		l := Line{Kind: "pulled", At: "2026-11-25T09:30:00Z", Body: json.RawMessage(`{"evidence":"` + was + `"}`)}
		e, err := l.Event()
		if err != nil || e.Body.(Pulled).Evidence != is {
			t.Errorf("%s became %+v, %v", was, e.Body, err)
		}
	}
	for was, is := range map[string]string{
		"Sheared": "sheared", "stuck": "stuck", "rounded": "rounded", "thread damaged": "thread_damaged",
		"wrong part": "wrong_part", "part missing": "part_missing", "a bad smell": "other",
	} {
		l := Line{Kind: "troubled", At: "2026-11-25T09:30:00Z", Body: json.RawMessage(`{"what":"` + was + `"}`)}
		e, err := l.Event()
		if err != nil || e.Body.(Troubled).Code != is {
			t.Errorf("%s became %+v, %v", was, e.Body, err)
		}
	}
}

// The package stands alone: nothing of the program can change what a file means.
func TestUsesNoOtherPackage(t *testing.T) {
	files, _ := filepath.Glob("*.go")
	for _, f := range files {
		text, err := os.ReadFile(f)
		if err != nil {
			t.Fatal(err)
		}
		if strings.Contains(string(text), `"lugtak/`+`core`) {
			t.Errorf("%s uses another package", f)
		}
	}
}

// A body is read by a quicker reader than the one that wrote it, and means the same: every
// line that ever stood in a file, and what files are damaged or forged with.
func TestReadsAsTheStandardLibraryDoes(t *testing.T) {
	lines := []Line{
		{Kind: Found{}.Kind(), Body: []byte(`{"text":"\u00e9\ud83d\ude00\ud800 \b\f\u2028 <&> \/","photo":"AAEC"}`)},
		{Kind: Found{}.Kind(), Body: []byte("{\"text\":\"\xff\xfe broken\"}")},
		{Kind: Found{}.Kind(), Body: []byte(`{"TEXT":"by another case","unknown":[1,{"a":null}]}`)},
		{Kind: Found{}.Kind(), Body: []byte(`{"text":"first","text":"second"}`)},
		{Kind: Found{}.Kind(), Body: []byte(`{"text":null,"photo":null}`)},
		{Kind: Found{}.Kind(), Body: []byte(`null`)},
		{Kind: Found{}.Kind(), Body: []byte(`{"text":7}`)},
		{Kind: Found{}.Kind(), Body: []byte(`{"text":"open`)},
		{Kind: Found{}.Kind(), Body: []byte(`{"text":"a"} behind`)},
		{Kind: Found{}.Kind(), Body: []byte("{\"text\":\"a\nb\"}")},
		{Kind: Pulled{}.Kind(), Body: []byte(`{"trace":[[0,1e-7,0.1],[1,2]],"peak_nm":1.7976931348623157e308}`)},
		{Kind: Pulled{}.Kind(), Body: []byte(`{"peak_nm":1e999}`)},
		{Kind: Pulled{}.Kind(), Body: []byte(`{"peak_nm":01}`)},
		{Kind: Pulled{}.Kind(), Body: []byte(`{"peak_nm":NaN}`)},
		{Kind: Started{}.Kind(), Body: []byte(`{"odometer_km":12.5}`)},
		{Kind: Started{}.Kind(), Body: []byte(`{"odometer_km":99999999999999999999}`)},
	}
	for _, j := range golden(t) {
		lines = append(lines, j.Events...)
	}
	for _, l := range lines {
		blank, _ := kinds[l.Kind].read([]byte(`{}`))
		is, err := l.Wire()
		want := reflect.New(reflect.TypeOf(blank))
		bad := json.Unmarshal(l.Body, want.Interface())
		if (err == nil) != (bad == nil) {
			t.Errorf("%s: %v, the standard library says %v", l.Body, err, bad)
			continue
		}
		if err == nil && !reflect.DeepEqual(is, want.Elem().Interface()) {
			t.Errorf("%s reads as %+v, the standard library reads %+v", l.Body, is, want.Elem().Interface())
		}
	}
}

// What is hashed is what the standard library writes, for every character there is and for
// bytes that are none, wherever they stand: else a sound journal would not match its seals.
func TestHashesWhatTheStandardLibraryWrites(t *testing.T) {
	same := func(text string) {
		fields := []any{text, 7, Kind(text)}
		want, err := json.Marshal(fields)
		if err != nil {
			t.Fatal(err)
		}
		if got, err := fast.Append(nil, fields, fast.EscapeHTML); err != nil || !bytes.Equal(got, want) {
			t.Fatalf("%q is written %s, the standard library writes %s (%v)", text, got, want, err)
		}
	}
	for r := rune(0); r <= utf8.MaxRune; r++ {
		same(string(r))
	}
	for a := range 256 {
		for b := range 256 {
			same("x" + string([]byte{byte(a), byte(b)}) + "y")
		}
	}
	rng := rand.New(rand.NewPCG(11, 26))
	for range 200_000 {
		text := make([]byte, rng.IntN(40))
		for i := range text {
			text[i] = byte(rng.IntN(256))
		}
		same(string(text))
	}
}
