package main

import (
	"context"
	"crypto/tls"
	"fmt"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"time"

	"lugtak/pages/office"
	"lugtak/store"
)

// doctorCmd takes what serve takes, by the same flags and variables, and looks at all of it.
type doctorCmd struct {
	DB   string `required:"" env:"LUGTAK_DB" help:"The shop file." type:"path"`
	JSON bool   `name:"json" help:"Print what was found as one JSON object."`

	settings `embed:""`
}

// ailment is one thing that was looked at. Without a remedy it is well.
type ailment struct {
	What   string `json:"what"`
	Found  string `json:"found"`
	Remedy string `json:"remedy,omitempty"`
	Bad    bool   `json:"bad"` // the shop does not run, or its record is at risk
}

func (c *doctorCmd) Run() error {
	all := c.look(context.Background(), time.Now())
	bad := 0
	for _, x := range all {
		if x.Bad {
			bad++
		}
	}
	if c.JSON {
		err := printJSON(struct {
			OK      bool      `json:"ok"`
			Version string    `json:"version"`
			Found   []ailment `json:"found"`
		}{bad == 0, version, all})
		if err != nil {
			return err
		}
	} else {
		for _, x := range all {
			sign := "ok   "
			switch {
			case x.Bad:
				sign = "bad  "
			case x.Remedy != "":
				sign = "mind "
			}
			fmt.Printf("%s%s: %s\n", sign, x.What, x.Found)
			if x.Remedy != "" {
				fmt.Printf("     %s\n", x.Remedy)
			}
		}
	}
	if bad > 0 {
		return fmt.Errorf("%d of %d are bad", bad, len(all))
	}
	return nil
}

// look looks at everything in turn. It changes nothing.
func (c *doctorCmd) look(ctx context.Context, now time.Time) []ailment {
	out := []ailment{{What: "program", Found: "lugtak " + version}}
	out = append(out, c.faults()...)
	out = append(out, c.file(ctx)...)
	out = append(out, c.served(ctx), c.room(), c.copies(now))
	if x, ok := c.certificate(now); ok {
		out = append(out, x)
	}
	return out
}

// file proves the shop's file and looks at who may read it.
func (c *doctorCmd) file(ctx context.Context) []ailment {
	info, err := os.Stat(c.DB)
	if err != nil {
		return []ailment{{"shop file", "there is none at " + c.DB,
			"Make one with lugtak init, put a backup there with lugtak restore, or name the right one by --db.", true}}
	}
	var out []ailment
	if open := info.Mode().Perm() & 0o077; open != 0 {
		out = append(out, ailment{"shop file", fmt.Sprintf("others on this machine may read it (%s)", info.Mode().Perm()),
			"chmod 600 " + c.DB, true})
	}
	rep, err := store.Check(ctx, c.DB)
	switch {
	case err != nil:
		return append(out, ailment{"journals", err.Error(), "Put back a backup with lugtak restore.", true})
	case !rep.OK():
		return append(out, ailment{"journals", strings.Join(rep.Faults, "; "),
			"Keep a copy as it is. Put back a backup with lugtak restore, or sign for it with lugtak mend.", true})
	}
	x := ailment{What: "journals", Found: fmt.Sprintf("every seal of %d events and %d acts holds", rep.Events, rep.Acts)}
	if rep.Older {
		x.Found += "; an older program wrote it"
		x.Remedy = "lugtak serve keeps a copy and brings it up to date."
	}
	out = append(out, x)
	if rep.Key != "" && !rep.KeyBeside {
		out = append(out, ailment{"key", "no key file lies beside the shop file",
			"Put " + store.KeyFile(c.DB) + " back from a backup: without it the shop signs with a new key.", true})
	}
	return out
}

