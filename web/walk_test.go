package web

import (
	"bytes"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"slices"
	"strings"
	"testing"

	"lugtak/core/fault"
	"lugtak/library"
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

// What speaks for a suspect is said without the question; a no says to what.
func TestReasonsAreShort(t *testing.T) {
	all := []string{
		"Does it hum? Yes: it turns with the wheels",
		"FR: Is there play? No, and it would be expected.",
		"a third",
	}
	got := reasons(all, 2)
	if len(got) != 2 || got[0] != "it turns with the wheels" || got[1] != all[1] || len(reasons(nil, 2)) != 0 {
		t.Errorf("%q", got)
	}
}

// Every place a question is asked at stands on the drawn vehicle, so that one can go there.
func TestEveryQuestionHasItsPlace(t *testing.T) {
	lib, err := library.Load("")
	if err != nil {
		t.Fatal(err)
	}
	for _, e := range lib.Signs.Evidence {
		on := slices.ContainsFunc(walkPlaces, func(p walkPlace) bool { return slices.Contains(p.has, e.Place) })
		if !on || finer[e.Place] == "" {
			t.Errorf("%q is asked at %q, which is no place of the picture", e.Ask, e.Place)
		}
	}
}
