package draw

import (
	"html/template"

	qrcode "github.com/skip2/go-qrcode"
)

// QR draws a text as a QR code (ISO/IEC 18004, level M: a smear over an eighth of it is borne).
func QR(text string) (template.HTML, error) {
	code, err := qrcode.New(text, qrcode.Medium)
	if err != nil {
		return "", err
	}
	dots := code.Bitmap()
	c := newCanvas(float64(len(dots)), float64(len(dots)), "QR code")
	for y, row := range dots {
		for x := 0; x < len(row); x++ {
			from := x
			for x < len(row) && row[x] {
				x++
			}
			if x > from {
				c.dot("q-dark", float64(from), float64(y), float64(x-from))
			}
		}
	}
	return c.silent("qr"), nil
}
