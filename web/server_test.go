package web

import (
	"compress/gzip"
	"io"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"testing"

	"lugtak/demo"
	"lugtak/reckon"
)

func get(t *testing.T, c *http.Client, address string, header ...string) (*http.Response, string) {
	t.Helper()
	req, err := http.NewRequest(http.MethodGet, address, nil)
	if err != nil {
		t.Fatal(err)
	}
	for i := 0; i+1 < len(header); i += 2 {
		req.Header.Set(header[i], header[i+1])
	}
	res, err := c.Do(req)
	if err != nil {
		t.Fatal(err)
	}
	body, _ := io.ReadAll(res.Body)
	res.Body.Close()
	return res, string(body)
}

// unfilled is a mark for what every answer gets anew.
var unfilled = regexp.MustCompile(`\b(id|token)[0-9a-f]{8}-[0-9a-f]{4}-`)

// allPages are the addresses of every page of the demo shop.
func allPages() []string {
	out := []string{
		"/", "/vehicles/new", "/jobs/new", "/reckoner", "/crib", "/shelf", "/shelf/ostrel-c22",
		"/notices", "/practice", "/fleet", "/search", "/search?q=hub",
		"/jobs/" + demo.Done + "/label",
		"/jobs/" + demo.Struts + "/brief",
		"/vehicles/demo-p2",
		"/crib/w2/recall",
		"/jobs/" + demo.Done + "/report",
		"/jobs/" + demo.Complaint + "/report",
		"/jobs/" + demo.Complaint + "/walk?place=hub&at=raised&measure=hub-runout",
		"/jobs/" + demo.Complaint + "/walk?place=brake&at=raised",
		"/jobs/" + demo.Complaint + "/walk?place=road",
	}
	for _, p := range []string{"walk", "plan", "bench", "bench?panel=trouble", "bench?step=front-hub-unit.compare.FL",
		"bench?step=drive.drive", "bench?step=front-hub-unit.knuckle-2.FL", "ledger"} {
		out = append(out, "/jobs/"+demo.HalfDone+"/"+p)
	}
	for _, p := range []string{"plan", "order", "ways", "bench", "ledger", "match?step=strut-front.compare.FL",
		"match?step=stabiliser-link.compare.FR&old-length_mm=300&new-length_mm=303&old-thread_mm=12&new-thread_mm=12"} {
		out = append(out, "/jobs/"+demo.Struts+"/"+p)
	}
	for _, c := range reckon.All() {
		out = append(out, "/reckoner/"+c.Name)
	}
	return out
}

var inline = regexp.MustCompile(
	`(?i)<script[^>]*>[^<]|\sstyle="|\son[a-z]+="|(?:src|href|action)="(?:https?:)?//|javascript:`)

// Every page answers, obeys the strict policy it sends, names itself, and keeps
// its forms under the session's token.
func TestEveryPage(t *testing.T) {
	addr, _, client := served(t)
	for _, p := range allPages() {
		res, body := get(t, client, "http://"+addr+p)
		if res.StatusCode != http.StatusOK {
			t.Errorf("%s: %d", p, res.StatusCode)
			continue
		}
		if h := res.Header; h.Get("Content-Security-Policy") != csp || h.Get("X-Content-Type-Options") != "nosniff" ||
			h.Get("Cache-Control") != "no-store" {
			t.Errorf("%s: headers %v", p, h)
		}
		if m := inline.FindString(body); m != "" {
			t.Errorf("%s: %q", p, m)
		}
		head, _, _ := strings.Cut(body, "<body")
		if strings.Count(head, "<title>") != 1 || strings.Count(body, "<main") != 1 ||
			strings.Contains(body, "<no value>") ||
			unfilled.MatchString(body) {
			t.Errorf("%s is not whole", p)
		}
		signIn := strings.Count(body, `action="/signin"`) // its session has ended, and its token with it
		if posts, tokens := strings.Count(body, `method="post"`)-signIn, strings.Count(body, `name="_csrf"`); posts > tokens {
			t.Errorf("%s: %d forms, %d tokens", p, posts, tokens)
		}
	}
}

