package web

import (
	"errors"
	"net/url"
	"strings"

	"github.com/gofiber/fiber/v3"

	"lugtak/core/fault"
	"lugtak/core/unit"
	"lugtak/pages/fleet"
	"lugtak/shop"
	"lugtak/web/kit"
)

// tagsSheet is how many tags are printed at once.
const tagsSheet = 60

// Kinds of code: what the letter before the dot stands for.
const (
	tagVehicle = "v"
	tagTool    = "t"
	tagTray    = "y" // job and tray
)

// newTag draws a tag. Its code is an address of this shop.
func newTag(c fiber.Ctx, kind, id, name, says, typed string) (fleet.Tag, error) {
	at := c.Scheme() + "://" + c.Host() + "/scan?code=" + url.QueryEscape(kind+"."+id)
	return fleet.NewTag(at, name, says, typed)
}

// tags is a sheet for the fleet, for the crib, or for the trays of a job.
func (s fleetRoom) tags(c fiber.Ctx) error {
	in := kit.Read[struct {
		Of   string `form:"of"`
		Job  string `form:"job"`
		Find string `form:"q"`
	}](c)
	v := fleet.Tags{Find: in.Find}
	var err error
	switch {
	case in.Job != "":
		err = s.trayTags(c, &v, in.Job)
	case in.Of == "tools":
		err = s.toolTags(c, &v)
	default:
		err = s.vehicleTags(c, &v)
	}
	if err != nil {
		return err
	}
	return s.show(c, 200, v.Page())
}

func (s fleetRoom) vehicleTags(c fiber.Ctx, v *fleet.Tags) error {
	v.Title, v.Back, v.Finds = "Tags of the fleet", "/fleet", true
	some, of, err := s.Shop.FindVehicles(c.Context(), v.Find, 0, tagsSheet)
	if err != nil {
		return err
	}
	v.More = of - len(some)
	for _, x := range some {
		t, err := newTag(c, tagVehicle, x.ID, x.Fleet, x.Name+" "+x.Plate, x.Fleet)
		if err != nil {
			return err
		}
		v.Tags = append(v.Tags, t)
	}
	return nil
}

func (s fleetRoom) toolTags(c fiber.Ctx, v *fleet.Tags) error {
	v.Title, v.Back = "Tags of the crib", "/crib"
	tools, err := s.Shop.Tools(c.Context())
	if err != nil {
		return err
	}
	for _, x := range tools {
		t, err := newTag(c, tagTool, x.ID, x.Name, "to "+unit.Torque(x.MaxNm).Both(), x.ID)
		if err != nil {
			return err
		}
		v.Tags = append(v.Tags, t)
	}
	return nil
}

func (s fleetRoom) trayTags(c fiber.Ctx, v *fleet.Tags, id string) error {
	st, err := s.Shop.Job(c.Context(), id)
	if err != nil {
		return err
	}
	v.Title, v.Back = "Tags of the trays, "+st.Vehicle.Fleet, "/jobs/"+id+"/plan"
	for _, x := range st.Trays() {
		typed := st.Vehicle.Fleet + " " + x.Name
		t, err := newTag(c, tagTray, id+"."+x.Joint.ID, x.Name, st.Vehicle.Fleet+" "+x.Joint.Title, typed)
		if err != nil {
			return err
		}
		v.Tags = append(v.Tags, t)
	}
	return nil
}

// scan goes where a tag leads; without one it opens the camera, or a field to type in.
func (s fleetRoom) scan(c fiber.Ctx) error {
	text := strings.TrimSpace(c.Query("code"))
	if text == "" {
		return s.show(c, 200, fleet.Scan{}.Page())
	}
	text = text[:min(len(text), mostFind)]
	to, err := s.leads(c, text)
	if err != nil {
		return err
	}
	if to == "" {
		f := fault.New(fault.NotFound, "code", "No vehicle, tool or tray here has the tag “"+text+"”.",
			"Type what stands below the code: a fleet number, a tool, or a fleet number with a tray, as Q-14 FL 2.")
		return s.show(c, fiber.StatusNotFound, fleet.Scan{Typed: text, Fault: f}.Page())
	}
	return kit.See(c, to)
}

// alike is how many vehicles that have some letters are compared with what was typed.
const alike = 500

// leads is the address a tag leads to; empty where it is none of this shop.
func (s fleetRoom) leads(c fiber.Ctx, text string) (string, error) {
	if u, err := url.Parse(text); err == nil &&
		u.Query().Get("code") != "" { // a code read whole, of whatever name the shop has
		text = u.Query().Get("code")
	}
	kind, id, _ := strings.Cut(text, ".")
	if kind == tagVehicle {
		v, err := s.Shop.Vehicle(c.Context(), id)
		if err == nil || !errors.Is(err, shop.ErrNoVehicle) {
			return "/vehicles/" + v.ID, err
		}
	}
	some, _, err := s.Shop.FindVehicles(c.Context(), text, 0, alike)
	if err != nil {
		return "", err
	}
	for _, v := range some {
		if same(text, v.Fleet) || same(text, v.Plate) || same(text, v.VIN) {
			return "/vehicles/" + v.ID, nil
		}
	}
	tools, err := s.Shop.Tools(c.Context())
	if err != nil {
		return "", err
	}
	for _, t := range tools {
		if kind == tagTool && t.ID == id || same(text, t.ID) || same(text, t.Name) {
			return "/crib#" + t.ID, nil
		}
	}
	if jobID, joint, ok := strings.Cut(id, "."); ok && kind == tagTray {
		st, err := s.Shop.Job(c.Context(), jobID)
		if fault.As(err) == nil && err != nil {
			return "", err
		}
		if err == nil && st.Plan.Joint(joint) != nil {
			return trayAt(jobID, joint), nil
		}
	}
	open, err := s.Shop.OpenJobs(c.Context())
	if err != nil {
		return "", err
	}
	for _, r := range open {
		st, err := s.Shop.Job(c.Context(), r.ID)
		if err != nil {
			return "", err
		}
		for _, t := range st.Trays() {
			if same(text, st.Vehicle.Fleet+" "+t.Name) {
				return trayAt(r.ID, t.Joint.ID), nil
			}
		}
	}
	return "", nil
}

// same compares what is typed with a name; an empty name is nobody's.
func same(typed, name string) bool { return name != "" && unit.Fold(typed) == unit.Fold(name) }

// trayAt is where a tray stands in the plan.
func trayAt(job, joint string) string {
	return "/jobs/" + job + "/plan#tray-" + strings.ReplaceAll(joint, ".", "-")
}
