package store

import (
	"context"
	"database/sql"
	"strings"
	"unicode"
	"unicode/utf8"

	"github.com/google/uuid"

	"lugtak/core/fault"
	"lugtak/core/job"
	"lugtak/core/unit"
	"lugtak/core/vehicle"
)

// AddVehicle takes a vehicle into the fleet. The fleet number is unique.
func (s *Store) AddVehicle(ctx context.Context, v vehicle.Vehicle) (vehicle.Vehicle, error) {
	v, err := checkVehicle(v)
	if err != nil {
		return v, err
	}
	err = insertVehicle(ctx, s.w, v, "")
	if unique(err) {
		if was, found := s.Vehicle(ctx, v.ID); found == nil && was == v { // sent once more
			return v, nil
		}
		return v, errFleetTaken
	}
	return v, Unwritable(err)
}

var errFleetTaken = fault.New(fault.Exists, "fleet", "That fleet number is taken.",
	"It is here already: open it, or look at the number again.")

// checkVehicle refuses what is no vehicle of a fleet, and gives one without an id its own.
func checkVehicle(v vehicle.Vehicle) (vehicle.Vehicle, error) {
	v.Fleet = strings.TrimSpace(v.Fleet)
	v.Plate = strings.TrimSpace(v.Plate)
	v.VIN = strings.ToUpper(strings.TrimSpace(v.VIN))
	v.Bay = strings.TrimSpace(v.Bay)
	switch {
	case v.Fleet == "" || len(v.Fleet) > 12:
		return v, fault.New(fault.Missing, "fleet", "The fleet number is empty or too long.",
			"Use what is painted on the vehicle, up to 12 characters.")
	case len(v.Plate) > 16 || len(v.Bay) > 16:
		return v, fault.New(fault.TooLong, "plate", "Plate and bay have at most 16 characters.", "Shorten them.")
	}
	if v.ID == "" {
		v.ID = uuid.NewString()
	}
	return v, vehicle.CheckVIN(v.VIN)
}

const selectVehicle = `SELECT id, fleet, plate, vin, pattern, name, bay FROM vehicle `

// Vehicles lists the fleet by fleet number.
func (s *Store) Vehicles(ctx context.Context) ([]vehicle.Vehicle, error) {
	return s.vehicles(ctx, selectVehicle+`ORDER BY fleet`)
}

// FindVehicles lists those that have the words in fleet number, plate, VIN, name or bay, by fleet
// number, from the one numbered from 0 on, and says how many there are; all where there are no
// words. Fewer letters than three are the first of one of these.
func (s *Store) FindVehicles(
	ctx context.Context,
	text string,
	from, most int,
) (some []vehicle.Vehicle, of int, err error) {
	where, args := `1`, []any{}
	// What nobody types, as a NUL, would end the query.
	if words := unit.Fold(strings.Map(printing, text)); words != "" {
		if utf8.RuneCountInString(words) < trigram {
			words = "  " + words
		}
		where = `id IN (SELECT id FROM vehicle_words WHERE words MATCH ?)`
		args = append(args, `"`+strings.ReplaceAll(words, `"`, `""`)+`"`)
	}
	err = s.r.QueryRowContext(ctx, `SELECT count(*) FROM vehicle WHERE `+where, args...).Scan(&of)
	if err != nil {
		return nil, 0, err
	}
	some, err = s.vehicles(ctx, selectVehicle+`WHERE `+where+` ORDER BY fleet LIMIT ? OFFSET ?`,
		append(args, most, from)...)
	return some, of, err
}

// printing leaves out what is no letter, no sign and no blank.
func printing(r rune) rune {
	if unicode.IsPrint(r) {
		return r
	}
	return -1
}

// trigram is how many letters the words of vehicles are found by at least.
const trigram = 3

// VehiclesAfter lists those behind a fleet number, no more than most; only the one of a VIN
// where one is named.
func (s *Store) VehiclesAfter(ctx context.Context, fleet, vin string, most int) ([]vehicle.Vehicle, error) {
	return s.vehicles(ctx, selectVehicle+`WHERE fleet > ?1 AND (vin = ?2 OR ?2 = '') ORDER BY fleet LIMIT ?3`,
		fleet, strings.ToUpper(vin), most)
}

// ErrNoVehicle is returned for a vehicle that is not in the fleet.
var ErrNoVehicle = fault.New(fault.NotFound, "vehicle", "There is no such vehicle.", "Choose one of the fleet.")

// Vehicle is one of the fleet by its id.
func (s *Store) Vehicle(ctx context.Context, id string) (vehicle.Vehicle, error) {
	some, err := s.vehicles(ctx, selectVehicle+`WHERE id = ?`, id)
	if err == nil && len(some) == 0 {
		err = ErrNoVehicle
	}
	if err != nil {
		return vehicle.Vehicle{}, err
	}
	return some[0], nil
}

func (s *Store) vehicles(ctx context.Context, query string, args ...any) ([]vehicle.Vehicle, error) {
	rows, err := s.r.QueryContext(ctx, query, args...)
	return scanVehicles(rows, err)
}

func scanVehicles(rows *sql.Rows, err error) ([]vehicle.Vehicle, error) {
	return rowsOf(rows, err, func(scan scanner, v *vehicle.Vehicle) error {
		return scan(&v.ID, &v.Fleet, &v.Plate, &v.VIN, &v.Pattern, &v.Name, &v.Bay)
	})
}

// Begin starts a job on a vehicle of the fleet, which it is told as it stands there, and how
// far it had gone when it was here last. made is false for one begun before by the same id.
func (s *Store) Begin(
	ctx context.Context,
	m job.Meta,
	vehicle string,
	start job.Start,
) (st *job.State, made bool, err error) {
	if start.Vehicle, err = s.Vehicle(ctx, vehicle); err != nil {
		return nil, false, err
	}
	last, here, err := s.LastRow(ctx, vehicle)
	if err != nil {
		return nil, false, err
	}
	if here && last.ID != start.Job {
		start.LastKM = last.KM
	}
	st, events, err := s.Record(ctx, start.Job, m, start)
	return st, len(events) > 0, err
}
