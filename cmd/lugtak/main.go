// Command lugtak runs the shop: the server, and what a script or a foreman does
// from the shell.
package main

import (
	"bufio"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"strings"
	"time"
	_ "time/tzdata" // a small machine may have no time zones of its own

	"github.com/alecthomas/kong"
	"golang.org/x/term"

	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/vehicle"
	"lugtak/demo/files"
	"lugtak/library"
	"lugtak/notices"
	"lugtak/reckon"
	"lugtak/store"
	"lugtak/web"
)

type cli struct {
	Serve    serveCmd         `cmd:"" help:"Run a shop for real use."`
	Demo     demoCmd          `cmd:"" help:"Run the invented shop; its sign-in page shows people and PINs."`
	Init     initCmd          `cmd:"" help:"Make a shop file with its first foreman; asks for the PIN."`
	Person   personCmd        `cmd:"" help:"Add somebody who may sign in; asks for the PIN."`
	Calc     calcCmd          `cmd:"" help:"Do one calculation, JSON in and JSON out."`
	Recipe   recipeCmd        `cmd:"" help:"Read a tightening recipe and say what it means."`
	Plan     planCmd          `cmd:"" help:"Compile an operation for a pattern and print the plan."`
	Check    checkCmd         `cmd:"" help:"Verify a shop file: its structure, every job's chain of seals, the lists."`
	Verify   verifyCmd        `cmd:"" help:"Verify an exported job, with no shop at hand: seals, signature, hash."`
	Export   exportCmd        `cmd:"" help:"Write one job as a JSON file."`
	Import   importCmd        `cmd:"" help:"Take a job file into a shop, unchanged."`
	Backup   backupCmd        `cmd:"" help:"Make a consistent copy of a shop file, also while it serves."`
	Restore  restoreCmd       `cmd:"" help:"Put a proved backup in a shop file's place, and set aside what was there."`
	Rebuild  rebuildCmd       `cmd:"" help:"Make the lists of a shop file anew from its journal."`
	Trust    trustCmd         `cmd:"" help:"Name the shop whose key it is: what it signs counts here from then on."`
	ChainAs  chainUserCmd     `cmd:"" name:"chain-user" help:"Make a key by which the chain's servers know this shop."`
	Doctor   doctorCmd        `cmd:"" help:"Say what is wrong with this installation, and what to do."`
	Mend     mendCmd          `cmd:"" help:"Sign for a shop file another hand changed, or begin a new key."`
	Licenses licensesCmd      `cmd:"" help:"Print what others have made that is part of this program, with its licences."`
	Schema   schemaCmd        `cmd:"" help:"Print what may stand in a file of the library, as JSON Schema."`
	Complete completeCmd      `cmd:"" name:"completion" help:"Print what completes words: source <(lugtak completion)."`
	Ver      kong.VersionFlag `name:"version" help:"Print the version."`
	Version  versionCmd       `cmd:"" help:"Print the version, its commit and what it was built for."`
}

func main() {
	var c cli
	parser := kong.Must(
		&c,
		kong.Name("lugtak"),
		kong.Vars{"version": "lugtak " + version, "import_kinds": importKinds},
		kong.Description(
			"Runs a repair on a car or truck from complaint to signature, and keeps the record. The vehicle maker's data, "+
				"local codes and licensed practice come first.",
		),
		kong.ConfigureHelp(kong.HelpOptions{Compact: true, WrapUpperBound: 100}),
	)
	k, err := parser.Parse(os.Args[1:])
	if err != nil { // a word that is none is no work that failed
		fmt.Fprintln(os.Stderr, "lugtak: "+err.Error())
		fmt.Fprintln(os.Stderr, "lugtak --help lists what there is.")
		os.Exit(2)
	}
	err = k.Run(parser)
	var p *reckon.Problem
	switch {
	case err == nil:
	case errors.As(err, &p): // scripts read the same object the server sends
		text, _ := json.Marshal(p)
		fmt.Println(string(text))
		os.Exit(2)
	default:
		fmt.Fprintln(os.Stderr, "lugtak: "+err.Error())
		if errors.As(err, &errUnknownKey{}) {
			os.Exit(unknownKey)
		}
		os.Exit(1)
	}
}

