package store

import (
	"context"
	"database/sql"
	"slices"
	"time"

	"lugtak/core/fault"
	"lugtak/core/record"
	"lugtak/core/vehicle"
)

// BeginSheet takes in a model with nothing known but how it is built.
func (s *Store) BeginSheet(ctx context.Context, id record.EventID, x vehicle.Sheet) error {
	return s.act(ctx, id, x.By, x.At, toBegun(x), nil)
}

func toBegun(x vehicle.Sheet) record.SheetBegun {
	return record.SheetBegun{Sheet: x.ID, Name: x.Name, Outline: x.Outline, Built: x.Built}
}

// TakeIn takes in a vehicle with the model that begins with it, both or none.
func (s *Store) TakeIn(
	ctx context.Context, id record.EventID, x vehicle.Sheet, v vehicle.Vehicle,
) (vehicle.Vehicle, error) {
	v.Pattern, v.Name = x.ID, x.Name
	v, err := checkVehicle(v)
	if err != nil {
		return v, err
	}
	if was, found := s.Vehicle(ctx, v.ID); found == nil && was != v {
		return v, fault.New(fault.Conflict, "id", "This form took in "+was.Fleet+" already.",
			"Open it, or reload the page for another vehicle.")
	}
	err = s.act(ctx, id, x.By, x.At, toBegun(x), func(tx *sql.Tx) error { return insertVehicle(ctx, tx, v, "") })
	if unique(err) {
		return v, errFleetTaken
	}
	return v, Unwritable(err)
}

// Sheets lists the models the shop itself took in, oldest first.
func (s *Store) Sheets(ctx context.Context) ([]vehicle.Sheet, error) {
	var out []vehicle.Sheet
	err := s.known(ctx, func(sh *shop) { out = slices.Clone(sh.sheets) })
	return out, err
}

// Learnt lists what was read and what was seen of the joints of a sheet, oldest first.
func (s *Store) Learnt(ctx context.Context, sheet string) (read []vehicle.Reading, seen []vehicle.Seen, err error) {
	err = s.known(ctx, func(sh *shop) {
		read = slices.Clone(sh.readings[sheet].readings)
		seen = slices.Clone(sh.jointsSeen[sheet])
	})
	return read, seen, err
}

// SeeJoint keeps what somebody saw of a joint on a vehicle of a sheet.
func (s *Store) SeeJoint(ctx context.Context, id record.EventID, x vehicle.Seen) error {
	return s.act(ctx, id, x.By, x.At, record.JointSeen{
		Sheet:  x.Sheet,
		Joint:  x.Joint,
		Absent: x.Absent,
		Count:  x.Count,
		Thread: x.Thread,
		Drive:  x.Drive,
		Socket: x.Socket,
		Title:  x.Title,
		Beside: x.Beside,
		Second: x.Second,
		Spot:   (*record.Point)(x.Spot),
	}, nil)
}

// KeepAccess keeps what a joint of a sheet took to reach.
func (s *Store) KeepAccess(ctx context.Context, id record.EventID, a vehicle.Access) error {
	return s.act(ctx, id, a.By, a.At, record.AccessKept{
		Sheet: a.Sheet, Joint: a.Joint, Socket: a.Socket, Drive: a.Drive, Extension: a.Extension, Blocked: a.Blocked,
	}, nil)
}

// Access lists what the joints of a sheet took to reach, oldest first.
func (s *Store) Access(ctx context.Context, sheet string) (out []vehicle.Access, err error) {
	err = s.known(ctx, func(sh *shop) { out = slices.Clone(sh.access[sheet]) })
	return out, err
}

// ReadFigures keeps the figures of joints of one sheet as one person read them, and tells every open job that uses
// one, all or none.
func (s *Store) ReadFigures(ctx context.Context, id record.EventID, list []vehicle.Reading) error {
	return s.actAndTell(ctx, id, list[0].By, toRead(list[0]), func(g *growth, told *telling) error {
		for i, r := range list {
			act := id
			if i > 0 {
				act = id.And(i)
			}
			if err := g.act(act, r.By, r.At, toRead(r)); err != nil {
				return err
			}
			var all readings
			err := s.known(ctx, func(sh *shop) { all = sh.readings[r.Sheet].byJoint()[r.Joint] })
			if err != nil {
				return err
			}
			if err := told.all(ctx, r.Sheet, stand(append(all.readings, r), append(all.acts, act))); err != nil {
				return err
			}
		}
		return nil
	})
}

func toRead(r vehicle.Reading) record.FigureRead {
	return record.FigureRead{
		Sheet:     r.Sheet,
		Joint:     r.Joint,
		Recipe:    r.Recipe,
		Thread:    r.Thread,
		Class:     r.Class,
		Treatment: r.Treatment,
		Condition: string(r.Condition),
		Renew:     r.Renew,
		Hardware:  r.Hardware,
		Drive:     r.Drive,
		Socket:    r.Socket,
		Count:     r.Count,
		Source:    r.Source,
		Page:      r.Page,
		Note:      r.Note,
		Hidden:    r.Hidden,
		Script:    r.Script,
		Photo:     r.Photo,
	}
}

// readings are figures read for a sheet, with the acts that tell of them.
type readings struct {
	readings []vehicle.Reading
	acts     []record.EventID
}

func (r readings) with(x vehicle.Reading, act record.EventID) readings {
	return readings{append(r.readings, x), append(r.acts, act)}
}

// byJoint parts them by their joints, each oldest first.
func (r readings) byJoint() map[string]readings {
	out := map[string]readings{}
	for i, x := range r.readings {
		out[x.Joint] = out[x.Joint].with(x, r.acts[i])
	}
	return out
}

// SetShop keeps what the shop decides for itself.
func (s *Store) SetShop(ctx context.Context, id record.EventID, by string, at time.Time, b record.ShopSet) error {
	return s.act(ctx, id, by, at, b, nil)
}

// ShopSet is what the shop decided for itself; nil where nobody has.
func (s *Store) ShopSet(ctx context.Context) (set *record.ShopSet, err error) {
	err = s.known(ctx, func(sh *shop) { set = sh.set })
	return set, err
}