func TestStrangersSeeTheSignInPageOnly(t *testing.T) {
	addr, _, _ := served(t)
	stranger := &http.Client{
		CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
	}
	for _, p := range append(allPages(), "/people", "/jobs/"+demo.HalfDone+"/job.json", "/jobs/"+demo.HalfDone+"/live",
		"/nowhere") {
		res, _ := get(t, stranger, "http://"+addr+p)
		if res.StatusCode/100 != 3 || res.Header.Get("Location") != "/signin" {
			t.Errorf("%s: %d to %q", p, res.StatusCode, res.Header.Get("Location"))
		}
	}
	res, err := stranger.PostForm("http://"+addr+"/jobs/"+demo.HalfDone+"/step", url.Values{"step": {"pedal.pump"}})
	if err != nil || res.StatusCode != http.StatusUnauthorized {
		t.Errorf("a stranger's write: %v, %v", res.StatusCode, err)
	}
	res.Body.Close()
}

func TestWritesNeedTheToken(t *testing.T) {
	addr, _, client := served(t)
	for _, token := range []string{"", "guessed"} {
		res, err := client.PostForm("http://"+addr+"/jobs/"+demo.HalfDone+"/later",
			url.Values{"_csrf": {token}, "id": {"x"}, "step": {"front-hub-unit.knuckle-1.FL"}})
		if err != nil || res.StatusCode != http.StatusForbidden {
			t.Errorf("token %q: %d, %v", token, res.StatusCode, err)
		}
		res.Body.Close()
	}
}

// What a page costs over the wire, first time with all it fetches and after.
func TestPageWeight(t *testing.T) {
	addr, _, client := served(t)
	res, packed := get(t, client, "http://"+addr+"/jobs/"+demo.HalfDone+"/bench", "Accept-Encoding", "gzip")
	if res.Header.Get("Content-Encoding") != "gzip" {
		t.Fatal("the page is not packed")
	}
	z, err := gzip.NewReader(strings.NewReader(packed))
	if err != nil {
		t.Fatal(err)
	}
	body, _ := io.ReadAll(z)
	again := len(packed)
	first := again
	for _, m := range regexp.MustCompile(`(?:src|href)="(/static/[^"]+)"`).FindAllSubmatch(body, -1) {
		res, file := get(t, client, "http://"+addr+string(m[1]), "Accept-Encoding", "gzip")
		if res.StatusCode != http.StatusOK || !strings.Contains(res.Header.Get("Cache-Control"), "immutable") {
			t.Errorf("%s: %d, %q", m[1], res.StatusCode, res.Header.Get("Cache-Control"))
		}
		first += len(file)
	}
	fonts := 3 * 24_000 // as the style sheet fetches them
	if first+fonts > 150_000 || again > 30_000 {
		t.Errorf("%d bytes first, %d after", first+fonts, again)
	}
	t.Logf("%d bytes first with fonts, %d after", first+fonts, again)
}

