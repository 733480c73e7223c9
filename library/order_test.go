package library

import (
	"slices"
	"strings"
	"testing"

	"lugtak/core/plan"
	"lugtak/core/vehicle"
)

// Ordering facts of the trade (common practice), on compiled plans put in the best
// order. Names are without their corner; a line is a chain, each before the next.
var orderOfTheTrade = []struct {
	pattern, op string
	corner      vehicle.Corner
	ways        map[string]string
	chains      []string
}{
	{"ostrel-c22", "pads-rotors", "RL", nil, []string{
		"pads-rotors.fluid ground.raise",
		"vent.crack vent.open pads-rotors.piston vent.shut vent.tight bleeder.crack bleeder.open bled.bled " +
			"bleeder.shut bleeder.tight bleeder.cap wheel.start",
		"bleeder.tight reservoir.top-up pedal.pump ground.lower",
		"pads-rotors.slide-crack pads-rotors.slide-out pads-rotors.pads-out " +
			"pads-rotors.measure pads-rotors.pads-in",
		"pads-rotors.compare-pads pads-rotors.pads-in pads-rotors.slide-start bled.bled",
		"pads-rotors.slide-tight pads-rotors.spin wheel.start",
		"pads-rotors.slide-tight bled.bled pedal.pump pads-rotors.spin"}}, // pistons back, it is free anyhow
	// the park brake holds a rear rotor
	{"ostrel-c22", "pads-rotors", "RR", map[string]string{"rotors": "always"}, []string{
		"chocks.chock ground.raise park-brake.off pads-rotors.slide-out rotor.off pads-rotors.spin " +
			"park-brake.on ground.lower chocks.away",
		"pedal.pump park-brake.on"}},
	{"ostrel-c22", "pads-rotors", "FL", map[string]string{"piston": "closed", "rotors": "always"}, []string{
		"pads-rotors.pads-out pads-rotors.piston reservoir.top-up pedal.pump",
		"rotor.screw-crack pads-rotors.slide-out", // while pads and caliper hold it
		"pads-rotors.slide-out bracket.crack bracket.off rotor.screw-out rotor.off " +
			"pads-rotors.hub-face rotor.on pads-rotors.run-out bracket.start",
		"pads-rotors.compare-rotor rotor.on bracket.start bracket.tight pads-rotors.pads-in " +
			"pads-rotors.slide-start"}},
	{"ostrel-c22", "front-hub-unit", "FL", nil, []string{
		"chocks.chock axle-nut.crack ground.raise",
		"chocks.chock wheel.crack ground.raise", // what needs the tyre's grip
		"penetrant.brush penetrant.wait front-hub-unit.knuckle-crack " +
			"front-hub-unit.knuckle-out front-hub-unit.hub-out",
		"axle-nut.crack axle-nut.push axle-nut.out shaft-aside.tie", // the old nut takes the blows
		"lead.free sensor.out front-hub-unit.hub-out",
		"axle-nut.push lower-joint.free room-lower-joint.swing front-hub-unit.hub-out",
		"rotor.screw-crack caliper.hang rotor.off front-hub-unit.hub-out",
		"front-hub-unit.compare front-hub-unit.hub-in",
		"front-hub-unit.clean front-hub-unit.hub-in",
		"front-hub-unit.knuckle-1 front-hub-unit.knuckle-2 shaft-aside.in axle-nut.start",
		"front-hub-unit.knuckle-2 rotor.on caliper.start caliper.tight pedal.pump " +
			"brake-hold.hold.2 axle-nut.tight brake-hold.let-go.2",
		"lower-joint.start lower-joint.tight brake-hold.hold.2",
		// On a knuckle that is joined at both ends, or braced.
		"front-hub-unit.knuckle-crack lower-joint.crack lower-joint.free",
		"penetrant.wait front-hub-unit.knuckle-out washed.wash front-hub-unit.knuckle-start", // no locker on oil
		"front-hub-unit.hub-in brace.set front-hub-unit.knuckle-1 front-hub-unit.knuckle-2 brace.away " +
			"room-lower-joint.back lower-joint.start",
		"front-hub-unit.hub-in sensor.in sensor.tight lead.clip wheel.start",
		"axle-nut.tight axle-nut.lock wheel.start ground.lower wheel.tight ground.down " +
			"count.count drive.drive wheel.again"}},
	{"ostrel-c22", "front-hub-unit", "FR", map[string]string{"hub-nut": "ground"}, []string{
		"brake-hold.hold.2 axle-nut.snug brake-hold.let-go.2 ground.lower axle-nut.final " +
			"axle-nut.lock ground.down"}},
	{"brask-t7", "solid-axle-hub", "FR", nil, []string{
		"axle-nut.unlock axle-nut.crack ground.raise",
		"solid-axle-hub.unit-crack solid-axle-hub.unit-out solid-axle-hub.target solid-axle-hub.drive-out",
		"lead.free solid-axle-hub.drive-out",
		"axle-nut.out solid-axle-hub.drive-out",
		"solid-axle-hub.unit-in lead.clip",
		"solid-axle-hub.clean solid-axle-hub.shield-on solid-axle-hub.unit-in solid-axle-hub.unit-1 rotor.on",
		"axle-nut.tight axle-nut.lock wheel.start"}},
	{"norrvik-e3", "drive-axle-flanged", "FR", nil, []string{
		"shield.off drive-axle-flanged.heat-out drive-axle-flanged.clean-bits drive-axle-flanged.flange-crack",
		"brake-hold.hold drive-axle-flanged.flange-crack brake-hold.let-go axle-nut.push " +
			"drive-axle-flanged.flange-out", // cracked while the shaft is home
		"axle-nut.push axle-nut.out shaft-aside.tie drive-axle-flanged.shaft-out " +
			"drive-axle-flanged.shaft-in shaft-aside.in axle-nut.start",
		"axle-nut.start brake-hold.hold.2 drive-axle-flanged.flange-1 " +
			"drive-axle-flanged.flange-2 brake-hold.let-go.2",
		"drive-axle-flanged.flange-2 drive-axle-flanged.heat-start drive-axle-flanged.heat-tight shield.up",
		"axle-nut.tight ground.lower"}},
	{"ostrel-c22", "drive-axle-plugged", "FL", nil, []string{
		"filler.crack drive-axle-plugged.pop",
		"drive-axle-plugged.pan drive-axle-plugged.pop drive-axle-plugged.shaft-out " +
			"drive-axle-plugged.seal drive-axle-plugged.shaft-in",
		"axle-nut.push axle-nut.out shaft-aside.tie drive-axle-plugged.pop",
		"room-lower-joint.back lower-joint.start lead.clip",
		"drive-axle-plugged.spacer drive-axle-plugged.shaft-in",
		"axle-nut.start gear-oil.fill",
		"filler.open gear-oil.fill",
		"level.four-points gear-oil.run gear-oil.plug-crack gear-oil.plug-out gear-oil.level " +
			"gear-oil.plug-start gear-oil.plug-tight gear-oil.stop filler.start level.two-points"}},
	{"ostrel-c22", "strut-front", "FL", nil, []string{
		"strut-front.top-crack ground.raise",
		"strut-foot.mark strut-foot.crack strut-foot.out strut-front.top-out " +
			"strut-front.compare strut-front.top-start",
		"knuckle.tie strut-foot.out",
		"hose.clear strut-foot.out",
		"link-upper.out strut-foot.out",
		"strut-foot.tight knuckle.untie wheel.start",
		"strut-front.top-start ground.lower count.count ride-ramps.up strut-front.top-tight " +
			"ride-ramps.off drive.drive",
		"ride-ramps.up link-upper.tight",
		"ground.down align.ask"}},
	{"norrvik-e3", "strut-rear", "RL", nil, []string{
		"trim.off strut-rear.top-crack ground.raise",
		"arm.carry strut-rear.lower-out strut-rear.top-out strut-rear.top-start " +
			"strut-rear.lower-start arm.away wheel.start",
		"strut-rear.top-tight trim.on count.count",
		"ride-ramps.up strut-rear.lower-tight",
		"ground.down align.ask"}},
	{"caldren-m9", "shock-stem", "FL", nil, []string{
		"arm.carry damper-stem.stem-crack damper-stem.stem-out damper-stem.foot-out " +
			"shock-stem.prime damper-stem.foot-start damper-stem.stem-start arm.away",
		"damper-stem.foot-crack damper-stem.stem-out",
		"ride-ramps.up damper-stem.stem-tight"}},
	{"brask-t7", "shock-eye", "RL", nil, []string{
		"arm.carry shock-eye.lower-crack shock-eye.lower-out shock-eye.upper-out " +
			"shock-eye.prime shock-eye.upper-start shock-eye.lower-start arm.away",
		"shock-eye.upper-crack shock-eye.lower-out",
		"ride-ramps.up shock-eye.lower-tight"}},
	{"ostrel-c22", "control-arm", "FL", nil, []string{
		"mark.taken ground.raise",
		"lower-joint.free control-arm.rear-out control-arm.bush-out control-arm.compare " +
			"control-arm.bush-start control-arm.rear-start lower-joint.start lower-joint.tight " +
			"wheel.start",
		"count.count ride-ramps.up control-arm.bush-tight shield.up ride-ramps.off"}},
	{"ostrel-c22", "control-arm", "FL", map[string]string{"ride-height": "jack"}, []string{
		"mark.taken ground.raise control-arm.rear-start lower-joint.tight ride-jack.up mark-met.met control-arm.bush-tight " +
			"ride-jack.off ground.lower"}},
	{"norrvik-e3", "tension-arm", "FL", nil, []string{
		"mark.taken ground.raise",
		"tension-arm.ball-crack tension-arm.ball-press tension-arm.ball-out " +
			"tension-arm.bush-out tension-arm.compare tension-arm.bush-start " +
			"tension-arm.ball-tight",
		"ride-ramps.up tension-arm.bush-tight"}},
	{"caldren-m9", "upper-ball-joint", "FL", nil, []string{
		"arm.carry upper-ball-joint.stud-crack upper-ball-joint.taper " +
			"upper-ball-joint.stud-out upper-ball-joint.rivets upper-ball-joint.compare " +
			"upper-ball-joint.fitting upper-ball-joint.plate-start",
		"knuckle.tie upper-ball-joint.stud-out",
		"upper-ball-joint.stud-tight upper-ball-joint.pin wheel.start",
		"upper-ball-joint.stud-tight arm.away wheel.start",
		"upper-ball-joint.stud-tight knuckle.untie"}},
	{
		"lindar-s6", "upper-ball-joint", "FR", nil,
		[]string{
			"upper-ball-joint.stud-crack upper-ball-joint.plate-out", "upper-ball-joint.plate-crack upper-ball-joint.plate-out",
		},
	},
	{"caldren-m9", "lower-ball-joint", "FL", nil, []string{
		"tie-rod-end.out lower-stud.crack lower-stud.taper " +
			"lower-stud.out lower-ball-joint.carrier-out",
		"lower-ball-joint.carrier-start lower-ball-joint.carrier-tight lower-stud.start",
		"lower-stud.tight lower-stud.pin wheel.start",
		"lower-stud.start hose.back",
		"lower-stud.start lead.clip",
		"lower-stud.tight knuckle.untie",
		"lower-stud.start tie-rod-end.start tie-rod-end.tight tie-rod-end.pin",
		"lower-stud.tight arm.away"}},
	{"ostrel-c22", "stabiliser-link", "FL", nil, []string{
		"link-upper.out stabiliser-link.out stabiliser-link.compare stabiliser-link.fit link-upper.start",
		"link-upper.start ride-ramps.up link-lower.tight",
		"link-lower.start ride-ramps.up link-upper.tight"}},
	{"ostrel-c22", "tie-rod-outer", "FR", nil, []string{
		"tie-rod-lock.crack tie-rod-end.crack tie-rod-end.taper tie-rod-end.out " +
			"tie-rod-lock.turns-out tie-rod-lock.out tie-rod-outer.compare tie-rod-lock.start " +
			"tie-rod-lock.turns-in tie-rod-end.start tie-rod-end.tight tie-rod-lock.tight"}},
	{"ostrel-c22", "tie-rod-inner", "FL", nil, []string{
		"tie-rod-inner.which tie-rod-end.out",
		"tie-rod-lock.out tie-rod-inner.boot-off tie-rod-inner.inner-crack " +
			"tie-rod-inner.inner-out tie-rod-inner.compare tie-rod-inner.inner-tight " +
			"tie-rod-inner.boot-on tie-rod-lock.start",
		"tie-rod-inner.boot-on shield.up"}},
	{"brask-t7", "idler-arm", "", nil, []string{
		"idler-arm.lash ground.raise",
		"idler-arm.straight idler-arm.stud-crack idler-arm.taper idler-arm.stud-out idler-arm.frame-out",
		"idler-arm.frame-crack idler-arm.frame-out",
		"idler-arm.adjust idler-arm.frame-start idler-arm.frame-tight",
		"idler-arm.stud-tight idler-arm.pin shield.up",
		"ground.down idler-arm.lash-after"}},
	{"caldren-m9", "centre-support", "", nil, []string{
		"centre-support.mark centre-support.coupling-crack centre-support.coupling-out " +
			"centre-support.carrier-out centre-support.turn centre-support.cut " +
			"centre-support.press centre-support.carrier-start",
		"centre-support.coupling-crack centre-support.hold centre-support.coupling-out", // strapped it does not turn
		"centre-support.coupling-tight centre-support.carrier-tight centre-support.unhold ground.lower"}},
	{"caldren-m9", "pads-rotors", "FL", nil, []string{ // a fixed caliper: nothing is hung for pads
		"vent.open pads-rotors.piston vent.tight bled.bled",
		"pads-rotors.pads-pull pads-rotors.piston pads-rotors.pads-push bled.bled pedal.pump ground.lower",
		"pads-rotors.pads-pull pads-rotors.measure pads-rotors.pads-push pads-rotors.spin wheel.start",
		"pads-rotors.compare-pads pads-rotors.pads-push"}},
	{"caldren-m9", "pads-rotors", "RR", map[string]string{"rotors": "always"}, []string{
		"pads-rotors.pads-pull caliper-fixed.crack caliper-fixed.hang rotor.off pads-rotors.hub-face " +
			"rotor.on pads-rotors.run-out caliper-fixed.start caliper-fixed.tight pads-rotors.pads-push",
		"pads-rotors.compare-rotor rotor.on"}},
	{"lindar-s6", "pads-rotors", "RL", map[string]string{"rotors": "always"}, []string{ // no bracket
		"pads-rotors.slide-crack pads-rotors.slide-out pads-rotors.pads-out pads-rotors.piston " +
			"pads-rotors.slide-start",
		"pads-rotors.slide-out rotor.off rotor.on pads-rotors.run-out pads-rotors.pads-in " +
			"pads-rotors.slide-start pads-rotors.slide-tight wheel.start",
		"pads-rotors.pads-out rotor.off"}}, // pads in their guides hold it
	{"caldren-m9", "stabiliser-link", "FR", nil, []string{
		"link-bolt.crack link-bolt.out stabiliser-link.out stabiliser-link.compare stabiliser-link.stack " +
			"link-bolt.start ride-ramps.up link-bolt.tight"}},
	{"norrvik-e3", "rear-hub-unit", "RL", nil, []string{ // no shaft: nothing waits for a nut
		"penetrant.brush penetrant.wait rear-hub-unit.knuckle-crack rear-hub-unit.knuckle-out " +
			"rear-hub-unit.hub-out rear-hub-unit.hub-in rear-hub-unit.knuckle-start " +
			"rear-hub-unit.knuckle-tight rotor.on caliper.start",
		"lead.free sensor.out rear-hub-unit.hub-out",
		"rear-hub-unit.knuckle-tight sensor.in lead.clip wheel.start",
		"park-brake.off caliper.hang rotor.off rear-hub-unit.hub-out",
		"pedal.pump park-brake.on ground.lower",
		"rear-hub-unit.compare rear-hub-unit.hub-in"}},
	{"lindar-s6", "centre-support", "", nil, []string{
		"centre-support.mark centre-support.coupling-out centre-support.carrier-out centre-support.part " +
			"centre-support.pull centre-support.compare centre-support.press-on centre-support.join " +
			"centre-support.carrier-start centre-support.coupling-tight centre-support.carrier-tight"}},
	{"caldren-m9", "idler-arm", "", nil, []string{
		"idler-arm.frame-crack idler-arm.frame-out idler-arm.compare idler-arm.frame-start " +
			"idler-arm.frame-tight idler-arm.stud-tight"}},
	{"lindar-s6", "crossmember", "", nil, []string{
		"shield.off crossmember.support crossmember.member-crack crossmember.through-out " +
			"crossmember.member-out crossmember.mount-tight crossmember.member-start",
		"crossmember.through-start crossmember.member-tight crossmember.unsupport " +
			"crossmember.through-tight shield.up"}},
	{"ostrel-c22", "brake-bleed", "FL", nil, []string{ // dirty fluid is not pumped through the brake
		"brake-bleed.draw bleeder.crack bleeder.open brake-bleed.flush bleeder.shut " +
			"bleeder.tight bleeder.cap reservoir.top-up pedal.pump ground.lower",
		"chocks.chock ground.raise bleeder.crack"}},
	{"tessvik-h1", "drum-brakes", "RL", map[string]string{"wheel-cylinders": "renew"}, []string{
		// The lip hooks the shoes; the cable comes last.
		"chocks.chock ground.raise park-brake.off drum.back-off drum.screw-out drum.off drum-brakes.boots " +
			"drum-brakes.clamp drum-brakes.springs-off drum-brakes.shoes-off",
		"drum-brakes.gauge drum.on",
		"pedal-prop.prop drum-brakes.pipe-out",
		"drum-brakes.pipe-crack drum-brakes.cylinder-crack drum-brakes.pipe-out drum-brakes.cylinder-out " +
			"drum-brakes.compare-cylinder drum-brakes.cylinder-start drum-brakes.pipe-start " +
			"drum-brakes.cylinder-tight drum-brakes.pipe-tight pedal-prop.unprop bled.bled",
		"drum-brakes.adjuster drum-brakes.shoes-on drum-brakes.springs-on drum-brakes.centred drum.size drum.on",
		"drum-brakes.compare drum-brakes.shoes-on",
		"drum-brakes.plate drum-brakes.shoes-on",
		"park-travel.slacken drum-brakes.shoes-on drum.on pedal.pump park-travel.set drum-brakes.spin park-brake.on",
		"drum.on bled.bled reservoir.top-up pedal.pump held-hard.hold held-hard.dry wheel.start"}},
	{"tessvik-h1", "park-cable", "RR", nil, []string{
		"park-brake.off park-travel.slacken park-cable.lever-off park-cable.out park-cable.compare " +
			"park-cable.in park-cable.lever-on drum.on park-travel.set park-cable.alike park-brake.on",
		"park-cable.route park-cable.out"}},
	{"ostrel-c22", "park-cable", "RL", nil, []string{
		"park-brake.off park-lever.off park-cable.out park-cable.compare park-cable.in park-lever.on " +
			"park-travel.set park-cable.alike park-brake.on",
		"park-cable.route park-cable.out",
		"park-travel.slacken park-cable.out"}},
	{"ostrel-c22", "brake-caliper", "RR", nil, []string{ // it does not come to the bench on its cable
		"park-lever.off caliper.hang brake-caliper.hose-out brake-caliper.home caliper.start park-lever.on park-brake.on"}},
	{"norrvik-e3", "rear-hub-unit", "RR", nil, []string{"rotor.on rear-hub-unit.run-out caliper.start"}},
	{"tessvik-h1", "brake-hose", "FL", map[string]string{"brake-line": "renew"}, []string{
		"brake-hose.look brake-hose.route line.crack line.cap brake-hose.hose-out brake-hose.compare " +
			"brake-hose.hose-start line.start hose.back",
		"pedal-prop.prop line.cap line.tight pedal-prop.unprop bleeder.open bled.bled",
		"brake-hose.far-crack brake-hose.line-out brake-hose.line-made brake-hose.line-start line.start",
		"brake-hose.line-start brake-hose.far-tight pedal-prop.unprop",
		"line.tight brake-hose.sweep wheel.start",
		"bleeder.tight reservoir.top-up pedal.pump held-hard.hold held-hard.dry wheel.start"}},
	{"ostrel-c22", "brake-hose", "RL", nil, []string{ // a store is emptied while all is whole
		"store.empty line.crack line.cap brake-hose.hose-out",
		"brake-hose.hose-start line.start line.tight bled.bled"}},
	{"ostrel-c22", "brake-caliper", "FL", map[string]string{"caliper-work": "rebuild"}, []string{
		"store.empty brake-caliper.hose-crack caliper.hang brake-caliper.hose-out brake-caliper.piston-out " +
			"brake-caliper.judged brake-caliper.rebuilt brake-caliper.home caliper.start caliper.tight " +
			"bled.bled pedal.pump held-hard.hold",
		"caliper.start brake-caliper.hose-start brake-caliper.hose-tight bleeder.open bled.bled",
		"pedal.pump brake-caliper.spin wheel.start"}},
	{"norrvik-e3", "brake-caliper", "FR", nil, []string{
		"brake-caliper.compare brake-caliper.hose-crack"}}, // before the brake is opened
	{"norrvik-e3", "strut-spring", "FL", nil, []string{
		"strut-spring.heights strut-spring.top-crack ground.raise",
		"knuckle.tie strut-foot.out strut-spring.top-out strut-spring.marks strut-spring.press " +
			"strut-spring.centre-crack strut-spring.apart strut-spring.let-out strut-spring.compare " +
			"strut-spring.press-new strut-spring.mount strut-spring.centre-start strut-spring.centre-tight " +
			"strut-spring.let-go strut-spring.turns strut-spring.top-start strut-foot.start",
		"strut-foot.tight ride-ramps.up strut-spring.top-tight",
		"ground.down align.ask"}},
	{"brask-t7", "leaf-spring", "RL", nil, []string{
		"chocks.chock leaf-spring.square ground.raise hose.clear leaf-spring.axle-carried leaf-spring.foot-out " +
			"leaf-spring.ubolt-out leaf-spring.leaf-out leaf-spring.shackle-out leaf-spring.compare " +
			"leaf-spring.hanger-start leaf-spring.shackle-start leaf-spring.ubolt-start leaf-spring.axle-down " +
			"wheel.start ground.lower",
		"leaf-spring.axle-carried leaf-spring.ubolt-crack leaf-spring.ubolt-out",
		"leaf-spring.hanger-crack leaf-spring.ubolt-out",
		"leaf-spring.shackle-crack leaf-spring.ubolt-out",
		"leaf-spring.pad leaf-spring.hanger-start",
		"leaf-spring.axle-down hose.back",
		"leaf-spring.ubolt-start ride-ramps.up leaf-spring.ubolt-tight leaf-spring.square-after drive.drive",
		"ride-ramps.up leaf-spring.hanger-tight",
		"ride-ramps.up leaf-spring.shackle-tight"}},
	{"norrvik-e3", "wheel-stud", "FL", nil, []string{
		"rotor.off wheel-stud.count wheel-stud.turn wheel-stud.pressed-out wheel-stud.compare " +
			"wheel-stud.hole wheel-stud.drawn-in rotor.on wheel-stud.run-out caliper.start"}},
	{"tessvik-h1", "wheel-stud", "RR", nil, []string{
		"drum.off wheel-stud.count wheel-stud.pressed-out wheel-stud.drawn-in drum.on"}},
	{"norrvik-e3", "steering-rack", "", nil, []string{
		"steering-rack.lash battery.out battery.wait steering-rack.column-out",
		"wheel-tied.tie steering-rack.column-crack steering-rack.column-out steering-rack.rack-crack " +
			"steering-rack.rack-out steering-rack.compare steering-rack.centred steering-rack.rack-start " +
			"steering-rack.rack-tight steering-rack.column-start steering-rack.column-tight wheel-tied.untie " +
			"steering-rack.fill steering-rack.turned ground.lower",
		"tie-rod-end.out.FL tie-rod-lock.turns-out.FL tie-rod-lock.out.FL steering-rack.rack-out",
		"tie-rod-end.out.FR tie-rod-lock.turns-out.FR tie-rod-lock.out.FR steering-rack.rack-out",
		"steering-rack.rack-tight tie-rod-lock.start.FL tie-rod-lock.turns-in.FL tie-rod-end.start.FL",
		"steering-rack.union-crack steering-rack.union-out steering-rack.rack-out",
		"steering-rack.column-tight battery.tight steering-rack.taught drive.drive",
		"steering-rack.fill shield.up",
		"ground.down align.ask"}},
	{"tessvik-h1", "steering-rack", "", nil, []string{
		"battery.wait steering-rack.plugs steering-rack.rack-out steering-rack.rack-tight " +
			"steering-rack.plugs-on battery.tight steering-rack.taught"}},
	{"brask-t7", "cross-joint", "", nil, []string{
		"chocks.chock cross-joint.angles selector.neutral cross-joint.flange-crack " +
			"cross-joint.strap cross-joint.flange-out cross-joint.shaft-out cross-joint.pressed " +
			"cross-joint.compare cross-joint.pressed-in cross-joint.free cross-joint.shaft-in " +
			"cross-joint.flange-start cross-joint.flange-tight cross-joint.unstrap ground.lower " +
			"cross-joint.angles-after drive.drive",
		"cross-joint.mark cross-joint.flange-crack"}},
	{"caldren-m9", "cross-joint", "", nil, []string{"cross-joint.mark cross-joint.flange-crack"}},
	{"norrvik-e3", "joint-boot", "FR", map[string]string{"outer-joint": "renew"}, []string{
		"shaft-aside.tie joint-boot.clamps joint-boot.grease joint-boot.joint-off joint-boot.compare " +
			"joint-boot.boot-on joint-boot.joint-on joint-boot.packed joint-boot.boot-clamped shaft-aside.in " +
			"axle-nut.start"}},
	{"tessvik-h1", "press-bearing", "FL", nil, []string{
		"axle-nut.crack ground.raise", // on the ground
		"rotor.off press-bearing.knuckle-off press-bearing.hub-pressed press-bearing.race " +
			"press-bearing.bearing-out press-bearing.compare press-bearing.encoder press-bearing.bearing-in " +
			"press-bearing.ring press-bearing.hub-in press-bearing.knuckle-on shaft-aside.in axle-nut.start " +
			"axle-nut.tight press-bearing.speed wheel.start ground.lower",
		"sensor.out press-bearing.knuckle-off",
		"strut-foot.mark strut-foot.out press-bearing.knuckle-off",
		"press-bearing.bore press-bearing.bearing-in",
		"press-bearing.knuckle-on sensor.in lead.clip press-bearing.speed",
		"ground.down align.ask"}},
	{"tessvik-h1", "press-bearing", "FR", map[string]string{"bearing-press": "place"}, []string{
		"shaft-aside.tie press-bearing.hub-pressed press-bearing.bearing-out press-bearing.bearing-in " +
			"press-bearing.hub-in rotor.on"}},
	{"lindar-s6", "shock-stem", "FR", nil, []string{ // a fork over the shaft
		"arm.carry damper-stem.stem-crack damper-stem.stem-out damper-stem.foot-out shock-stem.prime " +
			"damper-stem.foot-start damper-stem.pinch-start damper-stem.stem-start arm.away",
		"damper-stem.pinch-crack damper-stem.pinch-out damper-stem.foot-out",
		"ride-ramps.up damper-stem.foot-tight"}},
	{"halvik-d9", "strut-spring", "FR", nil, []string{ // a clamped foot: no scribe, no camber
		"knuckle.tie strut-clamp.crack strut-clamp.out strut-spring.top-out strut-spring.top-start " +
			"strut-clamp.start strut-clamp.tight knuckle.untie wheel.start"}},
	{"halvik-d9", "taper-bearing", "RL", nil, []string{
		"park-brake.off spindle.back-off spindle.off taper-bearing.seal-out taper-bearing.judged " +
			"taper-bearing.races-out taper-bearing.compare taper-bearing.races-in taper-bearing.packed " +
			"spindle.start spindle.seat spindle.pin spindle.gauge wheel.start ground.lower",
		"taper-bearing.spindle spindle.start"}},
	{"halvik-d9", "drum-brakes", "RR", nil, []string{ // the drum comes with its bearings
		"spindle.off drum-brakes.springs-off drum-brakes.springs-on spindle.size spindle.start spindle.seat " +
			"spindle.pin spindle.gauge pedal.pump park-travel.set"}},
	{"varholt-p4", "air-spring", "RR", nil, []string{ // asleep as long as a bag is out, and both levels found again
		"asleep.sleep ground.raise air-spring.empty air-spring.line-off air-spring.foot-out air-spring.foot-start " +
			"air-spring.first-air ground.lower asleep.wake air-spring.set drive.drive"}},
	{"varholt-p4", "taper-bearing", "RL", nil, []string{ // what levels itself sleeps while the drum is off
		"asleep.sleep ground.raise park-brake.off spindle.off taper-bearing.races-out taper-bearing.races-in " +
			"taper-bearing.packed spindle.start spindle.seat spindle.pin spindle.gauge wheel.start asleep.wake drive.drive"}},
	{"brask-t7", "hat-shoes", "RL", nil, []string{
		"park-brake.off park-travel.slacken hat-shoes.springs-off",
		"chocks.chock ground.raise park-brake.off rotor.hat-off rotor.off hat-shoes.springs-off " +
			"hat-shoes.shoes-off hat-shoes.compare hat-shoes.shoes-on hat-shoes.springs-on rotor.on rotor.hat-set " +
			"pedal.pump park-travel.set hat-shoes.alike park-brake.on", // the pedal first, the cable last
		"hat-shoes.lining hat-shoes.springs-off",
		"hat-shoes.plate hat-shoes.shoes-on",
		"hat-shoes.adjuster hat-shoes.shoes-on"}},
	{"selmar-r2", "hat-shoes", "RR", nil, []string{ // what pulls the cables sleeps meanwhile
		"asleep.sleep ground.raise hat-shoes.shoes-off hat-shoes.shoes-on park-travel.set asleep.wake drive.drive"}},
	{"dorvik-u6", "park-motor", "RL", nil, []string{
		"chocks.chock park-motor.codes asleep.sleep ground.raise park-motor.plug park-motor.crack park-motor.out " +
			"park-motor.spindle park-motor.start park-motor.tight park-motor.plug-on wheel.start asleep.wake " +
			"park-motor.tried drive.drive",
		"park-motor.compare park-motor.start"}},
	{"lindar-s6", "park-motor", "RR", nil, []string{
		"asleep.sleep park-motor.out park-motor.start asleep.wake park-motor.tried"}},
	{"selmar-r2", "park-actuator", "", nil, []string{
		"chocks.chock park-actuator.codes asleep.sleep ground.raise park-brake.off park-travel.slacken " +
			"park-actuator.unhook park-actuator.crack park-actuator.out park-actuator.compare park-actuator.start " +
			"park-actuator.tight park-actuator.hook park-travel.set asleep.wake park-actuator.tried drive.drive"}},
	{"varholt-p4", "park-actuator", "", nil, []string{
		"park-actuator.unhook park-actuator.out park-actuator.hook park-travel.set asleep.wake"}},
	{"caldren-m9", "coil-front", "FL", nil, []string{
		"lower-stud.taper lower-stud.out",
		"coil-front.heights ground.raise arm.carry damper-stem.foot-out coil-front.chain coil-front.press " +
			"lower-stud.out coil-front.down coil-front.let-out coil-front.compare coil-front.press-new " +
			"coil-front.up lower-stud.start lower-stud.tight coil-front.let-go damper-stem.foot-start arm.away " +
			"wheel.start ground.lower coil-front.heights-after drive.drive",
		"coil-front.seat coil-front.press-new",
		"knuckle.tie lower-stud.out"}},
	{"dorvik-u6", "coil-front", "FR", nil, []string{
		"coil-front.press lower-stud.out coil-front.down coil-front.up lower-stud.tight coil-front.let-go arm.away"}},
	{"selmar-r2", "coil-rear", "RL", nil, []string{
		"coil-rear.heights ground.raise arm.carry coil-rear.foot-out coil-rear.press coil-rear.outer-out coil-rear.down " +
			"coil-rear.let-out coil-rear.compare coil-rear.press-new coil-rear.up coil-rear.outer-start " +
			"coil-rear.let-go coil-rear.foot-start arm.away wheel.start ground.lower",
		"coil-rear.chain coil-rear.press",
		"coil-rear.outer-crack coil-rear.outer-out",
		"ride-ramps.up coil-rear.outer-tight",
		"ride-ramps.up coil-rear.foot-tight"}},
	{"dorvik-u6", "coil-rear", "RR", map[string]string{"ride-height": "jack"}, []string{ // its bush at the mark
		"mark.taken ground.raise coil-rear.foot-start ride-jack.up mark-met.met coil-rear.outer-tight ride-jack.off"}},
	{"norrvik-e3", "clock-spring", "", nil, []string{
		"clock-spring.straight battery.out battery.wait clock-spring.bag-off clock-spring.crack clock-spring.out " +
			"clock-spring.coil-out clock-spring.compare clock-spring.coil-in clock-spring.start clock-spring.tight " +
			"clock-spring.bag-on battery.tight clock-spring.taught drive.drive"}},
	{
		"selmar-r2", "clock-spring", "", nil, []string{"battery.wait clock-spring.bag-off clock-spring.bag-on battery.start"},
	},
	{"halvik-d9", "leaf-spring", "RL", map[string]string{"leaf-work": "bolt"}, []string{
		"leaf-spring.shackle-out leaf-spring.pack-clamped leaf-spring.centre-crack leaf-spring.centre-out " +
			"leaf-spring.centre-compare leaf-spring.centre-start leaf-spring.centre-tight leaf-spring.pack-free " +
			"leaf-spring.hanger-start"}},
	{"lindar-s6", "air-spring", "RL", nil, []string{
		"air-spring.height asleep.sleep ground.raise air-spring.empty air-spring.line-off air-spring.foot-out " +
			"air-spring.compare air-spring.foot-start air-spring.foot-tight air-spring.first-air ground.lower " +
			"asleep.wake air-spring.set drive.drive",
		"air-spring.empty air-spring.foot-crack",
		"air-spring.seat air-spring.foot-start",
		"air-spring.line-on air-spring.first-air"}},
}

