package core_test

import (
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
)

// The rules know nothing of the web, the store, the file system or the clock:
// core imports itself, gonum, a reader of JSON, and those parts of the standard library that do
// no I/O; embed puts a table into the program when it is built.
func TestCoreImports(t *testing.T) {
	allowed := map[string]bool{
		"bytes": true, "cmp": true, "crypto/sha256": true, "embed": true, "encoding/csv": true, "encoding/hex": true,
		"encoding/json": true, "errors": true, "fmt": true, "hash/fnv": true, "io": true, "iter": true, "maps": true,
		"math": true, "math/bits": true, "math/rand/v2": true, "math/cmplx": true,
		"reflect": true, "regexp": true, "slices": true, "sort": true, "strconv": true, "strings": true, "time": true,
		"unicode": true, "github.com/segmentio/encoding/json": true,
	}
	files := 0
	err := filepath.WalkDir(".", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return err
		}
		files++
		f, err := parser.ParseFile(token.NewFileSet(), path, nil, 0)
		if err != nil {
			return err
		}
		for _, im := range f.Imports {
			name, _ := strconv.Unquote(im.Path.Value)
			if strings.HasPrefix(path, "record") && strings.HasPrefix(name, "lugtak/") {
				t.Errorf("%s imports %s: what is on the disk hangs on no other room", path, name)
			}
			if !allowed[name] && !strings.HasPrefix(name, "lugtak/core/") && !strings.HasPrefix(name, "gonum.org/v1/gonum") {
				t.Errorf("%s imports %s", path, name)
			}
		}
		return nil
	})
	if err != nil || files < 10 {
		t.Fatalf("%d files, %v", files, err)
	}
}

// Every time in the rules comes in from outside.
func TestCoreHasNoClock(t *testing.T) {
	err := filepath.WalkDir(".", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return err
		}
		data, err := os.ReadFile(path)
		if strings.Contains(string(data), "time.Now(") || strings.Contains(string(data), "time.Since(") {
			t.Errorf("%s reads the clock", path)
		}
		return err
	})
	if err != nil {
		t.Fatal(err)
	}
}
