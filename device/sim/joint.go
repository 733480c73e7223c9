package sim

import "math"

// Joint is a bolted joint as statics has it: a screw thread and a head that rub, parts
// that give under the clamp, a shank that yields, threads that can shear. Lengths are
// millimetres, forces newtons, torques newton metres, turns degrees from where the run
// of the thread begins.
//
// The torque of a thread at clamp F is F·(P/2π + d2/2·μ/cos 30°) going on and
// F·(−P/2π + d2/2·μ/cos 30°) coming off, to which the head adds F·Dk/2·μ (any machine
// design textbook, power screws with a 60° thread).
type Joint struct {
	Pitch      float64 // of the thread
	FlankDia   float64 // pitch diameter
	HeadDia    float64 // mean diameter at which the head rubs
	ThreadMu   float64
	HeadMu     float64
	Stiffness  float64 // N per mm of advance once the faces have met
	Settle     float64 // mm over which the faces come together
	RunDown    float64 // degrees until they touch
	Drag       float64 // N·m of a locking element, the same all the way
	Ripple     float64 // share of the drag that comes and goes with the turn
	BiteAt     float64 // degrees at which a locking insert begins to bite; with Bite
	BiteOver   float64 // degrees over which it does
	Bite       float64 // N·m it drags with from then on
	Seize      float64 // times friction grows by, as the clamp reaches SeizeAt
	SeizeAt    float64 // N
	Yield      float64 // N at which the shank begins to stretch; 0 never
	Hardening  float64 // stiffness past yield, as a share
	Strip      float64 // N at which the threads shear; 0 never
	StripLoss  float64 // share of that lost in a turn of ten degrees
	JamAt      float64 // degrees at which a flawed thread begins to bite; with JamPer
	JamPer     float64 // N·m it takes more for each degree; 0 is a sound thread
	JamMost    float64 // N·m beyond which it takes no more
	JamWaves   float64 // share of it that comes and goes
	Bottom     float64 // degrees at which the end of the bolt meets the hole; 0 never
	Torsion    float64 // N·m per degree of a bolt twisted against the bottom
	Stick      float64 // share by which friction after a rest exceeds sliding
	Gall       float64 // share by which sliding falls below sticking, each time
	GallFrom   float64 // N of clamp from which it galls
	Relaxation float64 // share of the clamp lost in a rest
}

// standing is a joint with what has happened to it.
type standing struct {
	Joint
	theta  float64 // degrees
	set    float64 // mm the shank has stretched for good
	worn   float64 // degrees turned since the threads began to shear
	lost   float64 // N of clamp that went in rests
	clamp  float64 // N now
	sliped bool    // threads have begun to shear
}

// approach is the clamp of an elastic joint at an advance past contact, mm.
func (j *Joint) approach(x float64) float64 {
	switch {
	case x <= 0:
		return 0
	case x < j.Settle:
		return j.Stiffness * x * x / (2 * j.Settle)
	}
	return j.Stiffness * (x - j.Settle/2)
}

// force is the clamp at a turn, with what is lost for good so far.
func (s *standing) force(theta float64) float64 {
	elastic := s.approach((theta-s.RunDown)/360*s.Pitch - s.set)
	elastic = math.Max(0, elastic-s.lost)
	if s.sliped {
		left := s.Strip * math.Max(0.15, 1-s.StripLoss*s.worn/10)
		return math.Min(elastic, left)
	}
	return elastic
}

// settleAt takes the joint to a turn and keeps what that does for good.
func (s *standing) settleAt(theta float64) {
	on := theta - s.theta
	s.theta = theta
	f := s.force(theta)
	if s.Yield > 0 && f > s.Yield && on > 0 {
		// Of what it advances the shank takes all but the hardening as set.
		over := f - s.Yield
		grown := over * (1 - s.Hardening)
		s.set += grown / s.Stiffness
		s.Yield += over * s.Hardening
		f = s.force(theta)
	}
	if s.Strip > 0 && f >= s.Strip {
		s.sliped = true
	}
	if s.sliped && on > 0 {
		s.worn += on
		f = s.force(theta)
	}
	s.clamp = f
}

// rub is what thread flanks and head resist with, mm of lever.
func (j *Joint) rub() float64 {
	return j.FlankDia/2*j.ThreadMu/math.Cos(math.Pi/6) + j.HeadDia/2*j.HeadMu
}

func (j *Joint) lead() float64 { return j.Pitch / (2 * math.Pi) }

// dragAt is what it takes to turn at all, whatever the clamp.
func (j *Joint) dragAt(theta float64) float64 {
	drag := j.Drag * (1 + j.Ripple*math.Sin(theta/23))
	if j.Bite > 0 && theta > j.BiteAt {
		u := math.Min(1, (theta-j.BiteAt)/j.BiteOver)
		drag += j.Bite * u * u * (3 - 2*u)
	}
	if j.JamPer > 0 && theta > j.JamAt {
		jam := math.Min(j.JamMost, j.JamPer*(theta-j.JamAt))
		drag += jam * (1 + j.JamWaves*(0.6*math.Sin(theta/11)+0.4*math.Sin(theta/4.3)))
	}
	return drag
}

// tightening is the torque that keeps it going on. Faces that seize rub the more the harder they are pressed.
func (s *standing) tightening(theta float64) float64 {
	f := s.force(theta)
	rub := s.rub()
	if s.Seize > 0 {
		rub *= 1 + s.Seize*math.Min(1, f/s.SeizeAt)
	}
	m := f*(s.lead()+rub)/1000 + s.dragAt(theta)
	if s.Bottom > 0 && theta > s.Bottom {
		m += (theta - s.Bottom) * s.Torsion
	}
	return m
}

// loosening is the torque, as a positive figure, that keeps it coming off.
func (s *standing) loosening(theta float64) float64 {
	return s.force(theta)*(s.rub()-s.lead())/1000 + s.dragAt(theta)
}
