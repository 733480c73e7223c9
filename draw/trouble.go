package draw

import (
	"html/template"

	"lugtak/core/job"
)

// troublePictures draws what can go wrong, on 120 by 90.
var troublePictures = map[job.TroubleCode]func(*canvas){
	job.Stuck: func(c *canvas) {
		c.circle("a-metal", 60, 45, 24).circle("a-bore", 60, 45, 11)
		c.arc("t-turn", 60, 45, 36, 300, 420)
		c.line("t-bad", 22, 74, 98, 16)
	},
	job.Rounded: func(c *canvas) {
		c.circle("a-metal", 60, 46, 30).circle("a-bore", 60, 46, 14)
		c.poly("t-bad", true, hexagon(60, 46, 38)...)
	},
	job.ThreadDamaged: func(c *canvas) {
		c.bolt(0)
		c.poly("t-bad", false, [2]float64{48, 42}, [2]float64{70, 50}, [2]float64{48, 58}, [2]float64{72, 66},
			[2]float64{50, 74})
	},
	job.Sheared: func(c *canvas) {
		c.rect("a-metal", 40, 6, 40, 16)
		c.poly("a-bore", true, [2]float64{50, 22}, [2]float64{70, 22}, [2]float64{70, 36}, [2]float64{60, 44},
			[2]float64{50, 38})
		c.poly("a-bore", true, [2]float64{50, 54}, [2]float64{60, 60}, [2]float64{70, 52}, [2]float64{70, 84},
			[2]float64{50, 84})
		c.line("t-bad", 38, 50, 82, 46)
	},
	job.WrongPart: func(c *canvas) {
		c.rect("a-metal", 16, 20, 34, 50)
		c.rect("a-metal", 72, 12, 34, 66)
		c.line("t-bad", 52, 40, 70, 40).line("t-bad", 52, 52, 70, 52).line("t-bad", 66, 30, 56, 62)
	},
	job.PartMissing: func(c *canvas) {
		c.rect("t-gap", 34, 18, 52, 54)
		c.text("t-sign", 60, 58, "middle", "?")
	},
	job.RingLeft: func(c *canvas) {
		c.circle("a-metal", 60, 45, 38).circle("a-bore", 60, 45, 26).circle("t-bad", 60, 45, 22)
		c.circle("a-light", 60, 45, 15)
	},
	job.JointApart: func(c *canvas) {
		c.rect("a-metal", 6, 38, 40, 14)
		c.circle("a-bore", 84, 45, 26)
		for _, y := range []float64{22, 45, 68} {
			c.circle("t-bad", 54, y, 6)
		}
	},
	job.PistonOut: func(c *canvas) {
		c.poly("a-metal", true, [2]float64{8, 14}, [2]float64{58, 14}, [2]float64{58, 26}, [2]float64{28, 26},
			[2]float64{28, 64}, [2]float64{58, 64}, [2]float64{58, 76}, [2]float64{8, 76})
		c.rect("t-bad", 68, 28, 36, 34)
	},
	job.OtherTrouble: func(c *canvas) {
		c.circle("a-dark", 34, 46, 7).circle("a-dark", 60, 46, 7).circle("a-dark", 86, 46, 7)
	},
	job.WholeJob: func(c *canvas) {
		pts := make([][2]float64, 8)
		for i := range pts {
			pts[i] = polar(60, 45, 40, 22.5+45*float64(i))
		}
		c.poly("t-stop", true, pts...)
		c.rect("a-light", 36, 38, 48, 14)
	},
}

// bolt draws a bolt from the side, its head down from the top by so much.
func (c *canvas) bolt(down float64) {
	c.rect("a-metal", 40, 6+down, 40, 16)
	c.rect("a-bore", 50, 22+down, 20, 62-down)
}

// Trouble draws what can go wrong; its words stand beside it.
func Trouble(code job.TroubleCode) template.HTML {
	c := newCanvas(120, 90, "")
	draw, ok := troublePictures[code]
	if !ok {
		return ""
	}
	draw(c)
	return c.silent("t-picture")
}