// An act that has a scene is shown from solids, and its picture is kept for good; names that are none have none.
func TestPicturesFromSolids(t *testing.T) {
	addr, _, client := served(t)
	_, page := get(t, client, "http://"+addr+"/jobs/"+demo.Waiting+"/bench?step=front-hub-unit.hub-out.FR")
	names := regexp.MustCompile(`(?:src|srcset)="(/pictures/[^"]+)"`).FindAllStringSubmatch(page, -1)
	if len(names) != 12 || // the paper one twice; of the vehicle beside it and of the whole corner too
		!strings.Contains(page, "A slide hammer draws the hub unit") {
		t.Fatalf("pictures %v", names)
	}
	for _, n := range names {
		res, body := get(t, client, "http://"+addr+n[1])
		if res.StatusCode != http.StatusOK || !strings.HasPrefix(body, "\x89PNG") ||
			res.Header.Get("Cache-Control") != "public, max-age=31536000, immutable" {
			t.Errorf("%s: %d, %q", n[1], res.StatusCode, res.Header.Get("Cache-Control"))
		}
	}
	// Of a joint the picture shows each fastener's state, and lets it be chosen.
	_, page = get(t, client, "http://"+addr+"/jobs/"+demo.Waiting+"/bench?step=front-hub-unit.knuckle-crack.FR")
	for _, want := range []string{`f=B&amp;step=front-hub-unit.knuckle-crack.FR" hx-target="#page"`,
		`aria-label="Knuckle bolt B: `,
		`href="#s-twelve-point-`, "Front right, seen from inboard"} {
		if !strings.Contains(page, want) {
			t.Errorf("the page of the knuckle bolts lacks %s", want)
		}
	}
	if strings.Contains(page, "bolt-0") || strings.Contains(page, "bolt-2") {
		t.Error("what a picture keeps free for a fastener is not filled in")
	}
	// What was measured of an old part and a new one stands at the lines of their picture.
	_, page = get(t, client, "http://"+addr+"/jobs/demo-struts/match?step=strut-front.compare.FL&old-extended_mm=512"+
		"&new-extended_mm=560.5")
	if !strings.Contains(page, ">512 mm<") || !strings.Contains(page, ">560.5 mm<") ||
		strings.Contains(page, ">mmm-0-0<") {
		t.Error("the picture of the match does not say what was measured")
	}
	for _, none := range []string{"hub-out-day.png", "..%2fshop.db", "hub-out-0000000000000000-day.png"} {
		if res, _ := get(t, client, "http://"+addr+"/pictures/"+none); res.StatusCode != http.StatusNotFound {
			t.Errorf("%s: %d", none, res.StatusCode)
		}
	}
}

// Every file a style sheet speaks of is there under the name it has.
func TestStyleSheetsFindTheirFiles(t *testing.T) {
	addr, _, client := served(t)
	_, page := get(t, client, "http://"+addr+"/")
	fonts := 0
	for _, sheet := range regexp.MustCompile(`href="(/static/[^"]+\.css)"`).FindAllStringSubmatch(page, -1) {
		_, css := get(t, client, "http://"+addr+sheet[1])
		for _, file := range regexp.MustCompile(`url\("?([^")]+)"?\)`).FindAllStringSubmatch(css, -1) {
			if strings.HasPrefix(file[1], "data:") {
				continue
			}
			fonts++
			if res, _ := get(t, client, "http://"+addr+"/static/"+file[1]); res.StatusCode != http.StatusOK {
				t.Errorf("%s speaks of %s, which is not there", sheet[1], file[1])
			}
		}
	}
	modules := map[string]bool{}
	next := []string{regexp.MustCompile(`src="/static/([^"]+)" type="module"`).FindStringSubmatch(page)[1]}
	for len(next) > 0 {
		file := next[0]
		next = next[1:]
		if modules[file] {
			continue
		}
		modules[file] = true
		res, js := get(t, client, "http://"+addr+"/static/"+file)
		if res.StatusCode != http.StatusOK {
			t.Errorf("the module %s is not there", file)
		}
		for _, m := range regexp.MustCompile(`(?:from|import) "\./([^"]+)"`).FindAllStringSubmatch(js, -1) {
			next = append(next, m[1])
		}
	}
	if len(modules) < 10 {
		t.Errorf("%d modules", len(modules))
	}
	if fonts < 3 {
		t.Errorf("%d files are spoken of", fonts)
	}
}

// The page is filled once for many who look, and anew when the job goes on.
func TestNoPageIsStale(t *testing.T) {
	b := atWork(t, nil)
	a, _ := b.bench("")
	c, _ := b.bench("")
	id := regexp.MustCompile(`name="id" value="([^"]+)"`)
	if x, y := id.FindStringSubmatch(a)[1], id.FindStringSubmatch(c)[1]; x == y {
		t.Error("two answers carry the same id")
	}
	b.clickOn("B")
	if d, _ := b.bench(""); !strings.Contains(d, "Tighten knuckle bolt C") {
		t.Error("the bench shows the fastener that was kept")
	}
	b.post("trouble", url.Values{"step": {knuckleStep}, "letter": {"C"}, "what": {"sheared"}})
	if d, _ := b.bench(""); strings.Contains(d, "The plan has healed") {
		t.Error("the bench tells of a plan made anew where nobody comes from it")
	}
	if d, _ := b.bench("?healed=1"); !strings.Contains(d, "The plan has healed") {
		t.Error("the bench does not tell that the plan was made anew")
	}
}
