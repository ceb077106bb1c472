package demo

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"strconv"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/ownfield"
	"meldung/files/table"
	"meldung/store"
)

// Law is by what the past students of the invented school left without finishing: log-odds, of each input. The
// school does not know it; what it has learned can be held against it.
var Law = map[string]float64{"": -1.9, "absence_rate": 8, "lates": 0.02, "incidents": 0.25, "failing": 0.3, "mean_points": -0.5, "school_changes": 0.4}

// cohorts are the leaving cohorts that are on record, with how many students each.
var cohorts = []int{108, 113, 110}

// Past returns past students by their law, as a file: three leaving cohorts, each taken at the first review of March
// of a year between 9 and 12. Of some their grades are not known.
func Past() []byte {
	r := rand.New(rand.NewPCG(seed, 31))
	header := []string{"student", "outcome", "year", "absence_rate", "lates", "incidents", "failing", "mean_points", "school_changes"}
	var rows [][]string
	for c, n := range cohorts {
		for i := range n {
			drift := r.Float64() * r.Float64() // of one who drifts, everything goes the same way a little
			absence := math.Min(0.6, 0.02+0.22*drift+0.06*r.Float64())
			lates := poisson(r, 3+9*drift)
			incidents := poisson(r, 0.3+2*drift)
			failing := poisson(r, 0.25+2.4*drift)
			points := math.Max(0.2, math.Min(4, 3.1-1.5*drift+0.5*r.NormFloat64()))
			changes := poisson(r, 0.25)
			odds := Law[""] + Law["absence_rate"]*absence + Law["lates"]*float64(lates) + Law["incidents"]*float64(incidents) + Law["failing"]*float64(failing) + Law["mean_points"]*points + Law["school_changes"]*float64(changes)
			outcome := "0"
			if r.Float64() < 1/(1+math.Exp(-odds)) {
				outcome = "1"
			}
			mean := strconv.FormatFloat(points, 'f', 2, 64)
			if r.IntN(40) == 0 {
				mean = ""
			}
			rows = append(rows, []string{fmt.Sprintf("left-%d-%03d", 2023+c, i+1), outcome, strconv.Itoa(9 + r.IntN(4)), strconv.FormatFloat(absence, 'f', 4, 64),
				strconv.Itoa(lates), strconv.Itoa(incidents), strconv.Itoa(failing), mean, strconv.Itoa(changes)})
		}
	}
	return table.Write(header, rows)
}

func poisson(r *rand.Rand, mean float64) int {
	limit, n, p := math.Exp(-mean), 0, r.Float64()
	for p > limit {
		p *= r.Float64()
		n++
	}
	return n
}

// addPast writes the past students, and what came with those of today from other schools; of a few nobody knows.
func (p *people) addPast(ctx context.Context, tx *sqlx.Tx, journal ids.Entry) error {
	if err := store.SetHistory(ctx, tx, Past(), journal); err != nil {
		return err
	}
	field, err := store.SaveOwnField(ctx, tx, store.OwnField{Name: "Changes of school", Kind: string(ownfield.Number), Sees: store.Words{"officer", "pastoral", "leader"}, Changes: store.Words{"officer", "pastoral"}, Origin: store.Origin{Journal: journal}})
	if err != nil {
		return err
	}
	stage, err := store.SaveOwnField(ctx, tx, store.OwnField{Place: 1, Name: "Years in this stage", Kind: string(ownfield.Number), Sees: store.Words{"officer", "pastoral", "leader"}, Changes: store.Words{"officer", "pastoral"}, Origin: store.Origin{Journal: journal}})
	if err != nil {
		return err
	}
	r := rand.New(rand.NewPCG(seed, 32))
	for i := range p.school.Students {
		s := &p.school.Students[i]
		v := store.OwnValue{FieldID: stage, StudentID: s.ID, Value: strconv.Itoa(yearsInStage(s.Year, r.IntN(20) == 0)), Origin: store.Origin{Journal: journal}}
		if err := store.SetOwnValue(ctx, tx, v); err != nil {
			return err
		}
		if s.ID == p.named("Maren Holt").ID || r.IntN(40) == 0 {
			continue
		}
		v.FieldID, v.Value = field, strconv.Itoa(poisson(r, 0.25))
		if err := store.SetOwnValue(ctx, tx, v); err != nil {
			return err
		}
	}
	return nil
}

// yearsInStage is how many years a student of a year has been in this stage of school, one more who did one twice.
func yearsInStage(year string, twice bool) int {
	n, err := strconv.Atoi(year)
	if err != nil {
		return 1
	}
	first := n
	for sectionOf(first-1) == sectionOf(n) && first > years[0] {
		first--
	}
	n += 1 - first
	if twice {
		n++
	}
	return n
}

// platform is where the invented school's students learn beside lessons.
const platform = "Lantern"

// addActivity writes what students did on the learning platform in the days before the last; some never did.
func (p *people) addActivity(ctx context.Context, tx *sqlx.Tx, last day.Date, journal ids.Entry) error {
	r := rand.New(rand.NewPCG(seed, 33))
	var rows []store.LearningActivity
	for i := range p.school.Students {
		s := &p.school.Students[i]
		rows = append(rows, store.LearningActivity{StudentID: s.ID, Source: platform, JournalID: journal})
		if r.IntN(25) == 0 {
			continue
		}
		for n := range 1 + r.IntN(4) {
			at := day.At(last-day.Date(n*7+r.IntN(7)), day.MustMinute("16:00")) + day.Instant(r.IntN(240))
			rows = append(rows, store.LearningActivity{StudentID: s.ID, Source: platform, At: &at, Kind: "lesson opened", JournalID: journal})
		}
	}
	return store.AddLearningActivities(ctx, tx, rows)
}
