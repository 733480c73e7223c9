package solid

import (
	"bytes"
	"cmp"
	"image"
	"image/color"
	"image/png"
	"slices"
)

// Palette is a table of colours: of each role four tones and its line, and the paper.
type Palette struct {
	Roles [roles][tonesOf]uint32
	Paper uint32
}

// Light, Dark and Printed are the same picture by day, by night and in grey on paper, where what is in hand is white.
var (
	Light = Palette{Paper: 0xFBFAF6, Roles: [roles][tonesOf]uint32{
		Ghost:  {0xF4F3EE, 0xEEEDE7, 0xE5E4DC, 0xDAD9D0, 0x9FA19A},
		Plain:  {0xECEBE5, 0xD9D9D2, 0xC2C4BF, 0xA5AAA8, 0x37444A},
		Rubber: {0x6F787C, 0x596266, 0x444C50, 0x33393C, 0x14191B},
		Hand:   {0xFBE3B4, 0xF3C673, 0xE3A33C, 0xC07F1B, 0x4F3000},
		Tool:   {0x93A3AA, 0x708189, 0x55646B, 0x3F4B51, 0x12181A},
		Skin:   {0xFBEFE0, 0xF2DBC1, 0xE2BF9D, 0xCBA17C, 0x4A3525},
		Arrow:  {0xF2A93B, 0xD98A12, 0xC97A00, 0xA66300, 0x3A2300},
		Lining: {0xA98F7C, 0x927866, 0x7A6252, 0x5E4A3D, 0x2A1F18},
		Fluid:  {0xCFE2F2, 0xAECDE6, 0x86B1D6, 0x5E92C0, 0x1C5E9E},
	}}
	Dark = Palette{Paper: 0x1B2527, Roles: [roles][tonesOf]uint32{
		Ghost:  {0x2C383B, 0x273235, 0x222C2F, 0x1D2629, 0x5F6D70},
		Plain:  {0x8C989B, 0x748184, 0x5E6A6D, 0x495457, 0xD5DAD8},
		Rubber: {0x4B5559, 0x3C4549, 0x2F373A, 0x22292B, 0xA9B2B3},
		Hand:   {0xFFDB94, 0xF5BE5B, 0xE09C2F, 0xB97812, 0xFFF1D2},
		Tool:   {0xA9BCC4, 0x869BA4, 0x687C85, 0x4F6068, 0xF1F5F5},
		Skin:   {0xE9CFB4, 0xD6B595, 0xBC9775, 0x9C7A5C, 0xFFF0E2},
		Arrow:  {0xFFC45C, 0xF3A52B, 0xE08D0C, 0xBA7100, 0xFFF0D0},
		Lining: {0x8D7565, 0x776152, 0x624E41, 0x4C3B30, 0xD9C4B4},
		Fluid:  {0x3F6E96, 0x345D81, 0x2A4D6D, 0x203D58, 0xA9D0F2},
	}}
	Printed = Palette{Paper: 0xFFFFFF, Roles: [roles][tonesOf]uint32{
		Ghost:  {0xFAFAFA, 0xF6F6F6, 0xF0F0F0, 0xE8E8E8, 0xA8A8A8},
		Plain:  {0xDADADA, 0xC8C8C8, 0xB4B4B4, 0x9A9A9A, 0x303030},
		Rubber: {0x7C7C7C, 0x686868, 0x545454, 0x404040, 0x0C0C0C},
		Hand:   {0xFFFFFF, 0xFFFFFF, 0xF0F0F0, 0xD4D4D4, 0x000000},
		Tool:   {0x6A6A6A, 0x565656, 0x444444, 0x333333, 0x000000},
		Skin:   {0xF6F6F6, 0xEDEDED, 0xE0E0E0, 0xCECECE, 0x2C2C2C},
		Arrow:  {0x2A2A2A, 0x222222, 0x1A1A1A, 0x121212, 0x000000},
		Lining: {0xA0A0A0, 0x8C8C8C, 0x787878, 0x626262, 0x1C1C1C},
		Fluid:  {0xD6D6D6, 0xC0C0C0, 0xAAAAAA, 0x909090, 0x202020},
	}}
)

