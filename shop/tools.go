package shop

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/plan"
	"lugtak/core/record"
	"lugtak/core/unit"
	"lugtak/core/wrench"
	"lugtak/store"
)

// maxHung is how many torque tools are hung at once.
const maxHung = 60

// maxNote bounds what is noted of a tool.
const maxNote = 200

// hung are the torque tools there are: the shop's own, and those of its library. Invented ones hang in the demo.
func (s *Shop) hung(ctx context.Context) ([]wrench.Tool, error) {
	own, err := s.Hung(ctx)
	own = slices.Concat(s.Library().Tools, own) // a copy: they are brought up to date
	return own, err
}

// HangTool puts a torque tool into the crib, or, where it has an id, in the place of what was said of it before. It
// is used by the calibration it came with, which wants the picture of its certificate, or by one that is logged. The
// tool comes back with its id.
func (s *Shop) HangTool(
	ctx context.Context,
	id record.EventID,
	t wrench.Tool,
	by string,
	role job.Role,
	photo []byte,
) (wrench.Tool, error) {
	if role != job.Foreman {
		return t, fault.New(fault.Role, "name", "Only a foreman hangs a torque tool.", "Ask the foreman.")
	}
	s.hanging.Lock() // or two of one name hang side by side
	defer s.hanging.Unlock()
	all, err := s.hung(ctx)
	if err != nil {
		return t, err
	}
	for _, text := range []*string{&t.Name, &t.Serial, &t.Certificate} {
		*text = strings.TrimSpace(*text)
	}
	if t.Name == "" {
		t.Name = t.Called()
	}
	if i := slices.IndexFunc(all, func(x wrench.Tool) bool { return x.Act == string(id) }); i >= 0 { // sent twice
		t.ID = all[i].ID
		return t, s.Store.HangTool(ctx, id, t, by, s.Now(), photo)
	}
	if t.ID == "" {
		err = paper(t, photo)
	} else {
		i := slices.IndexFunc(all, func(x wrench.Tool) bool { return x.ID == t.ID && x.Own })
		if i < 0 {
			return t, fault.New(fault.Missing, "tool", "The shop hung no such tool.", "Hang it as a new one.")
		}
		// Its pulls stand under its name in the journals, and what it came with is not changed afterwards.
		t.Name, t.Calibrated, t.Certificate, photo = all[i].Name, all[i].Calibrated, all[i].Certificate, nil
	}
	if err := cmp.Or(wrench.CheckTool(t, s.Now()), err, another(t, all)); err != nil {
		return t, err
	}
	t.ID = cmp.Or(t.ID, freeID(all))
	return t, s.Store.HangTool(ctx, id, t, by, s.Now(), photo)
}

// CheckTools says of each of some new torque tools what is wrong with it; nil where nothing is. Those without a name
// get one.
func (s *Shop) CheckTools(ctx context.Context, list []wrench.Tool) ([]error, error) {
	all, err := s.hung(ctx)
	if err != nil {
		return nil, err
	}
	var wrong []error
	for i := range list {
		t := &list[i]
		t.Name, t.Serial = strings.TrimSpace(t.Name), strings.TrimSpace(t.Serial)
		if t.Name == "" {
			t.Name = t.Called()
		}
		t.ID = freeID(all)
		wrong = append(wrong, cmp.Or(wrench.CheckTool(*t, s.Now()), another(*t, all)))
		all = append(all, *t)
	}
	return wrong, nil
}

// HangTools puts torque tools into the crib, all or none. None of them has a calibration: each is used once one is
// logged.
func (s *Shop) HangTools(ctx context.Context, id record.EventID, list []wrench.Tool, by string) error {
	s.hanging.Lock()
	defer s.hanging.Unlock()
	if done, err := s.Acted(ctx, id); err != nil || done {
		return err
	}
	if len(list) == 0 || len(list) > maxHung {
		return fault.New(fault.OutOfRange, "tools", "From one to sixty tools are hung at once.", "Name each of them.")
	}
	wrong, err := s.CheckTools(ctx, list)
	if err != nil {
		return err
	}
	for _, err := range wrong {
		if err != nil {
			return err
		}
	}
	return s.Store.HangTools(ctx, id, list, by, s.Now())
}

func freeID(all []wrench.Tool) string {
	for n := 1; ; n++ {
		id := fmt.Sprint("t", n)
		if !slices.ContainsFunc(all, func(x wrench.Tool) bool { return x.ID == id }) {
			return id
		}
	}
}

// paper wants the calibration that a tool comes with whole: its day and the picture of its certificate.
func paper(t wrench.Tool, photo []byte) error {
	switch {
	case t.Calibrated.IsZero() && len(photo) > 0:
		return fault.New(fault.Missing, "calibrated", "There is a picture, and no day of the calibration.",
			"Read the day and the number on the certificate.")
	case !t.Calibrated.IsZero() && len(photo) == 0:
		return errNoCertificate
	}
	return nil
}

