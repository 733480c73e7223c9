package shop

import (
	"context"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/record"
	"lugtak/core/wrench"
	"lugtak/store"
)

// maxNote bounds what is noted of a tool.
const maxNote = 200

// LogTool puts a line into the crib's log: a calibration by what it was held against, with the
// photograph of its certificate, or a tool that goes out of use or comes back.
func (s Shop) LogTool(
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
		return fault.New(job.CodeLong, "note", "That is too long.", "Keep it under 200 characters.")
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
			return fault.New(job.CodeMissing, "photo", "There is no picture of the certificate.",
				"Take one: who looks next year has the paper before them.")
		}
		return nil
	case wrench.LogRetire:
		if l.Note == "" {
			return fault.New(job.CodeMissing, "note", "It is not said why.", "Write what happened to it, in a few words.")
		}
		return nil
	case wrench.LogReturn:
		if role != job.Foreman {
			return fault.New(job.CodeRole, "note", "Only a foreman puts a tool back into use.",
				"Ask the foreman, or calibrate it.")
		}
		return nil
	}
	return fault.New(job.CodeChoice, "kind", "That is not done to a tool.",
		"Calibrate it, take it out of use or put it back.")
}
