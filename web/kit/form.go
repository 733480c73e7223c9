package kit

import (
	"maps"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/schema"

	"lugtak/core/unit"
)

// Figure is a number of a form: as it was typed, and as it was read.
type Figure struct {
	Text  string
	Value float64
	OK    bool // it is a figure
}

// UnmarshalText reads a figure; what is none is kept as it was typed and is no error.
func (f *Figure) UnmarshalText(text []byte) error {
	f.Text = strings.TrimSpace(string(text))
	f.Value, f.OK = unit.Figure(f.Text)
	return nil
}

// Given says that something stands in the field.
func (f Figure) Given() bool { return f.Text != "" }

// Tick is a box or a key: set where anything is sent for it.
type Tick bool

// UnmarshalText reads a tick.
func (t *Tick) UnmarshalText(text []byte) error {
	*t = len(text) > 0
	return nil
}

// Whole is a whole number from 0 to 10⁸, written in digits alone; anything else is 0.
type Whole struct {
	Text  string
	Value int
}

// UnmarshalText reads a whole number; what is none is kept as it was typed and is no error.
func (w *Whole) UnmarshalText(text []byte) error {
	w.Text = strings.TrimSpace(string(text))
	if n, err := strconv.ParseUint(w.Text, 10, 32); err == nil && n <= mostWhole {
		w.Value = int(n)
	}
	return nil
}

const mostWhole = 1e8

// String is the number as it was typed.
func (w Whole) String() string { return w.Text }

// List is several words parted by commas.
type List []string

// UnmarshalText reads the words; empty ones are left out.
func (l *List) UnmarshalText(text []byte) error {
	*l = nil
	for word := range strings.SplitSeq(string(text), ",") {
		if word = strings.TrimSpace(word); word != "" {
			*l = append(*l, word)
		}
	}
	return nil
}

// forms reads what was sent into a struct. It keeps what it learns about each and is safe
// for use by many.
var forms = func() *schema.Decoder {
	d := schema.NewDecoder()
	d.SetAliasTag("form")
	d.IgnoreUnknownKeys(true)
	return d
}()

// Read gives what a request was sent with, a form or an address, as a struct, whose fields say by their form tag what
// they are called. Fields not sent are zero; a field that cannot be read is zero too, since a form's own types keep
// what was typed.
func Read[T any](c fiber.Ctx) T {
	var out T
	if err := forms.Decode(&out, Values(c)); err != nil {
		var none T
		return none
	}
	return out
}

// Values are all fields of the form that was sent, or of the address where a page is asked
// for, copied from the request.
func Values(c fiber.Ctx) map[string][]string {
	out := map[string][]string{}
	if m, err := c.MultipartForm(); err == nil {
		maps.Copy(out, m.Value)
		return out
	}
	args := c.Request().PostArgs()
	if c.Method() == fiber.MethodGet {
		args = c.Request().URI().QueryArgs()
	}
	for key, value := range args.All() {
		out[string(key)] = append(out[string(key)], string(value))
	}
	return out
}

// Typed is what was typed, by field, to stand in the form again when it is refused. A PIN
// and the session's token never do.
func Typed(c fiber.Ctx) map[string]string {
	out := map[string]string{}
	for key, values := range Values(c) {
		if key != "pin" && key != "_csrf" {
			out[key] = values[0]
		}
	}
	return out
}