type calcCmd struct {
	Name string `arg:"" optional:"" help:"The calculation; leave it out for the list."`
	JSON string `name:"json" help:"The input as a JSON object; - reads standard input." placeholder:"JSON"`
	List bool   `name:"list" help:"For diagnose: the names of its signs and tests, with a sentence each."`
}

func (c *calcCmd) Run() error {
	var lib *library.Library
	var err error
	if reckon.ByLibrary(c.Name) {
		if lib, err = library.Load(""); err != nil {
			return err
		}
	}
	if c.Name == "" {
		for _, x := range reckon.All() {
			fmt.Printf("%-16s %s\n%-16s lugtak calc %s --json '%s'\n", x.Name, x.Title, "", x.Name, x.Example)
		}
		return nil
	}
	if c.List && c.Name == "diagnose" {
		for _, s := range reckon.Signs(lib) {
			fmt.Printf("%-24s %s\n", s[0], s[1])
		}
		return nil
	}
	in := []byte(c.JSON)
	if c.JSON == "-" {
		if in, err = io.ReadAll(io.LimitReader(os.Stdin, reckon.MaxInput+1)); err != nil {
			return err
		}
	}
	out, err := reckon.Run(lib, c.Name, in)
	if err != nil {
		return err
	}
	fmt.Println(string(out))
	return nil
}

type recipeCmd struct {
	Text      []string `arg:"" help:"The recipe as written, as in '60 Nm + 90°'."`
	Thread    string   `help:"The bolt's thread, as in M12x1.5."`
	Class     string   `help:"The bolt's class, as in 10.9."`
	Treatment string   `help:"What is on the thread, as in dry or oiled."`
}

func (c *recipeCmd) Run() error {
	in, err := json.Marshal(
		map[string]string{
			"text":      strings.Join(c.Text, " "),
			"thread":    c.Thread,
			"class":     c.Class,
			"treatment": c.Treatment,
		},
	)
	if err != nil {
		return err
	}
	out, err := reckon.Run(nil, "recipe", in)
	var p *reckon.Problem
	if errors.As(err, &p) && p.Column > 0 {
		fmt.Fprintf(os.Stderr, "%s\n%s^\n", strings.Join(c.Text, " "), strings.Repeat(" ", p.Column-1))
	}
	if err != nil {
		return err
	}
	var r struct {
		Canonical string
		Explain   []string
		Warnings  []struct{ Code, Message string }
	}
	if err := json.Unmarshal(out, &r); err != nil {
		return err
	}
	fmt.Println(r.Canonical)
	for i, line := range r.Explain {
		fmt.Printf("  %d. %s\n", i+1, line)
	}
	for _, w := range r.Warnings {
		fmt.Printf("  ! %s\n", w.Message)
	}
	return nil
}

type planCmd struct {
	Vehicle     string            `required:"" help:"The pattern, as in ostrel-c22."`
	Operation   []string          `required:"" help:"An operation, as front-hub-unit@FL; again for each."`
	Corner      string            `default:"FL" help:"FL, FR, RL or RR, for operations that name none."`
	School      map[string]string `help:"A way of working other than the shop's, as in taper=blow; say it again for each."`
	Built       map[string]string `help:"How this vehicle is built, as in shaft-room=lock; say it again for each."`
	Technicians int               `default:"1" help:"One or two."`
	Library     string            `help:"Folder with the shop's own YAML files." type:"path"`
	JSON        bool              `name:"json" help:"Print the whole plan as JSON."`
}

