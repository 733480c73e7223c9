package job

import (
	"fmt"
	"reflect"
	"testing"

	"lugtak/core/operation"
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
	plan := filled[record.Plan]()
	if back := toPlan(fromPlan(plan)); !reflect.DeepEqual(back, plan) {
		t.Errorf("the plan comes back as\n%+v\nfrom\n%+v", back, plan)
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
	for name, plan := range map[string]operation.Plan{"small": small(t), "rods": rods(t)} {
		back := fromPlan(toPlan(plan))
		for i := range back.Joints {
			back.Joints[i].Spec.Stages = nil // frozen on the way
			plan.Joints[i].By = nil
			plan.Joints[i].When = nil
		}
		for i := range plan.Steps {
			plan.Steps[i].When = nil
			plan.Steps[i].Closes = ""
			plan.Steps[i].Before = nil
		}
		for i := range plan.Parts {
			plan.Parts[i].When = nil
		}
		for i := range plan.Scenes {
			plan.Scenes[i].Like = ""
		}
		if !reflect.DeepEqual(back, plan) {
			t.Errorf("%s comes back as\n%+v\nfrom\n%+v", name, back, plan)
		}
	}
}
