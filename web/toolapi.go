package web

import (
	"encoding/json"
	"strings"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/claim"
	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/operation"
	"lugtak/core/pull"
	"lugtak/core/recipe"
	"lugtak/core/wrench"
	"lugtak/reckon"
)

// toolRoom answers for tools that send by themselves.
type toolRoom struct{ *Server }

// How a real tool sends by itself: with a token of its own it asks what it was taken
// for, and sends what it read under that claim. docs/TOOLS.md tells it whole.

// asked is what a tool is told of the fastener it was taken for.
type asked struct {
	Claim     string  `json:"claim"`
	By        string  `json:"by"` // who took it: a tool with a display shows it
	Job       string  `json:"job"`
	Step      string  `json:"step"`
	Joint     string  `json:"joint"`
	Letter    string  `json:"letter"`
	Says      string  `json:"says"`
	Kind      string  `json:"kind"` // torque or angle
	LowNm     float64 `json:"low_nm,omitempty"`
	TargetNm  float64 `json:"target_nm,omitempty"`
	HighNm    float64 `json:"high_nm,omitempty"`
	LowDeg    float64 `json:"low_deg,omitempty"`
	TargetDeg float64 `json:"target_deg,omitempty"`
	HighDeg   float64 `json:"high_deg,omitempty"`
}

// sent is what a tool sends: its samples, or the torque and angle it came to.
type sent struct {
	ID      string       `json:"id"` // made by the tool: a repeat is harmless
	Claim   string       `json:"claim"`
	Samples [][3]float64 `json:"samples,omitempty"` // s, degrees, N·m
	PeakNm  float64      `json:"peak_nm,omitempty"`
	TurnDeg float64      `json:"turn_deg,omitempty"`
}

// judged is what it came to.
type judged struct {
	Seq       int           `json:"seq"`
	Signature string        `json:"signature"`
	Verdict   string        `json:"verdict"`
	Reasons   []pull.Reason `json:"reasons"`
}

// toolOf lets a tool in by its token.
func (s toolRoom) toolOf(c fiber.Ctx) (wrench.Tool, error) {
	secret, _ := strings.CutPrefix(c.Get("Authorization"), "Bearer ")
	id, err := s.Shop.ToolOf(c.Context(), secret)
	if err != nil {
		return wrench.Tool{}, err
	}
	if secret == "" || id == "" {
		return wrench.Tool{}, fault.New(fault.SignedOut, "Authorization", "No tool has this token.",
			"Send “Authorization: Bearer …” with the token the foreman made in the crib.")
	}
	return s.Shop.Tool(c.Context(), id)
}

// toolClaim tells a tool what it was taken for.
func (s toolRoom) toolClaim(c fiber.Ctx) error {
	t, err := s.toolOf(c)
	if err != nil {
		return err
	}
	k, ok := s.Shop.Holding(t.ID)
	a, aimed := s.Shop.AimOf(c.Context(), k)
	if !ok || !aimed {
		return fault.New(
			fault.NotFound,
			"claim",
			"Nobody has taken this tool for a fastener.",
			"Take it on the bench, then ask again.",
		)
	}
	st, err := s.Shop.Job(c.Context(), k.Job)
	if err != nil {
		return err
	}
	stage := st.Stages(k.Joint)[st.Fastener(k.Joint, k.Letter).Done].Freeze()
	out := asked{
		Claim:  k.ID,
		By:     k.By,
		Job:    k.Job,
		Step:   k.Step,
		Joint:  k.Joint,
		Letter: k.Letter,
		Says:   a.Says,
		Kind:   string(stage.Kind),
	}
	switch stage.Kind {
	case recipe.Torque:
		out.LowNm, out.TargetNm, out.HighNm = stage.Low, stage.Target(), stage.High
	case recipe.Angle:
		out.LowDeg, out.TargetDeg, out.HighDeg = stage.Low, stage.Target(), stage.High
	}
	return c.JSON(out)
}

// toolPull takes what a tool has read.
func (s toolRoom) toolPull(c fiber.Ctx) error {
	t, err := s.toolOf(c)
	if err != nil {
		return err
	}
	var in sent
	if err := json.Unmarshal(c.Body(), &in); err != nil {
		return fault.New(fault.BadJSON, "", "This is not JSON: "+err.Error()+".", "Send one object, as docs/TOOLS.md says.")
	}
	if in.ID == "" {
		return fault.New(
			fault.Missing,
			"id",
			"The pull has no id.",
			"Make a new one for each pull, and send it again with a repeat.",
		)
	}
	st, err := s.jobOf(c)
	if err != nil {
		return err
	}
	if p := st.Pulls[in.ID]; p != nil && p.Claim == in.Claim { // sent again: it is recorded
		return c.JSON(judgedOf(p))
	}
	k, ok := s.Shop.Holding(t.ID)
	if !ok || k.ID != in.Claim || k.Job != st.ID {
		return claim.Gone()
	}
	cmd := job.Trace{
		Step:    operation.StepID(k.Step),
		Joint:   k.Joint,
		Letter:  k.Letter,
		Tool:    t,
		ToolID:  t.ID,
		Claim:   k,
		PeakNm:  in.PeakNm,
		TurnDeg: in.TurnDeg,
	}
	for _, x := range in.Samples {
		cmd.Samples = append(cmd.Samples, pull.Sample{T: x[0], Angle: x[1], Torque: x[2]})
	}
	st, id, err := s.Shop.RecordClaimed(in.ID, k, cmd)
	if err != nil {
		return err
	}
	s.Shop.Used(k)
	p := st.Pulls[id]
	s.Shop.Hub.Send("job:"+st.ID, "end", map[string]any{
		"says": p.Result.Reasons[0].Message,
		"good": p.Result.Verdict == pull.Keep,
		"pull": id,
	})
	return c.Status(fiber.StatusCreated).JSON(judgedOf(p))
}

func judgedOf(p *job.Pull) judged {
	return judged{
		Seq:       p.Seq,
		Signature: string(p.Result.Signature),
		Verdict:   string(p.Result.Verdict),
		Reasons:   p.Result.Reasons,
	}
}

// toolCalls are the two addresses as the OpenAPI text tells them.
var toolCalls = []reckon.Call{
	{
		Path:    "/api/v1/tools/claim",
		Method:  "get",
		Name:    "tool-claim",
		Title:   "What this tool was taken for",
		Says:    "With the tool's own token. 404 where nobody has taken it.",
		Out:     asked{},
		Refuses: []int{401, 404},
	},
	{
		Path:    "/api/v1/jobs/{job}/pulls",
		Method:  "post",
		Name:    "tool-pull",
		Title:   "What this tool has read",
		Says:    "Under the claim it was told. 409 where the claim has ended meanwhile.",
		Made:    true,
		In:      sent{},
		Out:     judged{},
		Refuses: []int{401, 409, 422},
	},
}