// colour is a tone as red, green and blue.
func (p *Palette) colour(tone uint8) [3]float64 {
	c := p.Paper
	if tone != paper {
		c = p.Roles[tone/tonesOf][tone%tonesOf]
	}
	return [3]float64{float64(c >> 16 & 255), float64(c >> 8 & 255), float64(c & 255)}
}

// mix is what a pixel shows: a tone, or two of them by the quarter. Another palette is another picture without
// drawing it anew.
type mix struct {
	a, b     uint8
	quarters uint8 // of a
}

// sheet is a picture in mixes.
type sheet struct {
	w, h  int
	pix   []uint16
	mixes []mix
	index [paper + 1][paper + 1][5]uint16 // of a mix, from 1
}

func newSheet(w, h int) *sheet {
	s := &sheet{w: w, h: h, pix: make([]uint16, w*h)}
	s.entry(mix{paper, paper, 4})
	return s
}

func (s *sheet) entry(m mix) uint16 {
	at := &s.index[m.a][m.b][m.quarters]
	if *at == 0 {
		s.mixes = append(s.mixes, m)
		*at = uint16(len(s.mixes))
	}
	return *at - 1
}

// lay puts drawn tones on the sheet, two samples to a pixel's side or one; round, only those of its circle.
func (s *sheet) lay(tones []uint8, w, samples, x0, y0 int, round bool) {
	across, down := w/samples, len(tones)/w/samples
	for y := max(0, -y0); y < min(down, s.h-y0); y++ {
		for x := max(0, -x0); x < min(across, s.w-x0); x++ {
			dx, dy := 2*x-across, 2*y-down
			if round && dx*dx+dy*dy > across*across {
				continue
			}
			at := y*samples*w + x*samples
			pixel := &s.pix[(y+y0)*s.w+x+x0]
			a := tones[at]
			if samples == 1 || a == tones[at+1] && a == tones[at+w] && a == tones[at+w+1] {
				*pixel = s.entry(mix{a, a, 4})
				continue
			}
			*pixel = s.entry(mixed([4]uint8{a, tones[at+1], tones[at+w], tones[at+w+1]}))
		}
	}
}

// mixed is four samples as the commonest tone and the strongest other.
func mixed(c [4]uint8) mix {
	a, n := c[0], uint8(0)
	for _, v := range c {
		k := uint8(0)
		for _, u := range c {
			if u == v {
				k++
			}
		}
		if k > n || k == n && v < a {
			a, n = v, k
		}
	}
	b := a
	for _, v := range c {
		if v != a && (b == a || v > b) {
			b = v
		}
	}
	if b == a {
		n = 4
	}
	return mix{a, b, n}
}

// mostColours keeps a picture small: what is rarer becomes its stronger half.
const mostColours = 64

// png is the sheet in a palette.
func (s *sheet) png(p Palette) ([]byte, error) {
	for _, m := range slices.Clone(s.mixes) {
		s.entry(mix{m.a, m.a, 4})
	}
	count := make([]int, len(s.mixes))
	for _, i := range s.pix {
		count[i]++
	}
	order := make([]uint16, len(s.mixes))
	for i := range order {
		order[i] = uint16(i)
	}
	slices.SortStableFunc(order, func(i, j uint16) int { // pure tones first, then by how often
		return cmp.Or(cmp.Compare(s.mixes[j].quarters/4, s.mixes[i].quarters/4), cmp.Compare(count[j], count[i]))
	})
	kept := min(mostColours, len(order))
	to := make([]uint8, len(s.mixes))
	var colours color.Palette
	for n, i := range order[:kept] {
		m := s.mixes[i]
		a, b, q := p.colour(m.a), p.colour(m.b), float64(m.quarters)/4
		var c [3]uint8
		for k := range c {
			c[k] = uint8(a[k]*q + b[k]*(1-q) + 0.5)
		}
		to[i] = uint8(n)
		colours = append(colours, color.RGBA{c[0], c[1], c[2], 255})
	}
	for _, i := range order[kept:] {
		to[i] = to[s.entry(mix{s.mixes[i].a, s.mixes[i].a, 4})]
	}
	im := image.NewPaletted(image.Rect(0, 0, s.w, s.h), colours)
	for i, m := range s.pix {
		im.Pix[i] = to[m]
	}
	var out bytes.Buffer
	err := (&png.Encoder{CompressionLevel: png.DefaultCompression}).Encode(&out, im)
	return out.Bytes(), err
}
