package solid

import (
	"crypto/sha256"
	"embed"
	"encoding/hex"
	"encoding/json"
	"log/slog"
	"maps"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"sync"
)

//go:embed *.go
var source embed.FS

// drawnBy is the sum of how pictures are drawn and of all parts: it is in the name of every picture, so that
// none of an older way is taken from the shelf.
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

// Find is the scene of an act at a step, by the act's key and the step's owner and key, or of a joint by its
// place in a sheet, for a vehicle that is built so: of several the one that says most of what it is for, the
// shop's own before those that ship. It is nil where there is none.
func (a *Album) Find(act, step string, built Answers) *Scene {
	var best *Scene
	most := -1
	for i := range a.Scenes {
		s := &a.Scenes[i]
		if strings.ReplaceAll(s.Key, "{axle}", built[axleKey]) != act || len(s.Steps) > 0 && !slices.Contains(s.Steps, step) {
			continue
		}
		if says := a.says(s); says > most {
			if on, ok := a.On(s, built); ok {
				best, most = on, says
			}
		}
	}
	if best != nil {
		best.Key = act
	}
	return best
}

// says weighs how much a scene says of what it is for.
func (a *Album) says(s *Scene) int {
	n := 0
	if len(s.Steps) > 0 {
		n++
	}
	if s.Corner == eitherAxle || a.Composed[s.Corner] != nil {
		n += 2
	}
	if s.Own {
		n += 4
	}
	return n
}

// Name is a picture's by what it shows and how it is drawn: another scene, other parts, another name.
func (a *Album) Name(s *Scene, left bool) string {
	parts, _ := a.parts(s)
	told := struct {
		By    string
		Own   string
		Scene *Scene
		Parts []string
		Left  bool
		Seats map[string][]string
		Touch map[string]string
	}{By: drawnBy(), Own: a.OwnSum, Scene: s, Parts: parts, Left: left}
	if s.Overview {
		told.Seats, told.Touch = a.Seats, a.Touch
	}
	text, _ := json.Marshal(told)
	sum := sha256.Sum256(text)
	return s.Key + "-" + hex.EncodeToString(sum[:8])
}

// Shelf keeps what was drawn, under the names of its content: in a folder, which all shops of a machine share.
type Shelf struct {
	album *Album
	dir   string

	mu   sync.Mutex        // one picture at a time: each takes some 150 MB while it is drawn
	held map[string][]byte // what the folder did not take

	shown map[string]shownAs // by their names, so that their solids can be told; the last ones
	told  sync.Mutex
}

type shownAs struct {
	scene Scene
	left  bool
}

const (
	mostShown = 2000 // names that are remembered
	mostHeld  = 400  // files that are held where no disk takes them: some 14 MB
)

// NewShelf keeps pictures of an album in a folder; an empty one is the machine's own for what can be made anew.
func NewShelf(a *Album, dir string) *Shelf {
	if dir == "" {
		dir = os.TempDir()
		if own, err := os.UserCacheDir(); err == nil {
			dir = own
		}
		dir = filepath.Join(dir, "lugtak", "pictures")
	}
	return &Shelf{album: a, dir: dir, held: map[string][]byte{}, shown: map[string]shownAs{}}
}

// Over is the SVG that lies above a picture, and the picture's name; what is not on the shelf yet is drawn.
func (s *Shelf) Over(scene *Scene, left bool) (name, svg string, err error) {
	name = s.album.Name(scene, left)
	s.remember(name, shownAs{*scene, left})
	if b, err := os.ReadFile(filepath.Join(s.dir, name+".svg")); err == nil {
		return name, string(b), nil
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	if b := s.held[name+".svg"]; b != nil {
		return name, string(b), nil
	}
	if b, err := os.ReadFile(filepath.Join(s.dir, name+".svg")); err == nil {
		return name, string(b), nil // drawn while this one waited
	}
	files, err := s.draw(scene, left)
	if err != nil { // whoever asked shows something else: nobody would know
		slog.Warn("a picture is not drawn", "scene", scene.Key, "error", err)
		return "", "", err
	}
	for _, end := range slices.Sorted(maps.Keys(files)) { // .svg, which says that all are there, comes last
		if s.keep(name+end, files[end]) == nil {
			continue
		}
		if len(s.held) >= mostHeld {
			clear(s.held)
		}
		s.held[name+end] = files[end] // a full or closed disk
	}
	return name, string(files[".svg"]), nil
}

func (s *Shelf) remember(name string, is shownAs) {
	s.told.Lock()
	defer s.told.Unlock()
	if len(s.shown) >= mostShown {
		clear(s.shown)
	}
	s.shown[name] = is
}

// Solids is the glTF of a picture that was shown since this program started, as GLB tells it; nil where it was not.
func (s *Shelf) Solids(file string) ([]byte, error) {
	s.told.Lock()
	is, ok := s.shown[strings.TrimSuffix(file, ".glb")]
	s.told.Unlock()
	if !ok || !strings.HasSuffix(file, ".glb") {
		return nil, nil
	}
	parts, err := s.album.Solids()
	if err != nil {
		return nil, err
	}
	return GLB(is.scene, parts, s.album, is.left)
}

// ofPicture is the name of a picture's file: key, sum, theme.
var ofPicture = regexp.MustCompile(`^[a-z0-9.-]+-[0-9a-f]{16}-(day|night|paper)\.png$`)

// PNG is the file of a picture that was drawn, as in hub-out-0123456789abcdef-day.png; nil where there is none
// of that name.
func (s *Shelf) PNG(file string) []byte {
	if !ofPicture.MatchString(file) {
		return nil
	}
	if b, err := os.ReadFile(filepath.Join(s.dir, file)); err == nil {
		return b
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.held[file]
}

// draw makes all files of a picture, by the ends of their names.
func (s *Shelf) draw(scene *Scene, left bool) (map[string][]byte, error) {
	parts, err := s.album.Solids()
	if err != nil {
		return nil, err
	}
	pic, err := Draw(*scene, parts, s.album, left)
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
