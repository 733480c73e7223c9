package web

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"strings"
	"testing"

	"lugtak/core/fault"
)

// A photograph is made small; what is none is refused in words.
func TestShrink(t *testing.T) {
	img := image.NewRGBA(image.Rect(0, 0, 3000, 1500))
	for x := range 3000 {
		for y := range 1500 {
			img.Set(x, y, color.RGBA{uint8(x), uint8(y), 90, 255})
		}
	}
	var b bytes.Buffer
	if err := png.Encode(&b, img); err != nil {
		t.Fatal(err)
	}
	data, err := shrink(t.Context(), &b)
	if err != nil {
		t.Fatal(err)
	}
	cfg, err := jpeg.DecodeConfig(bytes.NewReader(data))
	if err != nil || cfg.Width != photoEdge || cfg.Height != photoEdge/2 || len(data) > 1<<20 {
		t.Errorf("%+v, %d bytes, %v", cfg, len(data), err)
	}
	for _, bad := range []string{"", "GIF89a", "<svg/>", strings.Repeat("x", 5000)} {
		if _, err := shrink(t.Context(), strings.NewReader(bad)); fault.As(err) == nil || fault.As(err).Field != "photo" {
			t.Errorf("%.10q: %v", bad, err)
		}
	}
}