func (c *planCmd) Run() error {
	lib, err := library.Load(c.Library, files.FS) // the demo's sheets are found by name
	if err != nil {
		return err
	}
	for _, f := range lib.Faults {
		fmt.Fprintln(os.Stderr, f.Error())
	}
	ask := library.Ask{Ways: c.School, Built: c.Built, Technicians: c.Technicians}
	for _, text := range c.Operation {
		t, err := plan.ParseTask(text)
		if err != nil {
			return err
		}
		if op, ok := lib.Operation(t.Operation); ok && t.Corner == "" && op.Axle != operation.Under {
			if t.Corner, err = vehicle.ParseCorner(c.Corner); err != nil {
				return err
			}
		}
		ask.Tasks = append(ask.Tasks, t)
	}
	made, err := lib.Plan(c.Vehicle, ask)
	if err != nil {
		return err
	}
	if c.JSON {
		e := json.NewEncoder(os.Stdout)
		e.SetIndent("", " ")
		return e.Encode(made.Export())
	}
	sol, err := made.Clock(lib.Costs())
	if err != nil {
		return err
	}
	fmt.Printf("%s, %s\n", made.Pattern, made.Title)
	if made.Invented {
		fmt.Println("Every figure of this vehicle is invented: nobody works by them.")
	}
	fmt.Printf("%.0f min (proved least %.0f), %d tool changes, raised %d times\n",
		sol.Makespan, sol.Bound, sol.ToolChanges, made.Raises())
	for _, b := range made.Builds {
		if !b.Known {
			fmt.Printf("Assumed: %s %s (--built %s=…)\n", b.Question, b.Answer(), b.Key)
		}
	}
	for i, s := range made.Steps {
		fmt.Printf("%3d  %s\n", i+1, s.Title)
		if s.Because != "" {
			fmt.Printf("       %s\n", s.Because)
		}
	}
	return nil
}

type initCmd struct {
	DB   string `required:"" env:"LUGTAK_DB" help:"The shop file; a new one." type:"path"`
	Name string `required:"" help:"The foreman's name to sign in with."`
}

func (c *initCmd) Run() error {
	pin, err := askPIN()
	if err != nil {
		return err
	}
	first := store.NewPerson{Name: c.Name, Role: job.Foreman, PIN: pin}
	p, err := store.Create(context.Background(), c.DB, first, byCommand)
	if err != nil {
		return err
	}
	fmt.Printf("%s may sign in as %s.\n", p.Name, p.Role)
	return nil
}

type personCmd struct {
	DB   string `required:"" env:"LUGTAK_DB" help:"The shop file." type:"existingfile"`
	Name string `required:"" help:"The name to sign in with."`
	Role string `default:"foreman" enum:"technician,foreman,reader" help:"technician, foreman or reader."`
}

func (c *personCmd) Run() error {
	pin, err := askPIN()
	if err != nil {
		return err
	}
	ctx := context.Background()
	s, err := store.Open(ctx, c.DB)
	if err != nil {
		return err
	}
	defer s.Close()
	p, err := s.AddPerson(ctx, c.Name, job.Role(c.Role), pin, byCommand)
	if err != nil {
		return err
	}
	fmt.Printf("%s may sign in as %s.\n", p.Name, p.Role)
	return nil
}

// askPIN reads the PIN from the terminal without showing it, or from standard
// input where there is none.
func askPIN() (string, error) {
	if !term.IsTerminal(int(os.Stdin.Fd())) {
		line, err := bufio.NewReader(os.Stdin).ReadString('\n')
		if err != nil && err != io.EOF {
			return "", err
		}
		return strings.TrimSpace(line), nil
	}
	fmt.Fprint(os.Stderr, "PIN, 4 to 12 digits: ")
	pin, err := term.ReadPassword(int(os.Stdin.Fd()))
	fmt.Fprintln(os.Stderr)
	return string(pin), err
}

type verifyCmd struct {
	File string  `arg:"" help:"The job, as JSON." type:"existingfile"`
	Hash *string `arg:"" optional:"" help:"The last hash as a paper shows it; spaces do not matter."`

	Trust string `placeholder:"KEY" help:"The key of the shop it should be from, or its fingerprint on papers."`
}

// unknownKey is the exit status that tells scripts a file is whole and nobody vouches for it.
const unknownKey = 3

// errUnknownKey: the seals hold, and anybody could have made them.
type errUnknownKey struct{ says string }

func (e errUnknownKey) Error() string { return e.says }

// vouched says whose key the end of a job is signed with.
func (c *verifyCmd) vouched(f *store.JobFile) error {
	trust := strings.ToLower(strings.Join(strings.Fields(c.Trust), ""))
	switch {
	case f.Key == "" && trust != "":
		return errors.New("no shop's key signed its end: it is not from the shop that is trusted")
	case f.Key == "":
		return errUnknownKey{"its seals hold, and no shop's key signed its end: anybody could have made it"}
	case trust == "":
		return errUnknownKey{"its seals hold, by a key nobody vouched for: compare the fingerprint with the shop's own " +
			"papers, then name it by --trust"}
	case trust != f.Fingerprint() && strings.TrimSpace(c.Trust) != f.Key:
		return errors.New("its end is signed by another key than the one that is trusted: the file is not from that shop")
	}
	return nil
}

