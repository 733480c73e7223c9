package api

import (
	"github.com/gofiber/fiber/v3"

	"lugtak/core/listing"
	"lugtak/core/plan"
	"lugtak/core/record"
	"lugtak/reckon"
)

// call is one address: how it is described, what token it asks for, and what it does.
type call struct {
	reckon.Call
	scope listing.Scope
	do    fiber.Handler
}

var paging = []reckon.Param{
	{Name: "after", Says: "the value of next on the page before", Type: "string"},
	{
		Name:  "limit",
		Says:  "how many at most, 1 to 200; 50 where it is left out",
		Type:  "integer",
		Least: 1,
		Most:  pageMost,
	},
}

func with(p ...reckon.Param) []reckon.Param { return append(p, paging...) }

// calls is every address of the resources.
func (a *API) calls() []call {
	byVehicle := reckon.Param{Name: "vehicle", Says: "only those of this vehicle", Type: "string"}
	list := []call{
		{do: a.vehicles, Call: reckon.Call{
			Path: "/vehicles", Method: "get", Name: "vehicles", Title: "The fleet",
			Says: "By fleet number.", Out: Page[Vehicle]{},
			Query: with(reckon.Param{Name: "vin", Says: "only the one of this VIN", Type: "string"}),
		}},
		{do: a.vehicle, Call: reckon.Call{
			Path: "/vehicles/{vehicle}", Method: "get", Name: "vehicle", Title: "A vehicle",
			Says: "As it stands in the fleet.", Out: Vehicle{}, Refuses: []int{404},
		}},
		{do: a.addVehicle, scope: listing.ScopeWrite, Call: reckon.Call{
			Path: "/vehicles", Method: "post", Name: "add-vehicle", Title: "Take a vehicle into the fleet",
			Says: "Its id is made by the sender or here; the same one with the same content again is answered with 200.",
			In:   Vehicle{}, Out: Vehicle{}, Made: true, Refuses: []int{400, 403, 409, 422},
		}},
		{do: a.operations, Call: reckon.Call{
			Path: "/vehicles/{vehicle}/operations", Method: "get", Name: "operations", Title: "What can be done to it",
			Says: "As it is built.", Out: Page[Operation]{}, Refuses: []int{404},
		}},
		{do: a.sheets, Call: reckon.Call{
			Path: "/sheets", Method: "get", Name: "sheets", Title: "The sheets",
			Says: "The shop's own, the newest first, then those of its library.", Out: Page[Sheet]{},
		}},
		{do: a.sheet, Call: reckon.Call{
			Path: "/sheets/{sheet}", Method: "get", Name: "sheet", Title: "A sheet",
			Says: "With every joint that work on such a vehicle may open, and how far its figure is known.",
			Out:  Sheet{}, Refuses: []int{404},
		}},
		{do: a.beginSheet, scope: listing.ScopeWrite, Call: reckon.Call{
			Path: "/sheets", Method: "post", Name: "begin-sheet", Title: "Begin a sheet",
			Says: "Of a model with no figures. Its id is made by the sender: again with the same content it is harmless.",
			In:   NewSheet{}, Out: Sheet{}, Made: true, Refuses: []int{400, 403, 409, 422},
		}},
		{do: a.readFigure, scope: listing.ScopeWrite, Call: reckon.Call{
			Path: "/sheets/{sheet}/readings", Method: "post", Name: "read-figure", Title: "Read a figure",
			Says: "A first reading; where a life hangs on the joint a person reads second. The id is made by the sender.",
			In:   NewReading{}, Out: SheetJoint{}, Made: true, Refuses: []int{400, 403, 404, 409, 422},
		}},
		{do: a.itself, Call: reckon.Call{
			Path: "/shop", Method: "get", Name: "shop", Title: "The shop itself",
			Says: "What it decides for itself: its name on papers, its first unit, its money.", Out: Itself{},
		}},
		{do: a.setItself, scope: listing.ScopeWrite, Call: reckon.Call{
			Path: "/shop", Method: "post", Name: "set-shop", Title: "Decide for the shop",
			Says: "All of it, in place of what was decided before. The id is made by the sender.",
			In:   Itself{}, Out: Itself{}, Refuses: []int{400, 403, 409, 422},
		}},
		{do: a.crib, Call: reckon.Call{
			Path: "/crib", Method: "get", Name: "crib", Title: "The crib",
			Says: "Torque tools, sockets, adapters and what parts cost.", Out: Crib{},
		}},
		{do: a.hangTools, scope: listing.ScopeWrite, Call: reckon.Call{
			Path: "/crib/tools", Method: "post", Name: "hang-tools", Title: "Hang torque tools",
			Says: "All or none; each is used once a calibration of it is logged. The id is made by the sender.",
			In:   NewTools{}, Out: Crib{}, Refuses: []int{400, 403, 409, 422},
		}},
		{do: a.keepStock(record.StockSockets), scope: listing.ScopeWrite, Call: reckon.Call{
			Path: "/crib/sockets", Method: "post", Name: "keep-sockets", Title: "Say which sockets there are",
			Says: "All of them, in place of the list before. The id is made by the sender.",
			In:   Stock{}, Out: Crib{}, Refuses: []int{400, 403, 409, 422},
		}},
		{do: a.keepStock(record.StockAdapters), scope: listing.ScopeWrite, Call: reckon.Call{
			Path: "/crib/adapters", Method: "post", Name: "keep-adapters", Title: "Say which adapters there are",
			Says: "All of them, in place of the list before. The id is made by the sender.",
			In:   Stock{}, Out: Crib{}, Refuses: []int{400, 403, 409, 422},
		}},
		{do: a.keepStock(record.StockPrices), scope: listing.ScopeWrite, Call: reckon.Call{
			Path: "/crib/prices", Method: "post", Name: "keep-prices", Title: "Say what parts cost",
			Says: "All of them, in place of the list before. The id is made by the sender.",
			In:   Stock{}, Out: Crib{}, Refuses: []int{400, 403, 409, 422},
		}},
		{do: a.jobs, Call: reckon.Call{
			Path: "/jobs", Method: "get", Name: "jobs", Title: "The jobs", Says: "The newest first.", Out: Page[Job]{},
			Query: with(
				byVehicle,
				reckon.Param{
					Name: "state",
					Says: "open, signed or broken; all where it is left out",
					Type: "string",
					Enum: []string{"open", "signed", "broken"},
				},
			),
		}},
		{do: a.begin, scope: listing.ScopeWrite, Call: reckon.Call{
			Path: "/jobs", Method: "post", Name: "begin-job", Title: "Begin a job",
			Says: "With a complaint; people walk round the vehicle and plan. The id is made by the sender: again it is " +
				"harmless.",
			In: Begin{}, Out: Whole{}, Made: true, Refuses: []int{400, 403, 404, 409, 422},
		}},
		{do: a.job, Call: reckon.Call{
			Path: "/jobs/{job}", Method: "get", Name: "job", Title: "A job",
			Says: "With the gates before its signature, or as they were seen when it was signed.", Out: Whole{},
			Refuses: []int{404},
		}},
		{do: a.plan, Call: reckon.Call{
			Path: "/jobs/{job}/plan", Method: "get", Name: "plan", Title: "Its plan",
			Says: "With the facts, what each step wants and makes, and the laws: enough to prove it again.",
			Out:  plan.Exported{}, Refuses: []int{404},
		}},
		{do: a.steps, Call: reckon.Call{
			Path: "/jobs/{job}/steps", Method: "get", Name: "steps", Title: "Its steps",
			Says: "In the order of the plan, with who did each and when.", Out: Page[Step]{}, Refuses: []int{404},
		}},
		{do: a.pulls, Call: reckon.Call{
			Path: "/jobs/{job}/pulls", Method: "get", Name: "pulls", Title: "Its pulls",
			Says: "Every tightening as it was recorded, the refused and the struck ones too.", Out: Page[Pull]{},
			Refuses: []int{404},
		}},
		{do: a.ledger, Call: reckon.Call{
			Path: "/jobs/{job}/ledger", Method: "get", Name: "ledger", Title: "Its ledger",
			Says: "Every fastener that was touched, with what is paid and how it is known.", Out: Page[Fastener]{},
			Refuses: []int{404},
		}},
		{do: a.account, Call: reckon.Call{
			Path: "/jobs/{job}/account", Method: "get", Name: "account", Title: "Its account",
			Says: "What the job comes to, counted once: as page, paper and lists say it.", Out: Account{}, Refuses: []int{404},
		}},
		{do: a.figures, Call: reckon.Call{
			Path: "/jobs/{job}/figures", Method: "get", Name: "figures", Title: "The figures it needs",
			Says: "In the order they are needed, with how far each is known.", Out: Page[Figure]{}, Refuses: []int{404},
		}},
		{do: a.order, scope: listing.ScopeWrite, Call: reckon.Call{
			Path: "/jobs/{job}/order", Method: "post", Name: "order", Title: "Plan its work",
			Says: "With the sheet, tools and times of today; what cannot be proved is refused.",
			In:   Order{}, Out: plan.Exported{}, Refuses: []int{400, 403, 404, 409, 422},
		}},
		{do: a.paper("ledger.csv"), Call: reckon.Call{
			Path: "/jobs/{job}/ledger.csv", Method: "get", Name: "ledger-csv", Title: "Its ledger as CSV",
			Says: "RFC 4180, a row for each pull and for each fastener without one.", Media: "text/csv", Refuses: []int{404},
		}},
		{do: a.paper("report.pdf"), Call: reckon.Call{
			Path: "/jobs/{job}/report.pdf", Method: "get", Name: "report-pdf", Title: "Its report on paper",
			Says: "As the owner gets it.", Media: "application/pdf", Refuses: []int{404},
		}},
		{do: a.paper("report.html"), Call: reckon.Call{
			Path: "/jobs/{job}/report.html", Method: "get", Name: "report-html",
			Title: "Its report as one file that checks itself",
			Says:  "As the owner gets it.", Media: "text/html", Refuses: []int{404},
		}},
		{do: a.paper("job.json"), Call: reckon.Call{
			Path: "/jobs/{job}/job.json", Method: "get", Name: "job-file", Title: "Its record as one file",
			Says: "Every event with its seal and the shop's signature; lugtak verify proves it.", Media: "application/json",
			Refuses: []int{404},
		}},
		{do: a.list("fleet.csv"), Call: reckon.Call{
			Path: "/fleet.csv", Method: "get", Name: "fleet-csv", Title: "The fleet as a list",
			Says: "A vehicle a line, in the columns by which a list of vehicles is taken in.", Media: "text/csv",
		}},
		{do: a.list("due.csv"), Call: reckon.Call{
			Path: "/due.csv", Method: "get", Name: "due-csv", Title: "What is still owed, as a list",
			Says: "Of all signed jobs, the soonest first.", Media: "text/csv",
		}},
		{do: a.list("outcomes.csv"), Call: reckon.Call{
			Path: "/outcomes.csv", Method: "get", Name: "outcomes-csv", Title: "Chances that were said against what happened",
			Says: "A line for each kind and band of chances: how many cases, in how many it happened.", Media: "text/csv",
		}},
		{do: a.list("due.ics"), Call: reckon.Call{
			Path: "/due.ics", Method: "get", Name: "due", Title: "What is still owed, as a calendar",
			Says:  "RFC 5545. A calendar that sends no header has a secret address: /calendar/SECRET.ics.",
			Media: "text/calendar",
		}},
		{do: a.findings, Call: reckon.Call{
			Path: "/jobs/{job}/findings", Method: "get", Name: "findings", Title: "Its findings",
			Says: "What was seen outside the job.", Out: Page[Finding]{}, Refuses: []int{404},
		}},
		{do: a.find, scope: listing.ScopeWrite, Call: reckon.Call{
			Path: "/jobs/{job}/findings", Method: "post", Name: "note-finding", Title: "Note a finding",
			Says: "The id is made by the sender: the same one with the same text again is harmless, with another text a " +
				"conflict.",
			In: Finding{}, Out: Finding{}, Made: true, Refuses: []int{400, 403, 404, 409, 422},
		}},
		{do: a.followUps, Call: reckon.Call{
			Path: "/jobs/{job}/follow-ups", Method: "get", Name: "job-follow-ups", Title: "What is owed after its signature",
			Says: "With how each ended.", Out: Page[FollowUp]{}, Refuses: []int{404},
		}},
		{do: a.jobEvents, Call: reckon.Call{
			Path: "/jobs/{job}/events", Method: "get", Name: "job-events", Title: "Its journal",
			Says: "As it stands in the file, each event sealed with the one before it.",
			Out:  Page[event]{}, Query: paging, Refuses: []int{404},
		}},
		{do: a.dues, Call: reckon.Call{
			Path: "/follow-ups", Method: "get", Name: "follow-ups", Title: "What is still owed",
			Says: "Of all signed jobs, the soonest first, what has no day behind all.",
			Out:  Page[FollowUp]{}, Query: with(byVehicle),
		}},
		{do: a.events, Call: reckon.Call{
			Path: "/events", Method: "get", Name: "events", Title: "The journal of all jobs",
			Says: "In the order it was written. after is the number of the last event that is known; keep next for the next " +
				"call.",
			Out: Page[event]{}, Query: paging,
		}},
		{do: a.stream, Call: reckon.Call{
			Path: "/events/stream", Method: "get", Name: "event-stream", Title: "The journal as it grows",
			Says: "Server-sent events: id is the event's number, event its kind, data the event. Last-Event-ID, or after, " +
				"takes it up where it was left.",
			Out: event{}, Stream: true, Query: paging[:1], Refuses: []int{429},
		}},
	}
	for i := range list {
		if list[i].scope == "" {
			list[i].scope = listing.ScopeRead
		}
		list[i].Scope = string(list[i].scope)
		list[i].Refuses = append([]int{401}, list[i].Refuses...)
	}
	return list
}

// Calls describes every address for the OpenAPI text.
func Calls() []reckon.Call {
	var out []reckon.Call
	for _, c := range (&API{}).calls() {
		c.Path = prefix + c.Path
		out = append(out, c.Call)
	}
	return out
}
