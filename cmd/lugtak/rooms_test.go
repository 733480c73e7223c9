package main

import (
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"path"
	"slices"
	"strconv"
	"strings"
	"testing"
)

// house is the rooms from the ground up: each may use those before it. What stands in one line is side by side, and
// uses none of its neighbours.
var house = [][]string{
	{"core"}, // core/imports_test.go looks inside
	{"sign", "notices", "device", "demo/files", "solid"},
	{"device/sim", "device/supply", "library"},
	{"reckon", "store"},
	{"draw", "shop"},
	{"report", "pages/kit"},
	{
		"pages/bench", "pages/crib", "pages/figures", "pages/fleet", "pages/free", "pages/ledger", "pages/office",
		"pages/order", "pages/plan", "pages/practice", "pages/ready", "pages/reckoner", "pages/report", "pages/sheet",
		"pages/walk",
		"web/kit", "intake", "chain", "demo",
	},
	{"web/api"},
	{"web", "web/hooks"},
	{"cmd/lugtak"},
}

// floorOf is the line of house a package stands in; -1 where it has no room.
func floorOf(pkg string) int {
	if strings.HasPrefix(pkg, "core/") {
		pkg = "core"
	}
	return slices.IndexFunc(house, func(line []string) bool { return slices.Contains(line, pkg) })
}

// imports reads what each package of the tree imports, tests left out.
func imports(t *testing.T) map[string][]string {
	t.Helper()
	out := map[string][]string{}
	root := os.DirFS("../..")
	err := fs.WalkDir(root, ".", func(file string, d fs.DirEntry, err error) error {
		switch {
		case err != nil:
			return err
		case d.IsDir() && (d.Name() == "node_modules" || d.Name() == ".git"):
			return fs.SkipDir
		case d.IsDir() || path.Ext(file) != ".go" || strings.HasSuffix(file, "_test.go"):
			return nil
		}
		text, err := fs.ReadFile(root, file)
		if err != nil {
			return err
		}
		f, err := parser.ParseFile(token.NewFileSet(), file, text, parser.ImportsOnly)
		if err != nil {
			return err
		}
		if f.Name.Name == "main" && path.Dir(file) != "cmd/lugtak" {
			return nil // a tool that is run by hand
		}
		pkg := path.Dir(file)
		for _, im := range f.Imports {
			name, _ := strconv.Unquote(im.Path.Value)
			out[pkg] = append(out[pkg], name)
		}
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
	return out
}

// Arrows point down only: a room uses those below it.
func TestArrowsPointDown(t *testing.T) {
	all := imports(t)
	if len(all) < 40 {
		t.Fatalf("%d packages were found", len(all))
	}
	for pkg, names := range all {
		floor := floorOf(pkg)
		if floor < 0 {
			t.Errorf("%s has no room: put it into house, above what it uses", pkg)
			continue
		}
		for _, name := range names {
			used, ours := strings.CutPrefix(name, "lugtak/")
			if ours && floorOf(used) >= floor && !(floor == 0 && floorOf(used) == 0) {
				t.Errorf("%s uses %s, which stands no lower", pkg, used)
			}
		}
	}
}

// A page is values in and HTML out: nothing it uses, however far down, answers requests or asks a database.
func TestPagesArePure(t *testing.T) {
	all := imports(t)
	never := []string{
		"database/sql", "net/http", "github.com/gofiber", "modernc.org/sqlite", "lugtak/store", "lugtak/shop", "lugtak/web",
	}
	for pkg := range all {
		if !strings.HasPrefix(pkg, "pages/") {
			continue
		}
		seen := map[string]bool{}
		var look func(name, by string)
		look = func(name, by string) {
			if seen[name] {
				return
			}
			seen[name] = true
			for _, no := range never {
				if name == no || strings.HasPrefix(name, no+"/") {
					t.Errorf("%s reaches %s, by %s", pkg, name, by)
				}
			}
			own, ours := strings.CutPrefix(name, "lugtak/")
			if !ours {
				return
			}
			for _, next := range all[own] {
				look(next, own)
			}
		}
		look("lugtak/"+pkg, "itself")
	}
}

// The shop is the one door to the store; besides it only the command line opens files, as files.
func TestTheShopIsTheDoor(t *testing.T) {
	for pkg, names := range imports(t) {
		if slices.Contains(names, "lugtak/store") && pkg != "shop" && pkg != "cmd/lugtak" {
			t.Errorf("%s goes round the shop to the store", pkg)
		}
	}
}
