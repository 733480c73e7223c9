package solid

import (
	"crypto/sha256"
	"embed"
	"encoding/hex"
	"encoding/json"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
)

//go:embed *.go
var source embed.FS

// drawnBy is the sum of how pictures are drawn and of all parts: it is in the name of every picture, so that none of an
// older way is taken from the shelf.
var drawnBy = sync.OnceValue(func() string {
	sum := sha256.New()
	files, _ := source.ReadDir(".")
	for _, f := range files {
		if !strings.HasSuffix(f.Name(), "_test.go") {
			b, _ := source.ReadFile(f.Name())
			sum.Write(b)
		}
	}
	sum.Write(packed)
	return hex.EncodeToString(sum.Sum(nil))
})

// Themes are the palettes a picture is kept in, by the end of its file's name.
var Themes = map[string]Palette{"day": Light, "night": Dark, "paper": Printed}

// Find is the scene of an act at a step, by the act's key and the step's owner and key, or of a joint by its place in a
// sheet, for a vehicle that is built so;
// what is not known of it is not taken for granted. It is nil where there is none.
func (a *Album) Find(act, step string, built map[string]string) *Scene {
	i := slices.IndexFunc(a.Scenes, func(s Scene) bool {
		if strings.ReplaceAll(s.Key, "{axle}", built["axle"]) != act || len(s.Steps) > 0 && !slices.Contains(s.Steps, step) {
			return false
		}
		for key, answers := range s.When {
			if !slices.Contains(answers, built[key]) {
				return false
			}
		}
		return true
	})
	if i < 0 {
		return nil
	}
	return &a.Scenes[i]
}

// Name is a picture's by what it shows and how it is drawn: another scene, other parts, another name.
func (a *Album) Name(s *Scene, left bool) string {
	text, _ := json.Marshal(struct {
		By     string
		Scene  *Scene
		Corner map[string]string
		Builds map[string]map[string][]string
		Left   bool
	}{drawnBy(), s, a.Corners[s.Corner], a.Builds, left})
	sum := sha256.Sum256(text)
	return s.Key + "-" + hex.EncodeToString(sum[:8])
}

// Shelf keeps what was drawn, under the names of its content: in a folder, which all shops of a machine share.
type Shelf struct {
	album *Album
	dir   string

	names map[string]drawnFrom

	mu   sync.Mutex        // one picture at a time: each takes some 150 MB while it is drawn
	held map[string][]byte // what the folder did not take
}

type drawnFrom struct {
	scene *Scene
	left  bool
}

// NewShelf keeps pictures of an album in a folder; an empty one is the machine's own for what can be made anew.
func NewShelf(a *Album, dir string) *Shelf {
	if dir == "" {
		dir = os.TempDir()
		if own, err := os.UserCacheDir(); err == nil {
			dir = own
		}
		dir = filepath.Join(dir, "lugtak", "pictures")
	}
	s := &Shelf{album: a, dir: dir, names: map[string]drawnFrom{}, held: map[string][]byte{}}
	for i := range a.Scenes {
		for _, scene := range a.Scenes[i].All() {
			for _, left := range []bool{false, true} {
				s.names[a.Name(&scene, left)] = drawnFrom{&scene, left}
			}
		}
	}
	return s
}

// Over is the SVG that lies above a picture, and the picture's name.
func (s *Shelf) Over(scene *Scene, left bool) (name, svg string, err error) {
	name = s.album.Name(scene, left)
	b, err := s.file(name, ".svg")
	return name, string(b), err
}

// PNG is the file of a picture, as in hub-out-0123456789abcdef-day.png; nil where there is none of that name.
func (s *Shelf) PNG(file string) ([]byte, error) {
	base, ok := strings.CutSuffix(file, ".png")
	at := strings.LastIndex(base, "-")
	if !ok || at < 0 {
		return nil, nil
	}
	if _, theme := Themes[base[at+1:]]; !theme {
		return nil, nil
	}
	return s.file(base[:at], base[at:]+".png")
}

// file reads one file of a picture, which is drawn where it is not on the shelf yet; nil where there is none of its name.
func (s *Shelf) file(name, end string) ([]byte, error) {
	from, ok := s.names[name]
	if !ok {
		return nil, nil
	}
	if b, err := os.ReadFile(filepath.Join(s.dir, name+end)); err == nil {
		return b, nil
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	if b := s.held[name+end]; b != nil {
		return b, nil
	}
	if b, err := os.ReadFile(filepath.Join(s.dir, name+end)); err == nil {
		return b, nil // drawn while this one waited
	}
	files, err := s.draw(from)
	if err != nil {
		return nil, err
	}
	for end, b := range files {
		if s.keep(name+end, b) != nil {
			s.held[name+end] = b // a full or closed disk
		}
	}
	return files[end], nil
}

// draw makes all files of a picture, by the ends of their names.
func (s *Shelf) draw(from drawnFrom) (map[string][]byte, error) {
	parts, err := Parts()
	if err != nil {
		return nil, err
	}
	pic, err := Draw(*from.scene, parts, s.album, from.left)
	if err != nil {
		return nil, err
	}
	files := map[string][]byte{".svg": []byte(pic.Over)}
	for theme, palette := range Themes {
		if files["-"+theme+".png"], err = pic.PNG(palette); err != nil {
			return nil, err
		}
	}
	return files, nil
}

// keep writes a file whole or not at all.
func (s *Shelf) keep(file string, b []byte) error {
	if err := os.MkdirAll(s.dir, 0o755); err != nil {
		return err
	}
	f, err := os.CreateTemp(s.dir, "drawing-*")
	if err != nil {
		return err
	}
	_, err = f.Write(b)
	if shut := f.Close(); err == nil {
		err = shut
	}
	if err == nil {
		err = os.Rename(f.Name(), filepath.Join(s.dir, file))
	}
	if err != nil {
		_ = os.Remove(f.Name())
	}
	return err
}
