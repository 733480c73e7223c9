package kit

import (
	"bytes"
	"strings"

	"github.com/google/uuid"
)

// Marks in a filled template for what every answer gets anew. They are made at start, so that nothing anybody
// types can be one.
var (
	idMark    = "id" + uuid.NewString()
	tokenMark = "token" + uuid.NewString()
)

// Laid is a filled template, parted at its marks.
type Laid []piece

type piece struct {
	text []byte
	mark string // what follows the text, empty at the end
}

func open(text []byte) Laid {
	var out Laid
	for {
		i, mark := bytes.Index(text, []byte(idMark)), idMark
		if k := bytes.Index(text, []byte(tokenMark)); k >= 0 && (i < 0 || k < i) {
			i, mark = k, tokenMark
		}
		if i < 0 {
			return append(out, piece{text: text})
		}
		out = append(out, piece{text[:i], mark})
		text = text[i+len(mark):]
	}
}

// HTML is the page with its marks filled in: new ids, and the token of the session that asks.
func (l Laid) HTML(token string) string {
	var b strings.Builder
	for _, p := range l {
		b.Write(p.text)
		switch p.mark {
		case idMark:
			b.WriteString(uuid.NewString())
		case tokenMark:
			b.WriteString(token)
		}
	}
	return b.String()
}
