package job

import (
	"lugtak/core/operation"
	"lugtak/core/plan"
	"lugtak/core/recipe"
	"lugtak/core/record"
	"lugtak/core/vehicle"
)

// toJoint writes a joint out field by field: what is not named here does not reach the journal, and a field that is
// renamed in the rules stays what it was on the disk. Figures are frozen with their stages, so that a reader of recipes
// that learns does not change what was agreed.
func toJoint(j plan.Joint) record.Joint {
	return record.Joint{
		ID:        j.ID,
		Key:       j.Key,
		Spec:      j.Joint.Spec,
		Title:     j.Title,
		One:       j.One,
		System:    j.System,
		Star:      j.Star,
		Bears:     j.Bears,
		Again:     j.AfterDrive,
		FollowUp:  j.FollowUp,
		Play:      j.Play,
		Seizes:    j.Seizes,
		Optional:  j.Optional,
		Points:    j.Points,
		Stack:     j.Stack,
		Spot:      (*record.Point)(j.Spot),
		Recipe:    j.Recipe,
		Thread:    j.Thread,
		Class:     j.Class,
		Treatment: j.Treatment,
		Condition: string(j.Condition),
		Held:      j.Held,
		Renew:     j.Renew,
		Hardware:  j.Hardware,
		Drive:     j.Drive,
		Socket:    j.Socket,
		Count:     j.Count,
		Source:    j.Source,
		Note:      j.Note,
		Struck:    each(j.Struck, func(x vehicle.Struck) record.Struck { return record.Struck(x) }),
		FlangeMM:  j.FlangeMM,
		HoleMM:    j.HoleMM,
		LongestMM: j.LongestMM,
		Others:    toFigures(j.Others),
		Variants:  each(j.Variants, toVariant),
		Sheet:     j.Sheet,
		Corner:    string(j.Corner),
		Tray:      j.Tray,
		Letters:   j.Letters,
		Order:     j.Order,
		Stages:    toStages(j.Spec.Read()),
		Readers:   j.Readers,
		Differs:   toFigures(j.Differs),
		ByBolt:    j.ByBolt,
		MakerOnly: j.MakerOnly,
		Opening:   j.Opening,
	}
}

// fromJoint reads one back. A journal of old lacks what came since: zero means there what it meant then.
func fromJoint(j record.Joint) plan.Joint {
	return plan.Joint{
		ID: j.ID,
		Joint: operation.Joint{
			Key:        j.Key,
			Spec:       j.Spec,
			Title:      j.Title,
			One:        j.One,
			System:     j.System,
			Star:       j.Star,
			Bears:      j.Bears,
			AfterDrive: j.Again,
			FollowUp:   j.FollowUp,
			Play:       j.Play,
			Seizes:     j.Seizes,
			Optional:   j.Optional,
			Points:     j.Points,
			Stack:      j.Stack,
			Spot:       (*operation.Point)(j.Spot),
			MakerOnly:  j.MakerOnly,
			Opening:    j.Opening,
		},
		Spec: vehicle.Spec{
			Recipe:    j.Recipe,
			Thread:    j.Thread,
			Class:     j.Class,
			Treatment: j.Treatment,
			Condition: vehicle.Condition(j.Condition),
			Held:      j.Held,
			Renew:     j.Renew,
			Hardware:  j.Hardware,
			Drive:     j.Drive,
			Socket:    j.Socket,
			Count:     j.Count,
			Source:    j.Source,
			Note:      j.Note,
			Struck:    each(j.Struck, func(x record.Struck) vehicle.Struck { return vehicle.Struck(x) }),
			FlangeMM:  j.FlangeMM,
			HoleMM:    j.HoleMM,
			LongestMM: j.LongestMM,
			Others:    fromFigures(j.Others),
			Variants:  each(j.Variants, fromVariant),
			Stages:    fromStages(j.Stages),
			Readers:   j.Readers,
			Differs:   fromFigures(j.Differs),
			ByBolt:    j.ByBolt,
		},
		Sheet:   j.Sheet,
		Corner:  vehicle.Corner(j.Corner),
		Tray:    j.Tray,
		Letters: j.Letters,
		Order:   j.Order,
	}
}

func toFigures(all []vehicle.Figure) []record.Figure {
	return each(all, func(x vehicle.Figure) record.Figure { return record.Figure(x) })
}

func fromFigures(all []record.Figure) []vehicle.Figure {
	return each(all, func(x record.Figure) vehicle.Figure { return vehicle.Figure(x) })
}

func toVariant(v vehicle.Variant) record.Variant {
	return record.Variant{
		Key:       v.Key,
		Sees:      v.Sees,
		Washer:    v.Washer,
		Recipe:    v.Recipe,
		Thread:    v.Thread,
		Class:     v.Class,
		Treatment: v.Treatment,
		Drive:     v.Drive,
		Socket:    v.Socket,
		FlangeMM:  v.FlangeMM,
		Source:    v.Source,
		Stages:    toStages(vehicle.Spec{}.Of(v).Read()),
	}
}

func fromVariant(v record.Variant) vehicle.Variant {
	return vehicle.Variant{
		Key:       v.Key,
		Sees:      v.Sees,
		Washer:    v.Washer,
		Recipe:    v.Recipe,
		Thread:    v.Thread,
		Class:     v.Class,
		Treatment: v.Treatment,
		Drive:     v.Drive,
		Socket:    v.Socket,
		FlangeMM:  v.FlangeMM,
		Source:    v.Source,
		Stages:    fromStages(v.Stages),
	}
}

// toStages freezes stages with the windows pulls are held against.
func toStages(stages []recipe.Stage) []record.Stage { return each(stages, toStage) }

func toStage(s recipe.Stage) record.Stage {
	f := s.Freeze()
	return record.Stage{
		Kind: string(f.Kind),
		Form: string(f.Form),
		Unit: f.Unit,
		A:    f.A,
		B:    f.B,
		Full: f.Full,
		C:    f.C,
		Word: f.Word,
		Drag: f.PlusDrag,
		Left: f.Left,
		Low:  f.Low,
		High: f.High,
	}
}

func fromStages(stages []record.Stage) []recipe.Stage { return each(stages, fromStage) }

func fromStage(s record.Stage) recipe.Stage {
	return recipe.Stage{
		Kind:   recipe.Kind(s.Kind),
		Form:   recipe.Form(s.Form),
		Unit:   s.Unit,
		A:      s.A,
		B:      s.B,
		Full:   s.Full,
		C:      s.C,
		Word:   s.Word,
		Low:    s.Low,
		High:   s.High,
		Frozen: true,

		PlusDrag: s.Drag,
		Left:     s.Left,
	}
}
