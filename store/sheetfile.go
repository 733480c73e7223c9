package store

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"io"
	"strings"
	"time"

	"lugtak/core/fault"
	"lugtak/core/recipe"
	"lugtak/core/record"
	"lugtak/core/vehicle"
)

// SheetFile is a sheet that leaves a shop, with its own proof: all of it signed with the shop's key.
type SheetFile struct {
	Format  string `json:"format"`
	Version int    `json:"version"`
	SheetContent
	Key       string `json:"key"`       // public half of the shop's key
	Signature string `json:"signature"` // over text()
}

// SheetContent is what is signed of it.
type SheetContent struct {
	Shop    string                 `json:"shop"` // its name, as it says
	Name    string                 `json:"name"`
	Outline string                 `json:"outline,omitempty"`
	Built   map[string]string      `json:"built,omitempty"`
	Figures []record.FigureOffered `json:"figures"`
}

const (
	sheetFormat  = "lugtak-sheet"
	sheetVersion = 1
	// MaxSheetFile bounds what is read.
	MaxSheetFile = 1 << 20
	maxOffered   = 600
)

// Hash is the SHA-256 of what is signed.
func (c SheetContent) Hash() string {
	text, _ := json.Marshal(c) // of strings and numbers alone
	sum := sha256.Sum256(text)
	return hex.EncodeToString(sum[:])
}

func (c SheetContent) text() string { return "lugtak sheet\n" + c.Hash() + "\n" }

// Fingerprint is that of the key that signed it.
func (f *SheetFile) Fingerprint() string { return fingerprint(f.Key) }

// SendSheet is a sheet as a file that leaves the shop; that it did is an act of the shop, which offers it to the other
// shops of a chain where that is meant.
func (s *Store) SendSheet(
	ctx context.Context, id record.EventID, sheet string, c SheetContent, by string, now time.Time, chain bool,
) ([]byte, error) {
	f := SheetFile{Format: sheetFormat, Version: sheetVersion, SheetContent: c, Key: public(s.key)}
	f.Signature = sign(s.key, c.text())
	text, err := json.MarshalIndent(f, "", " ")
	if err != nil {
		return nil, err
	}
	text = append(text, '\n')
	body := record.SheetSent{Sheet: sheet, Hash: c.Hash()}
	if chain {
		body.Text = string(text)
	}
	return text, s.act(ctx, id, by, now, body, nil)
}

// ReadSheetFile reads a sheet file and proves it: its form, its signature, and that each figure can be read.
func ReadSheetFile(data []byte) (*SheetFile, error) {
	if len(data) > MaxSheetFile {
		return nil, fault.New(fault.TooLong, "file", "The file is larger than any sheet.", "Check that it is a sheet file.")
	}
	var f SheetFile
	r := json.NewDecoder(bytes.NewReader(data))
	r.DisallowUnknownFields()
	err := r.Decode(&f)
	if _, more := r.Token(); err != nil || more != io.EOF || f.Format != sheetFormat {
		return nil, fault.New(fault.BadFile, "file", "This is not a sheet file.",
			"Take out the sheet there, on its page, and take that file.")
	}
	switch {
	case f.Version != sheetVersion:
		return nil, fault.New(fault.BadFile, "version", fmt.Sprintf("The file is of version %d.", f.Version),
			"Use the program that wrote it, or a newer one.")
	case f.Key == "" || !signed(f.Key, f.text(), f.Signature):
		return nil, fault.New(fault.BadFile, "signature",
			"The sheet is not signed by the key named in it: it was changed, or by another shop.",
			"Nothing of it is taken. Have that shop take it out again.")
	case strings.TrimSpace(f.Name) == "" || len(f.Name) > 120 || len(f.Shop) > 200 || len(f.Figures) > maxOffered:
		return nil, fault.New(fault.BadFile, "name", "The sheet has no name, or more in it than a sheet has.",
			"Have it taken out again.")
	}
	for i, x := range f.Figures {
		at := fmt.Sprintf("figures.%d.recipe", i+1)
		r, err := recipe.Parse(x.Recipe)
		if err != nil {
			return nil, fault.In(at, err)
		}
		if x.Joint == "" || x.Source == "" || len(x.Source) > 300 || len(x.Readers) == 0 || r.String() != x.Recipe {
			return nil, fault.New(fault.BadFile, at, "Figure "+fmt.Sprint(i+1)+" lacks its joint, source or reader.",
				"Have it taken out again.")
		}
	}
	return &f, nil
}

// TakeSheet keeps what another shop has read of a model, beside what is read here; where the model is not known it
// begins with the file.
func (s *Store) TakeSheet(
	ctx context.Context, id record.EventID, f *SheetFile, to vehicle.Sheet, begins bool, src Source, shop string,
) error {
	body := record.SheetTaken{
		Sheet: to.ID, Shop: shop, Key: f.Key, Hash: f.Hash(), From: src.From, Figures: f.Figures,
	}
	if !begins {
		return s.act(ctx, id, src.By, src.At, body, nil)
	}
	return s.act(ctx, id, src.By, src.At, body, nil, beside{id.And("begun"), toBegun(to)})
}

// Elsewhere lists what other shops have read of a sheet; of each shop what it said last.
func (s *Store) Elsewhere(ctx context.Context, sheet string) (out []vehicle.Elsewhere, err error) {
	err = s.known(ctx, func(sh *shop) {
		for _, t := range sh.taken[sheet] {
			for _, x := range t.Figures {
				out = append(out, vehicle.Elsewhere{
					Joint:      x.Joint,
					Recipe:     x.Recipe,
					Thread:     x.Thread,
					Class:      x.Class,
					Source:     x.Source,
					Readers:    x.Readers,
					Jobs:       x.Jobs,
					Shop:       t.Shop,
					ShopsPrint: fingerprint(t.Key),
				})
			}
		}
	})
	return out, err
}