func TestOrderOfTheTrade(t *testing.T) {
	l := whole(t)
	for _, c := range orderOfTheTrade {
		made, err := l.Plan(c.pattern, Ask{Tasks: []plan.Task{{Operation: c.op, Corner: c.corner}}, Ways: c.ways})
		if err != nil {
			t.Errorf("%s %s: %v", c.pattern, c.op, err)
			continue
		}
		for _, chain := range c.chains {
			last := -1
			for _, name := range strings.Fields(chain) {
				at := stepAt(made, name, c.corner)
				if at < 0 || at <= last {
					t.Errorf("%s %s %v: %s stands at %d, behind %d, in “%s”",
						c.pattern, c.op, c.ways, name, at, last, chain)
				}
				last = at
			}
		}
		check(t, vehicle.Pattern{ID: c.pattern}, made)
	}
}

// An operation comes with its order as the trade has it.
func TestEveryOperationHasItsOrder(t *testing.T) {
	for _, op := range whole(t).Operations {
		written := false
		for _, c := range orderOfTheTrade {
			written = written || c.op == op.ID
		}
		if !written {
			t.Errorf("%s has no row in orderOfTheTrade: write how the trade orders it", op.ID)
		}
	}
}

// stepAt is where a step stands in a plan, named without the corner of its task; -1 where it is not in it.
func stepAt(made plan.Plan, name string, corner vehicle.Corner) int {
	return slices.IndexFunc(made.Steps, func(s plan.Step) bool {
		id := string(s.ID)
		return id == name || corner != "" && strings.Replace(id, "."+string(corner), "", 1) == name
	})
}