// another refuses a tool that hangs already: under its name, or by its number under another one, as one that is out
// of use would come back with a new paper.
func another(t wrench.Tool, all []wrench.Tool) error {
	for _, x := range all {
		switch {
		case x.ID == t.ID:
		case unit.Fold(x.Name) == unit.Fold(t.Name):
			return fault.New(fault.Exists, "name", "A tool of that name hangs in the crib.",
				"Add what tells them apart, as its number.")
		case t.Serial != "" && unit.Fold(x.Serial) == unit.Fold(t.Serial):
			return fault.New(fault.Exists, "serial", "That number hangs in the crib as "+x.Name+".",
				"Say there what is otherwise, or calibrate it there.")
		}
	}
	return nil
}

var errNoCertificate = fault.New(fault.Missing, "photo", "There is no picture of the certificate.",
	"Take one: who looks next year has the paper before them.")

// ToolName is what a tool is called.
func (s *Shop) ToolName(id string) string {
	all, err := s.hung(s.ctx)
	if err != nil {
		s.Log.Warn("tools", "error", err)
	}
	return wrench.NameOf(all, id)
}

// Tools are the torque tools as they stand today: with the crib's log, the pulls made since, and whether anybody
// hears them.
func (s *Shop) Tools(ctx context.Context) ([]wrench.Tool, error) {
	log, err := s.CribLog(ctx)
	if err != nil {
		return nil, err
	}
	pulls, err := s.ToolPulls(ctx)
	if err != nil {
		return nil, err
	}
	out, err := s.hung(ctx)
	if err != nil {
		return nil, err
	}
	for i, t := range out {
		heard, err := s.hears(ctx, t.ID)
		if err != nil {
			return nil, err
		}
		out[i] = t.InUse(log, pulls[t.Name])
		out[i].Mute = t.Angle() && !heard
	}
	return out, nil
}

// hears says that a wrench's pulls come by themselves: it is wired to the shop, or has a token.
func (s *Shop) hears(ctx context.Context, tool string) (bool, error) {
	if s.Wired(tool) {
		return true, nil
	}
	return s.ToolSends(ctx, tool)
}

// Wired says that a wrench is wired to the shop, and can be played by hand.
func (s *Shop) Wired(tool string) bool { return s.Devices != nil && s.Devices.Wrench(tool) != nil }

// Tool is a torque tool as it stands today.
func (s *Shop) Tool(ctx context.Context, id string) (wrench.Tool, error) {
	all, err := s.Tools(ctx)
	if err != nil {
		return wrench.Tool{}, err
	}
	i := slices.IndexFunc(all, func(t wrench.Tool) bool { return t.ID == id })
	if i < 0 {
		return wrench.Tool{}, fault.New(fault.Missing, "tool", "The shop has no such wrench.", "Choose one of the list.")
	}
	return all[i], nil
}

// Clicker chooses the first wrench that clicks for a stage, without an adapter.
func (s *Shop) Clicker(ctx context.Context) func(*job.State, *plan.Joint, int) (wrench.Choice, bool) {
	tools, err := s.Tools(ctx)
	return func(st *job.State, j *plan.Joint, stage int) (wrench.Choice, bool) {
		if err != nil {
			return wrench.Choice{}, false
		}
		for _, t := range st.Wrenches(j, stage, tools, wrench.Adapter{}, s.Now()) {
			if t.Clicks() {
				return t, true
			}
		}
		return wrench.Choice{}, false
	}
}

// Adapter is an adapter of the shop; none where none is named.
func (s *Shop) Adapter(id string) (wrench.Adapter, error) {
	if id == "" {
		return wrench.Adapter{}, nil
	}
	a, ok := s.Library().Adapter(id)
	if !ok {
		return a, fault.New(fault.Missing, "adapter", "The shop has no such adapter.", "Choose one of the list.")
	}
	return a, nil
}

// LogTool puts a line into the crib's log: a calibration by what it was held against, with the
// photograph of its certificate, or a tool that goes out of use or comes back.
func (s *Shop) LogTool(
	ctx context.Context,
	id record.EventID,
	t wrench.Tool,
	l wrench.Logged,
	role job.Role,
	photo []byte,
) error {
	if err := mayLog(t, l, role, photo); err != nil {
		return err
	}
	return s.Store.LogTool(ctx, id, l, photo)
}

func mayLog(t wrench.Tool, l wrench.Logged, role job.Role, photo []byte) error {
	if len(l.Note) > maxNote {
		return fault.New(fault.TooLong, "note", "That is too long.", "Keep it under 200 characters.")
	}
	switch l.Kind {
	case wrench.LogCheck:
		if err := wrench.CheckFault(t, l.Points); err != nil {
			return err
		}
		if err := wrench.CheckNamed(l); err != nil {
			return err
		}
		if l.Second != "" && store.SameName(l.By, l.Second) {
			return errSameSecond
		}
		if len(photo) == 0 {
			return errNoCertificate
		}
		return nil
	case wrench.LogRetire:
		if l.Note == "" {
			return fault.New(fault.Missing, "note", "It is not said why.", "Write what happened to it, in a few words.")
		}
		return nil
	case wrench.LogReturn:
		if role != job.Foreman {
			return fault.New(fault.Role, "note", "Only a foreman puts a tool back into use.",
				"Ask the foreman, or calibrate it.")
		}
		return nil
	}
	return fault.New(fault.BadChoice, "kind", "That is not done to a tool.",
		"Calibrate it, take it out of use or put it back.")
}
