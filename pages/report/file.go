package report

import (
	"bytes"
	"crypto/sha256"
	"embed"
	"encoding/base64"
	"encoding/hex"
	"fmt"
	"html/template"
	"slices"
	"strings"
	"time"

	"golang.org/x/net/html"

	"lugtak/pages/kit"
	"lugtak/report"
)

//go:embed file
var parts embed.FS

// onefile is the owner's report as a file of its own: nothing it shows or runs is fetched.
var onefile = template.Must(template.New("file").Funcs(kit.Words()).Funcs(template.FuncMap{
	"style":  func() template.CSS { return template.CSS(asset("file.css")) },
	"script": func() template.JS { return template.JS(asset("seal.js")) },
	"csp":    scriptDigest,
}).ParseFS(parts, "file/file.html"))

func asset(name string) string {
	b, err := parts.ReadFile("file/" + name)
	if err != nil {
		panic(err) // it is embedded
	}
	return string(b)
}

// scriptDigest is the only script the file lets run, by its digest.
func scriptDigest() string {
	sum := sha256.Sum256([]byte(asset("seal.js")))
	return "sha256-" + base64.StdEncoding.EncodeToString(sum[:])
}

// fileView is what the file is made from.
type fileView struct {
	*report.Report
	Record    template.JS
	Key       string
	Signature string
	Words     []string
	Calendar  template.URL
}

// File writes the report as one file that proves itself: the record lies in it, and sign signs how that ends together
// with the words of the page.
func File(src report.Source, record []byte, key string, now time.Time, sign func(string) string) ([]byte, error) {
	v := fileView{Report: report.New(src), Key: key, Words: report.Words}
	if bytes.ContainsAny(record, "<") {
		return nil, fmt.Errorf("the record of %s would end its script", src.State.ID)
	}
	v.Record = template.JS(record)
	var b bytes.Buffer
	if dues := v.dues(); len(dues) > 0 {
		if err := report.Calendar(&b, dues, now); err != nil {
			return nil, err
		}
		v.Calendar = template.URL("data:text/calendar;base64," + base64.StdEncoding.EncodeToString(b.Bytes()))
	}
	for range 2 { // what it says is signed with it, and its signature stands in it
		b.Reset()
		if err := onefile.ExecuteTemplate(&b, "file.html", v); err != nil {
			return nil, err
		}
		words, err := wordsOf(b.String())
		if err != nil {
			return nil, err
		}
		v.Signature = sign(SignedText(src.State.ID, src.State.Seq, src.Hash, words))
	}
	return b.Bytes(), nil
}

// dues are those of the job that have a day.
func (v fileView) dues() []report.Due {
	var out []report.Due
	st := v.State
	for _, d := range st.Dues() {
		if d.Closed == nil && !d.At.IsZero() {
			out = append(out, report.Due{
				Job:     st.ID,
				No:      d.No,
				Vehicle: st.Vehicle.Fleet + ", " + st.Vehicle.Name,
				Title:   d.Title,
				AtKM:    d.AtKM,
				At:      d.At,
			})
		}
	}
	return out
}

// SignedText is what the shop signs of the file: how the record ends, and a digest of what the page says.
func SignedText(job string, seq int, hash, words string) string {
	sum := sha256.Sum256([]byte(words))
	return fmt.Sprintf("lugtak report\n%s\n%d %s\n%s\n", job, seq, hash, hex.EncodeToString(sum[:]))
}

// wordsOf is all that a page says, as a browser reads it: its styles, its title, its article and how it is checked,
// with all their attributes.
func wordsOf(page string) (string, error) {
	doc, err := html.Parse(strings.NewReader(page))
	if err != nil {
		return "", err
	}
	var b strings.Builder
	for n := range doc.Descendants() {
		if n.Type == html.ElementNode && (n.Data == "title" || signedPart(n)) {
			say(&b, n)
		}
	}
	return b.String(), nil
}

// signedPart says that a node is the page's look, its article, or how it is checked.
func signedPart(n *html.Node) bool {
	return slices.ContainsFunc(n.Attr, func(a html.Attribute) bool {
		return a.Key == "id" && slices.Contains([]string{"look", "said", "proof"}, a.Val)
	})
}

func say(b *strings.Builder, n *html.Node) {
	if n.Type == html.TextNode {
		b.WriteString(n.Data)
	}
	own := slices.SortedFunc(slices.Values(n.Attr), func(a, b html.Attribute) int { return strings.Compare(a.Key, b.Key) })
	for _, a := range own { // their order is nobody's to keep
		fmt.Fprintf(b, "\n%s=%s\n", a.Key, a.Val)
	}
	for c := range n.ChildNodes() {
		say(b, c)
	}
}
