package job

import (
	"cmp"
	"fmt"
	"reflect"
	"slices"
	"testing"

	"lugtak/core/plan"
	"lugtak/core/record"
)

// fill sets every field of a value to something of its own, so that one that is
// forgotten on the way shows.
func fill(v reflect.Value, n *int) {
	*n++
	switch v.Kind() {
	case reflect.String:
		v.SetString(fmt.Sprint("text ", *n))
	case reflect.Int:
		v.SetInt(int64(*n))
	case reflect.Float64:
		v.SetFloat(float64(*n) / 8)
	case reflect.Bool:
		v.SetBool(true)
	case reflect.Slice:
		v.Set(reflect.MakeSlice(v.Type(), 2, 2))
		for i := range v.Len() {
			fill(v.Index(i), n)
		}
	case reflect.Array:
		for i := range v.Len() {
			fill(v.Index(i), n)
		}
	case reflect.Struct:
		for i := range v.NumField() {
			fill(v.Field(i), n)
		}
	case reflect.Pointer:
		v.Set(reflect.New(v.Type().Elem()))
		fill(v.Elem(), n)
	default:
		panic("nothing is known of " + v.Type().String())
	}
}

func filled[T any]() T {
	var v T
	n := 0
	fill(reflect.ValueOf(&v).Elem(), &n)
	return v
}

// What the journal keeps comes back whole from what the rules work with.
func TestWireThereAndBack(t *testing.T) {
	whole := filled[record.Plan]()
	for i := range whole.Scenes { // of outlines, until 2026-12
		x := &whole.Scenes[i]
		x.Title, x.Width, x.Height, x.Shapes = "", 0, 0, nil
	}
	for i := range whole.Joints {
		x := &whole.Joints[i]
		x.Size, x.Label, x.At = nil, nil, nil
	}
	for i := range whole.Free.Acts {
		whole.Free.Acts[i].At = nil
	}
	slices.SortFunc(whole.Facts, func(a, b record.FactAt) int { return cmp.Compare(a.Fact, b.Fact) })
	if back := toPlan(fromPlan(whole)); !reflect.DeepEqual(back, whole) {
		t.Errorf("the plan comes back as\n%+v\nfrom\n%+v", back, whole)
	}
	result := filled[record.Result]()
	if back := toResult(fromResult(result)); !reflect.DeepEqual(back, result) {
		t.Errorf("%+v from %+v", back, result)
	}
	v := filled[record.Vehicle]()
	if back := toVehicle(fromVehicle(v)); back != v {
		t.Errorf("%+v from %+v", back, v)
	}
}

// What is compiled comes back as it was, but for what only the library needs.
func TestPlanThereAndBack(t *testing.T) {
	for name, made := range map[string]plan.Plan{"small": small(t), "rods": rods(t)} {
		back := fromPlan(toPlan(made))
		for i := range back.Joints {
			back.Joints[i].Spec.Stages = nil // frozen on the way
			made.Joints[i].By = nil
			made.Joints[i].When = nil
			made.Joints[i].Fasteners = 0
		}
		for i := range made.Steps {
			made.Steps[i].When = nil
			made.Steps[i].Step.Wants = nil
			made.Steps[i].Step.Makes = nil
			made.Steps[i].Step.Needs = nil
			made.Steps[i].Late = false
		}
		for i := range made.Parts {
			made.Parts[i].When = nil
		}
		for i := range made.Scenes {
			made.Scenes[i].Like = ""
		}
		if !reflect.DeepEqual(back, made) {
			t.Errorf("%s comes back as\n%+v\nfrom\n%+v", name, back, made)
		}
	}
}
