package web

import (
	"bytes"
	"fmt"
	"strings"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/job"
	pages "lugtak/pages/report"
	"lugtak/report"
	"lugtak/shop"
	"lugtak/web/api"
	"lugtak/web/kit"
)

// file sends what a job is written to, under a name made of fleet number and
// operation.
func (s *Server) file(c fiber.Ctx, ext, kind string, write func(*job.State, *shop.JobFile) ([]byte, error)) error {
	id := c.Params("job")
	st, err := s.Shop.Job(c.Context(), id)
	if err != nil {
		return err
	}
	f, err := s.Shop.Journal(c.Context(), id)
	if err != nil {
		return err
	}
	data, err := write(st, f)
	if err != nil {
		return err
	}
	name := strings.Map(func(r rune) rune {
		if r >= 'a' && r <= 'z' || r >= '0' && r <= '9' {
			return r
		}
		return '-'
	}, strings.ToLower(st.Vehicle.Fleet+"-"+st.Plan.Title))
	c.Set("Content-Type", kind)
	c.Set("Content-Disposition", fmt.Sprintf(`attachment; filename="%s-%s.%s"`, name, st.Started.Format("20060102"), ext))
	return c.Send(data)
}

// report shows the report as a page: the same as on paper.
func (s ledgerRoom) report(c fiber.Ctx, st *job.State) error {
	f, err := s.Shop.Journal(c.Context(), st.ID)
	if err != nil {
		return err
	}
	src, err := s.reported(c, st, f)
	if err != nil {
		return err
	}
	return s.show(c, 200, pages.Page(src))
}

func (s ledgerRoom) reportPDF(c fiber.Ctx) error {
	return s.file(c, "pdf", "application/pdf", func(st *job.State, f *shop.JobFile) ([]byte, error) {
		var b bytes.Buffer
		src, err := s.reported(c, st, f)
		if err != nil {
			return nil, err
		}
		if src.Record, err = f.Text(); err == nil {
			err = report.PDF(&b, src)
		}
		return b.Bytes(), err
	})
}

// reportFile sends the report as one file that proves itself.
func (s ledgerRoom) reportFile(c fiber.Ctx) error {
	return s.file(c, "html", "text/html; charset=utf-8", func(st *job.State, f *shop.JobFile) ([]byte, error) {
		src, err := s.reported(c, st, f)
		if err != nil {
			return nil, err
		}
		record, err := f.Text()
		if err != nil {
			return nil, err
		}
		return pages.File(src, record, f.Key, s.Shop.Now(), s.Shop.Sign)
	})
}

// reported is what a report is made from: the job, the crib as it stands, the photographs,
// and how the journal ends.
func (s ledgerRoom) reported(c fiber.Ctx, st *job.State, f *shop.JobFile) (report.Source, error) {
	src := report.Source{
		Shop:    s.Shop.Library().Shop.Name,
		Contact: s.Shop.Library().Shop.Contact,
		State:   st,
		Photos:  map[string][]byte{},
		Hash:    f.Hash(),
		Key:     f.Fingerprint(),
	}
	var err error
	if src.FileAt, err = s.Shop.HeadAt(c.Context(), st.ID); err != nil {
		return src, err
	}
	if src.Tools, err = s.Shop.Tools(c.Context()); err != nil {
		return src, err
	}
	for _, x := range st.Findings {
		if !x.Photo {
			continue
		}
		if src.Photos[x.ID], err = s.Shop.Photo(c.Context(), st.ID, x.ID); err != nil {
			return src, err
		}
	}
	return src, nil
}

func (s ledgerRoom) ledgerCSV(c fiber.Ctx) error {
	return s.file(c, "csv", "text/csv; charset=utf-8", func(st *job.State, _ *shop.JobFile) ([]byte, error) {
		var b bytes.Buffer
		err := report.CSV(&b, st)
		return b.Bytes(), err
	})
}

func (s ledgerRoom) jobJSON(c fiber.Ctx) error {
	return s.file(c, "json", "application/json", func(_ *job.State, f *shop.JobFile) ([]byte, error) {
		if c.Method() == fiber.MethodHead { // nothing leaves
			return f.Text()
		}
		by := api.Signs(c)
		if by == "" {
			by = kit.Session(c).Person.Name
		}
		return s.Shop.Export(c.Context(), f.Job, by, s.Shop.Now())
	})
}