// served says whether a server has the file, and answers where it should.
func (c *doctorCmd) served(ctx context.Context) ailment {
	release, err := store.Own(c.DB)
	if err == nil {
		release()
		return ailment{What: "server", Found: "none serves this file", Remedy: "Start it with lugtak serve."}
	}
	scheme := "http"
	if c.Cert != "" {
		scheme = "https"
	}
	host, port, err := net.SplitHostPort(c.Addr)
	if err != nil {
		return ailment{"server", "its address is not known", "Name it by --addr.", true}
	}
	if at := net.ParseIP(host); host == "" || at != nil && at.IsUnspecified() {
		host = "127.0.0.1"
	}
	// It is asked whether it lives, not who it is: the certificate is looked at by itself.
	client := &http.Client{
		Timeout:   5 * time.Second,
		Transport: &http.Transport{TLSClientConfig: &tls.Config{InsecureSkipVerify: true}},
	}
	where := scheme + "://" + net.JoinHostPort(host, port) + "/healthz"
	ask, err := http.NewRequestWithContext(ctx, http.MethodGet, where, nil)
	if err != nil {
		return ailment{"server", err.Error(), "Name its address by --addr.", true}
	}
	answer, err := client.Do(ask)
	if err != nil {
		return ailment{"server", "one has the file, and none answers at " + where,
			"Name the address it serves at by --addr, or look at its log.", true}
	}
	defer answer.Body.Close()
	if answer.StatusCode != http.StatusOK {
		return ailment{"server", where + " answers " + answer.Status, "The file cannot be written to: look at the disk.",
			true}
	}
	return ailment{What: "server", Found: "it answers at " + where}
}

func (c *doctorCmd) room() ailment {
	left := room(filepath.Dir(c.DB))
	x := ailment{What: "disk", Found: fmt.Sprintf("%.1f GB left where the file lies", float64(left)/1e9)}
	switch {
	case left == 0:
		x.Found = "nobody can tell here how much is left"
	case left < office.LeastRoom:
		x.Remedy, x.Bad = "Make room: a year of work takes some 240 MB, and each backup as much as the file.", true
	}
	return x
}

func (c *doctorCmd) copies(now time.Time) ailment {
	if c.Backups == "" {
		return ailment{What: "backups", Found: "this program makes none",
			Remedy: "Name a folder by --backups, on another disk, or copy the file by other means (lugtak backup)."}
	}
	last, err := store.LastRotated(c.DB, c.Backups)
	switch {
	case err != nil:
		return ailment{"backups", err.Error(), "See that the folder can be read.", true}
	case last.IsZero():
		return ailment{"backups", "there is none in " + c.Backups, "The server makes one at its start.", true}
	case now.Sub(last) > office.CopyLasts:
		return ailment{"backups", "the last was made on " + last.Format(time.DateOnly),
			"Look at the server's log: it makes one every day.", true}
	}
	return ailment{What: "backups", Found: "the last was made on " + last.Format(time.DateTime)}
}

func (c *doctorCmd) certificate(now time.Time) (ailment, bool) {
	if c.Cert == "" || c.Key == "" {
		if len(c.Proxy) == 0 {
			return ailment{What: "certificate", Found: "pages go out in the clear",
				Remedy: "Tablets work without network, and use their camera, over HTTPS alone: docs/OPERATING.md."}, true
		}
		return ailment{}, false
	}
	pair := &pemPair{cert: c.Cert, key: c.Key}
	cert, err := pair.leaf()
	if err != nil {
		return ailment{}, false // the settings say so
	}
	if err := pair.usable(now); err != nil {
		return ailment{"certificate", "no browser takes " + c.Cert + ": " + err.Error(),
			"Make or renew it as docs/OPERATING.md says: the server takes the new files by itself.", true}, true
	}
	x := ailment{What: "certificate", Found: "good until " + cert.NotAfter.Format(time.DateOnly)}
	if cert.NotAfter.Sub(now) < office.CertAhead {
		x.Remedy = "Renew it: the server takes the new files by itself."
	}
	return x, true
}
