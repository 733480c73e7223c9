package job

import (
	"slices"
	"time"

	"lugtak/core/fault"
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/record"
)

// Photo is how something was before it was opened: a hose's run, a stack, which way round.
type Photo struct {
	ID    string
	Job   string
	Step  operation.StepID
	Place string // one of PlacesOf
	By    string
	At    time.Time
}

// Photograph keeps a photograph of what a step is about to open, as a JPEG.
type Photograph struct {
	Step  operation.StepID
	Photo []byte
}

// mostPhotos bounds those of one job: its file stays well within what is read of one.
const mostPhotos = 24

// PlacesOf are what a step works at, the same in every job of the vehicle: the joint by its specification, else at a
// corner the facts it brings about. Steps that open something and steps that close it share a place.
func (s *State) PlacesOf(st *plan.Step) []string {
	at := ""
	if st.Corner != "" {
		at = "@" + string(st.Corner)
	}
	if j := s.Plan.Joint(st.Joint); j != nil {
		return []string{j.Sheet + at}
	}
	var out []string
	for _, m := range st.Makes {
		if at != "" {
			out = append(out, m.Fact.Subject+at)
		}
	}
	return out
}

// Opens is the place a step opens, which a later one comes back to; empty where nothing is opened by it: it puts
// something back, or drives, or nobody comes back.
func (s *State) Opens(st *plan.Step) (place string) {
	switch st.Verb {
	case operation.Start, operation.Tighten, operation.Drive, operation.Move, operation.Soak:
		return ""
	}
	own := s.PlacesOf(st)
	for i := s.stepNo(st.ID) + 1; i < len(s.Plan.Steps); i++ {
		for _, p := range s.PlacesOf(&s.Plan.Steps[i]) {
			if slices.Contains(own, p) {
				return p
			}
		}
	}
	return ""
}

func (s *State) decidePhotograph(m Meta, b Photograph) (record.Body, error) {
	st, place := s.Plan.Step(b.Step), ""
	if st != nil {
		place = s.Opens(st)
	}
	switch {
	case st == nil:
		return nil, refuse(fault.Missing, "step", "The plan has no such step.", "Open the step on the bench.")
	case len(b.Photo) == 0:
		return nil, refuse(fault.Missing, "photo", "No picture came with it.", "Take it again.")
	case len(b.Photo) > maxPhoto:
		return nil, refuse(fault.TooLong, "photo", "The picture is too large.", "Take a smaller one.")
	case len(s.Photos) >= mostPhotos:
		return nil, refuse(fault.TooLong, "photo", "This job has as many pictures as it may have.",
			"Go on without, or put it into a finding.")
	case place == "":
		return nil, refuse(fault.BadChoice, "step", "Nothing is opened by this step.",
			"Take it at the step that opens it; as a finding where something is seen.")
	case s.StepDone(st.ID) && !m.At.Before(s.Steps[st.ID].At):
		return nil, refuse(fault.Order, "step", "That is open by now: this is no picture of how it was.",
			"Put it into a finding where it shows something.")
	}
	return record.Photographed{Step: string(st.ID), Place: place, Photo: b.Photo}, nil
}

func (s *State) applyPhotographed(e Event, b record.Photographed) {
	s.Photos = append(s.Photos, Photo{string(e.ID), s.ID, operation.StepID(b.Step), b.Place, e.By, e.At})
}

// PhotosAt are those of this job at the places of a step, that were taken at it or at a step before it.
func (s *State) PhotosAt(st *plan.Step) []Photo {
	places, own := s.PlacesOf(st), s.stepNo(st.ID)
	var out []Photo
	for _, p := range s.Photos {
		if slices.Contains(places, p.Place) && s.stepNo(p.Step) <= own {
			out = append(out, p)
		}
	}
	return out
}

func (s *State) stepNo(id operation.StepID) int {
	return slices.IndexFunc(s.Plan.Steps, func(st plan.Step) bool { return st.ID == id })
}
