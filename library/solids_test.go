package library

import (
	"bytes"
	"encoding/binary"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"lugtak/solid"
)

// exported is a solid that ships as another program would export it: metres, Y up.
func exported(t *testing.T) []byte {
	t.Helper()
	lib, err := Load("")
	if err != nil {
		t.Fatal(err)
	}
	parts, err := solid.Parts()
	if err != nil {
		t.Fatal(err)
	}
	b, err := solid.GLB(solid.Scene{Corner: "none", Hand: []string{"wood-block"}, From: []float64{30, 20}},
		parts, &lib.Scenes, false)
	if err != nil {
		t.Fatal(err)
	}
	return b
}

// inMetres is such a file with its node made a thousandth as large: its numbers are millimetres.
func inMetres(b []byte) []byte {
	size := binary.LittleEndian.Uint32(b[12:])
	text := bytes.Replace(b[20:20+size], []byte(`"nodes":[{"mesh":0`),
		[]byte(`"nodes":[{"scale":[0.001,0.001,0.001],"mesh":0`), 1)
	for len(text)%4 != 0 {
		text = append(text, ' ')
	}
	out := append(bytes.Clone(b[:20]), text...)
	out = append(out, b[20+size:]...)
	binary.LittleEndian.PutUint32(out[8:], uint32(len(out)))
	binary.LittleEndian.PutUint32(out[12:], uint32(len(text)))
	return out
}

// A shop's own solid and scene are shown before what ships; what is wrong with either is told, and costs nothing else.
func TestOwnSolids(t *testing.T) {
	dir := t.TempDir()
	put := func(name, text string) {
		t.Helper()
		at := filepath.Join(dir, name)
		if err := os.MkdirAll(filepath.Dir(at), 0o755); err != nil {
			t.Fatal(err)
		}
		if err := os.WriteFile(at, []byte(text), 0o644); err != nil {
			t.Fatal(err)
		}
	}
	block := string(exported(t))
	put("solids/our-block.glb", string(inMetres(exported(t))))
	put("solids/hub.glb", block)
	put("solids/Our Block.glb", block)
	put("solids/cut-off.glb", block[:len(block)/2])
	put("solids/huge.glb", block)
	put("scenes/own.yaml", `
- key: count
  says: Our block.
  corner: none
  hand: [our-block]
  from: [30, 20]
  labels: [{at: our-block, says: ours}]
- {key: count, says: Nothing., corner: none, hand: [no-block]}
- {key: no-act, says: Nothing., corner: none, hand: [our-block]}
- {key: count, says: A place that is none., corner: none, hand: [our-block], labels: [{at: our-block.end, says: end}]}
`)
	lib, err := Load(dir)
	if err != nil {
		t.Fatal(err)
	}
	var told []string
	for _, f := range lib.Faults {
		told = append(told, f.Error())
	}
	for _, want := range []string{
		`solids/hub.glb:1: file: It is not taken: a solid "hub" ships`, `"Our Block" is no name`,
		"cut-off.glb:1: file: It is not taken",
		"huge.glb:1: file: It is not taken: node 0: it reaches farther than 10 m", `there is no solid "no-block"`,
		"No act is called no-act",
		`"our-block" has no place "end"`,
	} {
		if !strings.Contains(strings.Join(told, "\n"), want) {
			t.Errorf("nobody is told of %s: %q", want, told)
		}
	}
	if len(told) != 7 {
		t.Errorf("%d faults: %q", len(told), told)
	}
	s := lib.Scenes.Find("count", "count.count", nil)
	if s == nil || s.Says != "Our block." {
		t.Fatalf("%+v", s)
	}
	name, over, err := solid.NewShelf(&lib.Scenes, t.TempDir()).Over(s, false)
	if err != nil || !strings.Contains(over, "ours") || name == "" {
		t.Errorf("%q, %v", over, err)
	}
}

// What puts a corner together names builds that there are and answers that are given; a file that takes the place of
// one that ships is the shop's own, and tried.
func TestOwnCorners(t *testing.T) {
	text, err := embedded.ReadFile("scenes.yaml")
	if err != nil {
		t.Fatal(err)
	}
	dir := t.TempDir()
	broken := strings.NewReplacer(
		"wishbone-corner: tall", "wishbone-korner: tall",
		"disc pins: disc-pins", "disc: disc-pins",
		"unknown: pinch", "unknown: pinched",
		"brake: drum}", "brake: drums}",
	).Replace(string(text))
	put := func(name, text string) {
		t.Helper()
		if err := os.WriteFile(filepath.Join(dir, name), []byte(text), 0o644); err != nil {
			t.Fatal(err)
		}
	}
	put("scenes.yaml", broken)
	if err := os.Mkdir(filepath.Join(dir, "scenes"), 0o755); err != nil {
		t.Fatal(err)
	}
	put("scenes/tried.yaml", "- {key: count, says: Nothing., corner: none, hand: [no-solid]}\n")
	lib, err := Load(dir)
	if err != nil {
		t.Fatal(err)
	}
	var told []string
	for _, f := range lib.Faults {
		told = append(told, f.Error())
	}
	all := strings.Join(told, "\n")
	for _, want := range []string{
		"“wishbone-korner” is no answer to “front-corner”", "“disc” is no answer to “rear-brake caliper”",
		"A joint is built nowhere as pinched", "A brake is built nowhere as drums", `there is no solid "no-solid"`,
	} {
		if !strings.Contains(all, want) {
			t.Errorf("nobody is told of %s: %q", want, told)
		}
	}
}
