package fault_test

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"testing"
)

// Every refusal names its code by a constant of the list: a slip of the pen would be a code of its own.
func TestCodesAreConstants(t *testing.T) {
	made := 0
	root := os.DirFS("../..")
	err := fs.WalkDir(root, ".", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || filepath.Ext(path) != ".go" || strings.HasSuffix(path, "_test.go") {
			if err == nil && d.IsDir() && (d.Name() == "node_modules" || d.Name() == ".git") {
				return fs.SkipDir
			}
			return err
		}
		text, err := fs.ReadFile(root, path)
		if err != nil {
			return err
		}
		set := token.NewFileSet()
		file, err := parser.ParseFile(set, path, text, 0)
		if err != nil {
			return err
		}
		ast.Inspect(file, func(n ast.Node) bool {
			call, ok := n.(*ast.CallExpr)
			if !ok || !makes(path, call.Fun) || len(call.Args) == 0 {
				return true
			}
			made++
			if text, plain := call.Args[0].(*ast.BasicLit); plain {
				t.Errorf("%s: the code %s is no constant", set.Position(call.Pos()), text.Value)
			}
			return true
		})
		return nil
	})
	if err != nil || made < 300 {
		t.Errorf("%d refusals looked at, %v", made, err)
	}
}

// makes says that a function makes a fault: fault.New, or what the rules of a job refuse with.
func makes(path string, f ast.Expr) bool {
	switch f := f.(type) {
	case *ast.SelectorExpr:
		of, ok := f.X.(*ast.Ident)
		return ok && of.Name == "fault" && f.Sel.Name == "New"
	case *ast.Ident:
		return f.Name == "refuse" && strings.HasPrefix(path, "core/job/")
	}
	return false
}
