package kit

import (
	"bytes"
	"compress/gzip"
	"crypto/sha256"
	"embed"
	"encoding/hex"
	"fmt"
	"io/fs"
	"maps"
	"mime"
	"path"
	"regexp"
	"slices"
	"strings"
	"sync"
)

//go:embed static/*
var staticFS embed.FS

// shipped are the folders whose files go to browsers: those all pages share, and the styles of each set. It
// grows while packages are initialised and is read after that.
var shipped = []fs.FS{staticFS}

func ship(files fs.FS) { shipped = append(shipped, files) }

// Asset is a file a browser asks for by a name made from its content.
type Asset struct {
	Data   []byte
	Kind   string        // its media type
	Zipped func() []byte // when it is first asked for; nil where zipping gains nothing
}

// Assets are all files that ship, each under a name made from its content.
type Assets struct {
	byName map[string]Asset
	named  map[string]string // by plain name
}

// TheAssets are those of this program.
var TheAssets = sync.OnceValue(func() Assets {
	a, err := loadAssets()
	if err != nil {
		panic(err) // a file that ships names one that does not: no program is built so
	}
	return a
})

// Find gives a file by its name.
func (a Assets) Find(name string) (Asset, bool) {
	x, ok := a.byName[name]
	return x, ok
}

// Plain gives a file by the name it has in its folder.
func (a Assets) Plain(name string) Asset { return a.byName[a.named[name]] }

// Path is the address of a file, by the name it has in its folder.
func (a Assets) Path(name string) string { return "/static/" + a.named[name] }

// Names lists the files, by the names they are asked for.
func (a Assets) Names() []string { return slices.Sorted(maps.Keys(a.byName)) }

// loadAssets names every file by its content, each after those it names itself.
func loadAssets() (Assets, error) {
	a := Assets{byName: map[string]Asset{}, named: map[string]string{}}
	left := map[string][]byte{}
	for _, files := range shipped {
		for _, f := range filesOf(files) {
			if path.Ext(f) == ".html" {
				continue
			}
			data, err := fs.ReadFile(files, f)
			if err != nil {
				return a, err
			}
			if left[path.Base(f)] != nil {
				return a, fmt.Errorf("two files are called %s", path.Base(f))
			}
			left[path.Base(f)] = data
		}
	}
	for len(left) > 0 {
		before := len(left)
		for name, data := range left {
			if a.take(name, data) {
				delete(left, name)
			}
		}
		if len(left) == before {
			return a, fmt.Errorf("these name one another, or what is not there: %v", slices.Sorted(maps.Keys(left)))
		}
	}
	return a, nil
}

// names are the files another names: the fonts of a style sheet, the modules of a script. Each begins with what
// is searched for fast.
var names = map[string]*regexp.Regexp{
	".css": regexp.MustCompile(`(url\(")([\w.-]+)"`),
	".js":  regexp.MustCompile(`([ (]"\./)([\w.-]+)"`),
}

// take gives a file its name by its content, once those it names have theirs. It is not ready before.
func (a Assets) take(name string, data []byte) (ready bool) {
	ext := path.Ext(name)
	if others := names[ext]; others != nil {
		for _, m := range others.FindAllSubmatch(data, -1) {
			if a.named[string(m[2])] == "" {
				return false
			}
		}
		data = others.ReplaceAllFunc(data, func(m []byte) []byte {
			parts := others.FindSubmatch(m)
			return fmt.Appendf(nil, `%s%s"`, parts[1], a.named[string(parts[2])])
		})
	}
	sum := sha256.Sum256(data)
	hashed := strings.TrimSuffix(name, ext) + "." + hex.EncodeToString(sum[:6]) + ext
	x := Asset{Data: data, Kind: mime.TypeByExtension(ext)}
	if names[ext] != nil {
		x.Zipped = sync.OnceValue(func() []byte { return zip(data) })
	}
	a.named[name], a.byName[hashed] = hashed, x
	return true
}

func zip(data []byte) []byte {
	var b bytes.Buffer
	w, _ := gzip.NewWriterLevel(&b, gzip.BestCompression)
	w.Write(data)
	w.Close()
	return b.Bytes()
}
