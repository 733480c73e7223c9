package report

import (
	"bytes"
	"crypto/sha256"
	"embed"
	"encoding/base64"
	"encoding/hex"
	"fmt"
	"html/template"
	"strings"
	"time"

	"golang.org/x/net/html"
	"golang.org/x/net/html/atom"

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

// Proof is what the file is checked by.
type Proof struct {
	Record    []byte // the job file, as it is exported
	Key       string // public half of the shop's key, base64
	Signature string // over SignedText
}

// fileView is what the file is made from.
type fileView struct {
	*report.Report
	Said      template.HTML // the article: what is signed of the page
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
	if err := report.Calendar(&b, v.dues(), now); err != nil {
		return nil, err
	}
	if b.Len() > 0 && len(v.dues()) > 0 {
		v.Calendar = template.URL("data:text/calendar;base64," + base64.StdEncoding.EncodeToString(b.Bytes()))
	}
	b.Reset()
	if err := onefile.ExecuteTemplate(&b, "said", v); err != nil {
		return nil, err
	}
	v.Said = template.HTML(b.String())
	words, err := wordsOf(b.String())
	if err != nil {
		return nil, err
	}
	v.Signature = sign(SignedText(src.State.ID, src.State.Seq, src.Hash, words))
	b.Reset()
	err = onefile.ExecuteTemplate(&b, "file.html", v)
	return b.Bytes(), err
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

// wordsOf is all that a piece of a page says, as a browser reads it: its text, and the addresses of its pictures and
// links.
func wordsOf(page string) (string, error) {
	body := &html.Node{Type: html.ElementNode, DataAtom: atom.Article, Data: "article"}
	nodes, err := html.ParseFragment(strings.NewReader(page), body)
	if err != nil {
		return "", err
	}
	var b strings.Builder
	var walk func(*html.Node)
	walk = func(n *html.Node) {
		if n.Type == html.TextNode {
			b.WriteString(n.Data)
		}
		for _, a := range n.Attr {
			if a.Key == "src" || a.Key == "href" || a.Key == "style" || a.Key == "class" || a.Key == "hidden" {
				fmt.Fprintf(&b, "\n%s=%s\n", a.Key, a.Val)
			}
		}
		for c := n.FirstChild; c != nil; c = c.NextSibling {
			walk(c)
		}
	}
	for _, n := range nodes {
		walk(n)
	}
	return b.String(), nil
}
