package draw

import (
	"html/template"
	"image/color"

	"github.com/boombuler/barcode/qr"
)

// quiet is the edge left free round a QR code, in dots (ISO/IEC 18004).
const quiet = 4

// Dots are the rows of a text as a QR code, dark where true, without an edge (ISO/IEC 18004, level M: a smear over an
// eighth of it is borne).
func Dots(text string) ([][]bool, error) {
	code, err := qr.Encode(text, qr.M, qr.Auto)
	if err != nil {
		return nil, err
	}
	side := code.Bounds()
	rows := make([][]bool, side.Dy())
	for y := range rows {
		rows[y] = make([]bool, side.Dx())
		for x := range rows[y] {
			rows[y][x] = color.GrayModel.Convert(code.At(side.Min.X+x, side.Min.Y+y)).(color.Gray).Y < 128
		}
	}
	return rows, nil
}

// QR draws a text as a QR code.
func QR(text string) (template.HTML, error) {
	dots, err := Dots(text)
	if err != nil {
		return "", err
	}
	side := float64(len(dots) + 2*quiet)
	c := newCanvas(side, side, "QR code")
	for y, row := range dots {
		for x := 0; x < len(row); x++ {
			from := x
			for x < len(row) && row[x] {
				x++
			}
			if x > from {
				c.dot("q-dark", float64(from+quiet), float64(y+quiet), float64(x-from))
			}
		}
	}
	return c.silent("qr"), nil
}
