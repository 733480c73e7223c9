package store

import (
	"context"
	"database/sql"
	"fmt"
	"strings"

	"lugtak/core/fault"
	"lugtak/core/record"
	"lugtak/core/vehicle"
)

// Lists of vehicles and people are taken whole or not at all, in one transaction with the act
// that says who took them, from where, and the digest of the list.

// Checked is a row of a list with what is wrong with it; nil where nothing is.
type Checked[T any] struct {
	Is    T
	Fault error
}

// CheckVehicles holds vehicles against one another and against the fleet.
func (s *Store) CheckVehicles(ctx context.Context, list []vehicle.Vehicle) ([]Checked[vehicle.Vehicle], error) {
	fleet, err := s.Vehicles(ctx)
	if err != nil {
		return nil, err
	}
	taken := map[string]string{}
	for _, v := range fleet {
		taken[strings.ToLower(v.Fleet)] = "in the fleet already"
	}
	var out []Checked[vehicle.Vehicle]
	for i, v := range list {
		v, err := checkVehicle(v)
		key := strings.ToLower(v.Fleet)
		if where := taken[key]; err == nil && where != "" {
			err = fault.New(
				fault.Exists,
				"fleet",
				"The fleet number "+v.Fleet+" is "+where+".",
				"Leave the row out, or correct the number.",
			)
		}
		if taken[key] == "" {
			taken[key] = fmt.Sprintf("on row %d too", i+1)
		}
		out = append(out, Checked[vehicle.Vehicle]{v, err})
	}
	return out, nil
}

// TakeVehicles takes a list of vehicles into the fleet.
func (s *Store) TakeVehicles(
	ctx context.Context,
	id record.EventID,
	list []vehicle.Vehicle,
	src Source,
	digest string,
) error {
	checked, err := s.CheckVehicles(ctx, list)
	if err != nil {
		return err
	}
	for _, c := range checked {
		if c.Fault != nil {
			return s.unlessTaken(ctx, id, c.Fault)
		}
	}
	body := record.FleetImported{What: "vehicles", From: src.From, Rows: len(list), Hash: digest}
	return s.act(ctx, id, src.By, src.At, body, func(tx *sql.Tx) error {
		for _, c := range checked {
			if err := insertVehicle(ctx, tx, c.Is, ""); err != nil {
				return err
			}
		}
		return nil
	})
}

// unlessTaken is a fault of a list, unless that list is in already: sent again it is harmless.
func (s *Store) unlessTaken(ctx context.Context, id record.EventID, bad error) error {
	in, err := s.Acted(ctx, id)
	if err != nil || in {
		return err
	}
	return bad
}

// Acted says that an act of this id was done.
func (s *Store) Acted(ctx context.Context, id record.EventID) (done bool, err error) {
	err = s.known(ctx, func(sh *shop) { _, done = sh.seen[string(id)] })
	return done, err
}

// CheckPeople holds people against one another and against those here.
func (s *Store) CheckPeople(ctx context.Context, list []NewPerson) ([]Checked[NewPerson], error) {
	var out []Checked[NewPerson]
	seen := map[string]int{}
	for i, p := range list {
		p, err := s.checkPerson(ctx, p)
		if err != nil && fault.As(err) == nil {
			return nil, err
		}
		key, bad := NameKey(p.Name)
		if first, twice := seen[key]; bad == nil && twice && err == nil {
			err = fault.New(fault.Exists, "name", fmt.Sprintf("The name is that of row %d too.", first),
				"Add something that tells them apart.")
		}
		if _, twice := seen[key]; !twice {
			seen[key] = i + 1
		}
		out = append(out, Checked[NewPerson]{p, err})
	}
	return out, nil
}

// TakePeople lets a list of people sign in.
func (s *Store) TakePeople(ctx context.Context, id record.EventID, list []NewPerson, src Source, digest string) error {
	checked, err := s.CheckPeople(ctx, list)
	if err != nil {
		return err
	}
	for _, c := range checked {
		if c.Fault != nil {
			return s.unlessTaken(ctx, id, c.Fault)
		}
	}
	var people []added
	var acts []beside
	for _, c := range checked {
		x := personOf(c.Is)
		people = append(people, x)
		acts = append(acts, beside{record.EventID("person:" + x.person.ID), x.body})
	}
	body := record.FleetImported{What: "people", From: src.From, Rows: len(list), Hash: digest}
	return s.act(ctx, id, src.By, src.At, body, func(tx *sql.Tx) error {
		for _, x := range people {
			if err := x.insert(ctx, tx); err != nil {
				return err
			}
		}
		return nil
	}, acts...)
}
