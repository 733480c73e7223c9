package library

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"io"
	"io/fs"
	"maps"
	"path"
	"regexp"
	"slices"
	"strings"

	"lugtak/core/operation"
	"lugtak/solid"
)

// solidName is what a solid may be called.
var solidName = regexp.MustCompile(`^[a-z0-9]+(-[a-z0-9]+)*$`)

// takeSolids reads the parts and tools of the shop's own, solids/*.glb, each named by its file.
func (l *Library) takeSolids(laid []fs.FS) {
	sum := sha256.New()
	for _, f := range laid {
		files, _ := fs.Glob(f, "solids/*.glb")
		for _, file := range files {
			name := strings.TrimSuffix(path.Base(file), ".glb")
			part, data, err := l.readSolid(f, file, name)
			if err != nil {
				l.Faults = append(l.Faults, Fault{File: file, Line: 1, Field: "file",
					Detail: "It is not taken: " + err.Error() + ".",
					Remedy: "Export it as one binary glTF 2.0 file, metres, Y up, without compression, under a name of its own."})
				continue
			}
			if l.Scenes.Own == nil {
				l.Scenes.Own = map[string]*solid.Part{}
			}
			l.Scenes.Own[name] = part
			fmt.Fprintln(sum, name)
			sum.Write(data)
		}
	}
	if len(l.Scenes.Own) > 0 {
		l.Scenes.OwnSum = hex.EncodeToString(sum.Sum(nil))
	}
}

func (l *Library) readSolid(f fs.FS, file, name string) (*solid.Part, []byte, error) {
	parts, err := solid.Parts()
	switch {
	case err != nil:
		return nil, nil, err
	case !solidName.MatchString(name):
		return nil, nil, fmt.Errorf("%q is no name of a solid: small letters, digits and hyphens", name)
	case parts[name] != nil:
		return nil, nil, fmt.Errorf("a solid %q ships with Lugtak", name)
	}
	in, err := f.Open(file)
	if err != nil {
		return nil, nil, err
	}
	defer in.Close()
	data, err := io.ReadAll(io.LimitReader(in, solid.MostOwnBytes+1))
	if err != nil {
		return nil, nil, err
	}
	part, err := solid.ReadOwn(name, data)
	return part, data, err
}

// takeAlbum takes in how corners are put together, which speaks of builds and of what is asked of a vehicle.
func (l *Library) takeAlbum(file string, doc *document) {
	if !doc.decode(l, file, &l.Scenes) {
		return
	}
	wrong := func(at, detail, remedy string) { l.Faults = append(l.Faults, doc.fault(file, at, detail, remedy)) }
	build := func(at, place, is string) {
		if l.Scenes.Builds[place][is] == nil {
			wrong(at, "A "+place+" is built nowhere as "+is+".", "Name one of builds, or add it.")
		}
	}
	for _, corner := range slices.Sorted(maps.Keys(l.Scenes.Corners)) {
		for place, is := range l.Scenes.Corners[corner] {
			build("$.corners."+corner, place, is)
		}
	}
	for _, corner := range slices.Sorted(maps.Keys(l.Scenes.Composed)) {
		at := "$.composed." + corner
		for place, by := range l.Scenes.Composed[corner] {
			for asked, answers := range by {
				keys := strings.Fields(asked)
				for answer, is := range answers {
					build(at, place, is)
					if given := strings.Fields(answer); len(given) != len(keys) || !l.answered(keys, given) {
						wrong(at, "“"+answer+"” is no answer to “"+asked+"”.", "Take the answers of builds.yaml, or unknown.")
					}
				}
			}
		}
	}
}

// answered says that each is an answer to its question.
func (l *Library) answered(keys, given []string) bool {
	for i, key := range keys {
		k := slices.IndexFunc(l.Builds, func(b operation.Build) bool { return b.Key == key })
		if k < 0 || given[i] != solid.Unknown &&
			!slices.ContainsFunc(l.Builds[k].Answers, func(a operation.BuildAnswer) bool { return a.Key == given[i] }) {
			return false
		}
	}
	return true
}

// laidOver says that a file lies over those that ship.
func laidOver(file string, over []fs.FS) bool {
	return slices.ContainsFunc(over, func(f fs.FS) bool {
		_, err := fs.Stat(f, file)
		return err == nil
	})
}

// takeScenes takes scenes in. Those of the shop's own count before those that ship, and are tried: these are by
// a test.
func (l *Library) takeScenes(file string, doc *document, own bool) {
	var rows []solid.Scene
	if !doc.decode(l, file, &rows) {
		return
	}
	for i := range rows {
		s := &rows[i]
		s.Own = own
		if own {
			if f, ok := l.tried(s, file, doc, fmt.Sprintf("$[%d].key", i)); !ok {
				l.Faults = append(l.Faults, f)
				continue
			}
		}
		l.Scenes.Scenes = append(l.Scenes.Scenes, *s)
	}
}

// tried says what keeps a scene of the shop's own from being shown.
func (l *Library) tried(s *solid.Scene, file string, doc *document, at string) (Fault, bool) {
	act := slices.ContainsFunc(l.Acts, func(a operation.ActKey) bool { return a.Key == s.Key })
	if !act && len(s.Bolts) == 0 && !solid.OfPlace(s.Key) {
		return doc.fault(file, at, "No act is called "+s.Key+".", "Take a key of acts.yaml."), false
	}
	if err := l.Scenes.Try(s); err != nil {
		return doc.fault(file, at, "It cannot be drawn: "+err.Error()+".",
			"Name parts and places that there are, and leave room for the words."), false
	}
	return Fault{}, true
}