func (c *verifyCmd) Run() error {
	data, err := os.ReadFile(c.File)
	if err != nil {
		return err
	}
	f, st, err := store.ReadJobFile(data)
	if err != nil {
		return err
	}
	fmt.Printf("job %s: %s, %s\n", f.Job, st.Vehicle.Fleet, st.Title())
	fmt.Printf("%d events, each sealed with the one before; last hash %s\n", len(f.Events), f.Hash())
	if s := st.Signature; s != nil {
		fmt.Printf("signed by %s on %s after %d gates\n", s.By, s.At.Format(time.RFC3339), len(s.Gates))
	} else {
		fmt.Println("not signed: the vehicle must not leave on it")
	}
	if f.Key != "" {
		fmt.Printf("its end is signed by the key with fingerprint %s\n", f.Fingerprint())
	}
	if c.Hash != nil && strings.ToLower(strings.Join(strings.Fields(*c.Hash), "")) != f.Hash() {
		return errors.New("the paper shows another hash: paper and file are not of the same record")
	}
	if err := c.vouched(f); err != nil {
		return err
	}
	fmt.Println("ok")
	return nil
}

// byCommand signs what is done from the shell.
const byCommand = "command line"

type trustCmd struct {
	DB   string `required:"" env:"LUGTAK_DB" help:"The shop file." type:"existingfile"`
	Key  string `required:"" help:"The public key, as lugtak check prints it in that shop."`
	Shop string `required:"" help:"What that shop is called."`
	By   string `required:"" help:"Who says so."`
}

func (c *trustCmd) Run() error {
	ctx := context.Background()
	s, err := store.Open(ctx, c.DB)
	if err != nil {
		return err
	}
	defer s.Close()
	return s.Trust(ctx, c.Key, c.Shop, c.By, time.Now())
}

type licensesCmd struct{}

func (licensesCmd) Run() error {
	fmt.Print(notices.Text())
	return nil
}

type completeCmd struct{}

// Run prints a script for bash, which zsh runs too (autoload bashcompinit; bashcompinit).
func (completeCmd) Run(parser *kong.Kong) error {
	var all []string
	fmt.Println("_lugtak() {")
	fmt.Println("  local word=${COMP_WORDS[COMP_CWORD]}")
	fmt.Println("  case ${COMP_WORDS[1]} in")
	for _, c := range parser.Model.Children {
		all = append(all, c.Name)
		var flags []string
		for _, f := range c.Flags {
			flags = append(flags, "--"+f.Name)
		}
		fmt.Printf("  %s) COMPREPLY=($(compgen -W '%s' -- \"$word\") $(compgen -f -- \"$word\")) ;;\n", c.Name,
			strings.Join(flags, " "))
	}
	fmt.Printf("  *) COMPREPLY=($(compgen -W '%s' -- \"$word\")) ;;\n", strings.Join(all, " "))
	fmt.Println("  esac")
	fmt.Println("}")
	fmt.Println("complete -F _lugtak lugtak")
	return nil
}

type schemaCmd struct {
	Kind string `arg:"" help:"A file of the library, as operation; an event, as pulled; or openapi."`
}

func (c *schemaCmd) Run() error {
	if c.Kind == "openapi" {
		text, err := web.OpenAPI(version)
		fmt.Println(string(text))
		return err
	}
	schema, err := reckon.Schema(c.Kind)
	if err != nil {
		return err
	}
	text, err := json.MarshalIndent(schema, "", "  ")
	if err != nil {
		return err
	}
	fmt.Println(string(text))
	return nil
}

type backupCmd struct {
	DB   string `required:"" env:"LUGTAK_DB" help:"The shop file; it may be in use." type:"existingfile"`
	File string `arg:"" help:"The copy; a new file."`
}

func (c *backupCmd) Run() error {
	if err := store.Backup(context.Background(), c.DB, c.File); err != nil {
		return err
	}
	fmt.Println("copied to " + c.File)
	return nil
}
