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
	Place string // see PlaceOf
	By    string
	At    time.Time
}

// Photograph keeps a photograph of what a step is about to open, as a JPEG.
type Photograph struct {
	Step  operation.StepID
	Photo []byte
}

// mostPhotos bounds those of one job.
const mostPhotos = 60

// PlaceOf is what a step works at, the same in every job of the vehicle: the joint by its specification, else the
// operation or way, and the corner. Steps that open it and steps that close it are at one place.
func (s *State) PlaceOf(st *plan.Step) string {
	place := st.Owner
	if j := s.Plan.Joint(st.Joint); j != nil {
		place = j.Sheet
	}
	if st.Corner != "" {
		place += "@" + string(st.Corner)
	}
	return place
}

// Opens says that a photograph of a step is one of how it was: nothing is put back by it, nor driven, and something at
// its place comes after it.
func (s *State) Opens(st *plan.Step) bool {
	switch st.Verb {
	case operation.Start, operation.Tighten, operation.Drive, operation.Move, operation.Soak:
		return false
	}
	place, own := s.PlaceOf(st), s.stepNo(st.ID)
	for i := own + 1; i < len(s.Plan.Steps); i++ {
		if s.PlaceOf(&s.Plan.Steps[i]) == place {
			return true
		}
	}
	return false
}

func (s *State) decidePhotograph(_ Meta, b Photograph) (record.Body, error) {
	st := s.Plan.Step(b.Step)
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
	case !s.Opens(st):
		return nil, refuse(fault.BadChoice, "step", "Nothing is opened by this step.",
			"Take it at the step that opens it; as a finding where something is seen.")
	}
	return record.Photographed{Step: string(st.ID), Place: s.PlaceOf(st), Photo: b.Photo}, nil
}

func (s *State) applyPhotographed(e Event, b record.Photographed) {
	s.Photos = append(s.Photos, Photo{string(e.ID), s.ID, operation.StepID(b.Step), b.Place, e.By, e.At})
}

// PhotosAt are those of this job at the place of a step, that were taken at it or at a step before it.
func (s *State) PhotosAt(st *plan.Step) []Photo {
	place, own := s.PlaceOf(st), s.stepNo(st.ID)
	var out []Photo
	for _, p := range s.Photos {
		if p.Place == place && s.stepNo(p.Step) <= own {
			out = append(out, p)
		}
	}
	return out
}

func (s *State) stepNo(id operation.StepID) int {
	return slices.IndexFunc(s.Plan.Steps, func(st plan.Step) bool { return st.ID == id })
}
