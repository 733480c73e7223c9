package demo

import (
	"bytes"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	"math"
	"math/rand/v2"

	"golang.org/x/image/font"
	"golang.org/x/image/font/basicfont"
	"golang.org/x/image/math/fixed"
	"golang.org/x/image/vector"
)

// A drawn photograph is so large, pixels.
const photoWidth, photoHeight = 480, 360

// photograph draws how a lead ran past a wheel's brake before it was opened: what a technician would have taken. It
// says on itself that it is drawn.
func photograph(rng *rand.Rand) ([]byte, error) {
	img := image.NewRGBA(image.Rect(0, 0, photoWidth, photoHeight))
	draw.Draw(img, img.Bounds(), image.NewUniform(color.RGBA{58, 54, 50, 255}), image.Point{}, draw.Src)
	x, y := 190+float32(rng.IntN(60)), 190+float32(rng.IntN(30))
	ring(img, x, y, 132, color.RGBA{112, 108, 104, 255})
	ring(img, x, y, 124, color.RGBA{150, 146, 140, 255})
	ring(img, x, y, 52, color.RGBA{96, 78, 62, 255})
	for i := range 5 {
		a := 2 * math.Pi * (float64(i)/5 + 0.07)
		ring(img, x+34*float32(math.Cos(a)), y+34*float32(math.Sin(a)), 7, color.RGBA{40, 38, 36, 255})
	}
	// The lead, from the body down to the hub, in three clips.
	bend := float32(rng.IntN(70)) - 35
	for t := float32(0); t <= 1; t += 0.004 {
		px := (1-t)*(1-t)*430 + 2*t*(1-t)*(400+bend) + t*t*(x+60)
		py := (1-t)*(1-t)*20 + 2*t*(1-t)*(150+bend) + t*t*(y-20)
		ring(img, px, py, 5, color.RGBA{18, 18, 20, 255})
		if clip := math.Mod(float64(t)+0.1, 0.3); clip < 0.012 {
			ring(img, px, py, 11, color.RGBA{196, 190, 176, 255})
		}
	}
	pen := font.Drawer{Dst: img, Src: image.White, Face: basicfont.Face7x13, Dot: fixed.P(12, photoHeight-12)}
	pen.DrawString("drawn for the demo, no photograph")
	var b bytes.Buffer
	err := jpeg.Encode(&b, img, &jpeg.Options{Quality: 70})
	return b.Bytes(), err
}

// ring fills a circle.
func ring(img draw.Image, x, y, r float32, c color.Color) {
	const k = 0.5523 // of a quarter circle drawn by a cubic
	var z vector.Rasterizer
	z.Reset(photoWidth, photoHeight)
	z.MoveTo(x+r, y)
	z.CubeTo(x+r, y+k*r, x+k*r, y+r, x, y+r)
	z.CubeTo(x-k*r, y+r, x-r, y+k*r, x-r, y)
	z.CubeTo(x-r, y-k*r, x-k*r, y-r, x, y-r)
	z.CubeTo(x+k*r, y-r, x+r, y-k*r, x+r, y)
	z.ClosePath()
	z.Draw(img, img.Bounds(), image.NewUniform(c), image.Point{})
}
