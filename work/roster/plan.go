// Package roster brings a school's people, classes, calendar and timetable in from files,
// with a dry run, and out again.
package roster

import "meldung/files/table"

// Plan is what an import would do, or has done.
type Plan struct {
	Applied  bool       `json:"applied"`
	Parts    []PlanPart `json:"parts"`
	Details  []string   `json:"details" doc:"The first changes, a line each"`
	Problems []string   `json:"problems" doc:"Every line that is wrong, by file and line"`
	Notes    []string   `json:"notes" doc:"Not wrong, and worth knowing"`
}

// PlanPart counts what would change of one kind.
type PlanPart struct {
	What    string `json:"what"`
	Added   int    `json:"added"`
	Changed int    `json:"changed"`
	Ended   int    `json:"ended"`
	Same    int    `json:"same"`
}

// mostDetails bounds the list of changes that is shown.
const mostDetails = 200

// Changes returns how many things would change.
func (p Plan) Changes() int {
	n := 0
	for _, part := range p.Parts {
		n += part.Added + part.Changed + part.Ended
	}
	return n
}

func problemLines(list []table.Problem) []string {
	out := make([]string, len(list))
	for i, p := range list {
		out[i] = p.String()
	}
	return out
}

func listed(list []string) []string {
	if list == nil {
		return []string{}
	}
	return list
}
