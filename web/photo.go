package web

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/jpeg"
	_ "image/png" // photographs may be
	"io"

	"github.com/gofiber/fiber/v3"
	scale "golang.org/x/image/draw"
	"golang.org/x/sync/semaphore"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/web/kit"
)

// find notes something outside the job, with a photograph if one was taken.
func (s walkRoom) find(c fiber.Ctx) error {
	in := kit.Read[struct {
		acted        // where it was seen, from the bench
		Text  string `form:"text"`
	}](c)
	f := job.Find{Text: in.Text}
	if st, err := s.jobOf(c); err == nil && st.HasPlan() {
		if at := st.Plan.Step(in.Step); at != nil {
			f.Place = at.Place
			if at.Corner != "" {
				f.Place = at.Corner.Axle() + " " + at.Corner.Side() + ", " + at.Place
			}
		}
	}
	var err error
	if f.Photo, err = photoOf(c); err != nil {
		return s.onWalk(c, "finding", err)
	}
	_, err = s.record(c, f)
	if err == nil && in.Step != "" {
		return kit.Go(c, "/jobs/"+c.Params("job")+"/bench?step="+string(in.Step))
	}
	return s.onWalk(c, "finding", err)
}

// photoOf is the photograph a form came with, made small; nil where it came with none.
func photoOf(c fiber.Ctx) ([]byte, error) {
	fh, err := c.FormFile("photo")
	if err != nil || fh.Size == 0 {
		return nil, nil
	}
	file, err := fh.Open()
	if err != nil {
		return nil, err
	}
	defer file.Close()
	return shrink(c.Context(), file)
}

// Bounds on a photograph: as many pixels as a phone makes, and as much memory as one takes
// while it is read; the others wait.
const (
	photoEdge   = 1280 // pixels of the longer side
	photoPixels = 50e6 // of a JPEG, three bytes each at the most
	plainPixels = 15e6 // of a PNG, eight
)

var onePhoto = semaphore.NewWeighted(1)

// shrink checks that a file is a photograph and makes it small enough for the
// journal.
func shrink(ctx context.Context, r io.Reader) ([]byte, error) {
	bad := fault.New(fault.BadFile, "photo", "That is no photograph.", "Choose a JPEG or PNG.")
	if err := onePhoto.Acquire(ctx, 1); err != nil {
		return nil, err
	}
	defer onePhoto.Release(1)
	data, err := io.ReadAll(r)
	if err != nil {
		return nil, bad
	}
	cfg, kind, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil || cfg.Width < 8 || cfg.Height < 8 {
		return nil, bad
	}
	most := photoPixels
	if kind == "png" {
		most = plainPixels
	}
	if float64(cfg.Width)*float64(cfg.Height) > most {
		return nil, fault.New(fault.TooLong, "photo", fmt.Sprintf("The picture has %d × %d pixels.", cfg.Width, cfg.Height),
			fmt.Sprintf("Take it with at most %.0f megapixels, as a JPEG.", most/1e6))
	}
	img, _, err := image.Decode(bytes.NewReader(data))
	if err != nil {
		return nil, bad
	}
	w, h := cfg.Width, cfg.Height
	if k := float64(photoEdge) / float64(max(w, h)); k < 1 {
		w, h = max(1, int(float64(w)*k)), max(1, int(float64(h)*k))
	}
	small := image.NewRGBA(image.Rect(0, 0, w, h))
	scale.CatmullRom.Scale(small, small.Bounds(), img, img.Bounds(), scale.Src, nil)
	var b bytes.Buffer
	err = jpeg.Encode(&b, small, &jpeg.Options{Quality: 75})
	return b.Bytes(), err
}

func (s walkRoom) photo(c fiber.Ctx) error {
	data, err := s.Shop.Photo(c.Context(), c.Params("job"), c.Params("event"))
	if err != nil {
		return err
	}
	return sendPhoto(c, data)
}

func sendPhoto(c fiber.Ctx, data []byte) error {
	if data == nil {
		return fault.New(fault.NotFound, "", "There is no such photograph.", "Go back to where it was taken.")
	}
	c.Set("Content-Type", "image/jpeg")
	c.Set("Cache-Control", "private, max-age=86400")
	return c.Send(data)
}
