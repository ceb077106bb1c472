// Package outlookpage holds the page Outlook: what the school's outlook was fitted on, how well it predicts, what
// it is made of, and when not to trust it.
package outlookpage

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"meldung/core/ids"
	"meldung/core/outlook"
	"meldung/files/sheet"
	"meldung/pages"
	"meldung/work"
	"meldung/work/concerns"
	"meldung/work/outlooks"
)

// CalibrationGroup is a part of the past students, with what was predicted and what came.
type CalibrationGroup struct {
	Name      string  `json:"name" doc:"Of a year group; empty for a tenth by the chance that was predicted"`
	N         int     `json:"n"`
	Predicted float64 `json:"predicted" doc:"0 to 1"`
	Observed  float64 `json:"observed" doc:"0 to 1"`
	Came      int     `json:"came" doc:"How many left without finishing"`
}

// CoefficientView is a term of the fit.
type CoefficientView struct {
	Term     string `json:"term"`
	Estimate string `json:"estimate" doc:"In log-odds"`
	StdError string `json:"stdError"`
	P        string `json:"p"`
	Out      bool   `json:"out" doc:"Left out: it says nothing that those before it have not said"`
}

// InputView is an input with where it comes from today.
type InputView struct {
	Name    string `json:"name"`
	Area    string `json:"area"`
	Source  string `json:"source" doc:"Empty where the school has none: it is missing for everybody"`
	Missing int    `json:"missing" doc:"Students of today of whom it is not known"`
}

// OutlookView is the page.
type OutlookView struct {
	Any         bool                 `json:"any" doc:"Past students have been brought"`
	History     ids.OutlookHistory   `json:"history"`
	Problem     string               `json:"problem" doc:"Why there is no outlook; empty where there is one"`
	Rule        outlooks.OutlookRule `json:"rule"`
	Brought     string               `json:"brought" doc:"When and by whom, in words"`
	N           int                  `json:"n" doc:"Past students it was fitted on"`
	LeftOut     int                  `json:"leftOut"`
	Came        int                  `json:"came" doc:"Of them left without finishing"`
	Pairs       string               `json:"pairs" doc:"The area under the curve in words"`
	AUC         string               `json:"auc"`
	Brier       string               `json:"brier"`
	Always      string               `json:"always" doc:"The Brier score of always saying the average"`
	Better      string               `json:"better" doc:"How much better than that, in words"`
	Calibration []CalibrationGroup   `json:"calibration"`
	ByYear      []CalibrationGroup   `json:"byYear"`
	Terms       []CoefficientView    `json:"terms"`
	Inputs      []InputView          `json:"inputs"`
	Students    int                  `json:"students" doc:"Of today"`
	Warnings    []string             `json:"warnings" doc:"When not to trust it"`
	Known       []string             `json:"known" doc:"Inputs that the school can fill in itself"`
	MaySet      bool                 `json:"maySet"`
}

// Fitting is a fit that is asked for.
type Fitting struct {
	Ridge string `json:"ridge" maxLength:"20" doc:"A decimal, 0 for none"`
	Name  string `json:"name,omitempty" maxLength:"40" doc:"Under which it can be asked how far it is"`
}

// Fit fits the outlook, where that was not done with this ridge, and shows what it is worth.
func Fit(ctx context.Context, o *work.Office, p work.Person, in Fitting) (OutlookView, error) {
	step, end := o.Step(ctx, p, in.Name)
	defer end()
	return show(ctx, o, p, cmp.Or(strings.TrimSpace(in.Ridge), "0"), step)
}

// Show shows the outlook as the school has it.
func Show(ctx context.Context, o *work.Office, p work.Person) (OutlookView, error) {
	r, err := outlooks.RuleOf(ctx, o.Store().Read())
	if err != nil {
		return OutlookView{}, err
	}
	return show(ctx, o, p, r.Ridge, func(int, int) bool { return ctx.Err() == nil })
}

func show(ctx context.Context, o *work.Office, p work.Person, ridge string, step func(done, of int) bool) (OutlookView, error) {
	out := OutlookView{Calibration: []CalibrationGroup{}, ByYear: []CalibrationGroup{}, Terms: []CoefficientView{}, Inputs: []InputView{}, Warnings: []string{}, Known: outlooks.Known(), MaySet: p.May(work.MaySetOutlook)}
	var err error
	if out.Rule, err = outlooks.RuleOf(ctx, o.Store().Read()); err != nil {
		return out, err
	}
	m, err := outlooks.Ready(ctx, o, ridge, step)
	if err != nil {
		if ctx.Err() != nil {
			return out, err
		}
		out.Problem = err.Error()
		return out, nil
	}
	out.Any = true
	err = o.Read(ctx, func(v work.Snapshot) error { return out.inputs(ctx, v, m) })
	out.of(m, ridge)
	return out, err
}

// of says what a fit is worth.
func (out *OutlookView) of(m *outlooks.Model, ridge string) {
	out.History, out.Rule.Ridge = m.ID, ridge
	out.Brought = work.Join(", ", m.Brought.Time().Format("2 January 2006"), m.By)
	out.N, out.LeftOut = len(m.History.Rows), m.History.LeftOut
	for _, r := range m.History.Rows {
		if r.Outcome {
			out.Came++
		}
	}
	always := m.Always()
	out.AUC, out.Brier, out.Always = decimals(m.Trust.AUC, 3), decimals(m.Trust.Brier, 3), decimals(always, 3)
	out.Pairs = fmt.Sprintf("Of two past students, one of whom left without finishing and one finished, it had given the higher chance to the one who left in %.0f of 100 pairs; guessing has 50.", 100*m.Trust.AUC)
	out.Better = better(m.Trust.Brier, always)
	for _, g := range m.Trust.Calibration {
		out.Calibration = append(out.Calibration, groupOf("", g))
	}
	out.years(m)
	out.Terms = append(out.Terms, termOf("the student at 0 of everything", m.Intercept, false))
	for i, t := range m.Terms {
		name := t.Name
		if t.Value != "" {
			name = m.History.Inputs[t.Input].Name + ": " + t.Value
		}
		out.Terms = append(out.Terms, termOf(name, m.Coefficients[i], t.Out))
	}
	out.warn(m)
}

func better(brier, always float64) string {
	if always == 0 || brier >= always {
		return "It is no better than always saying the average: do not use it."
	}
	return fmt.Sprintf("Its squared error is %.0f %% less than that of always saying the average.", 100*(1-brier/always))
}

func decimals(x float64, n int) string { return strconv.FormatFloat(x, 'f', n, 64) }

func groupOf(name string, g outlook.Group) CalibrationGroup {
	return CalibrationGroup{Name: name, N: g.N, Predicted: g.Predicted, Observed: g.Observed, Came: int(math.Round(g.Observed * float64(g.N)))}
}

func termOf(name string, c outlook.Coefficient, out bool) CoefficientView {
	if out {
		return CoefficientView{Term: name, Out: true}
	}
	return CoefficientView{Term: name, Estimate: decimals(c.Estimate, 3), StdError: decimals(c.StdError, 3), P: map[bool]string{true: "below 0.001", false: decimals(c.P(), 3)}[c.P() < 0.001]}
}

// years are the past students by their year group, where the history has it.
func (out *OutlookView) years(m *outlooks.Model) {
	at := slices.IndexFunc(m.History.Inputs, func(in outlook.Input) bool { return in.Name == outlooks.YearInput })
	if at < 0 {
		return
	}
	name := func(row int) string {
		v := m.History.Rows[row].Values[at]
		if m.History.Inputs[at].Number {
			return strconv.FormatFloat(v.Number, 'f', -1, 64)
		}
		return v.Word
	}
	rows := map[string][]int{}
	var names []string
	for row := range m.History.Rows {
		n := name(row)
		if rows[n] == nil {
			names = append(names, n)
		}
		rows[n] = append(rows[n], row)
	}
	slices.SortFunc(names, pages.ByNumber)
	for _, n := range names {
		g := outlook.Group{N: len(rows[n])}
		for _, row := range rows[n] {
			g.Predicted += m.Trust.Predicted[row] / float64(g.N)
			if m.History.Rows[row].Outcome {
				g.Observed += 1 / float64(g.N)
			}
		}
		out.ByYear = append(out.ByYear, groupOf(n, g))
	}
}

// fewOfYear is how many past students of a year group are too few to say anything of it.
const fewOfYear = 30

// warn says when not to trust it.
func (out *OutlookView) warn(m *outlooks.Model) {
	add := func(format string, a ...any) { out.Warnings = append(out.Warnings, fmt.Sprintf(format, a...)) }
	if m.Few() {
		add("It has fewer than ten past students of the rarer outcome for each of its coefficients: it may say more about them than about others.")
	}
	if m.Noise == nil {
		add("It can't be told from chance whether a student's chance has moved: too many refits did not fit.")
	}
	for _, y := range out.ByYear {
		if y.N < fewOfYear {
			add("Of year %s there are %d past students: too few to say how well it does there.", y.Name, y.N)
		}
	}
	for _, in := range out.Inputs {
		switch {
		case in.Source == "":
			add("Nobody's %s is known here: every chance is a wide range.", in.Name)
		case in.Missing > 0:
			add("%s is not known of %s: their chance is a range.", in.Name, work.Count(in.Missing, "student"))
		}
	}
	add("It says what went with leaving in the past, not why anybody left; a school that helped those it named will see fewer of them leave.")
}

// inputs says where the inputs come from, and of how many students of today they are not known.
func (out *OutlookView) inputs(ctx context.Context, v work.Snapshot, m *outlooks.Model) error {
	schools, err := concerns.Read(ctx, v, v.Moment())
	if err != nil {
		return err
	}
	for _, s := range schools {
		here, err := m.For(ctx, s.Section, v.On)
		if err != nil {
			return err
		}
		read := here.Reader(s.School)
		for n, in := range m.History.Inputs {
			if len(out.Inputs) <= n {
				out.Inputs = append(out.Inputs, InputView{Name: in.Name, Area: here.Area(n), Source: here.Source(n)})
			}
		}
		for i := range s.Students {
			if !s.Ledger.Enrolled(i, s.Upto) {
				continue
			}
			out.Students++
			for n, x := range read(i)(s.Upto) {
				if !x.Known {
					out.Inputs[n].Missing++
				}
			}
		}
	}
	return nil
}

// Keep writes the inputs of the students of today: with the outcome filled in later, they are a history of the
// school's own.
func Keep(ctx context.Context, o *work.Office, p work.Person, format string) (pages.File, error) {
	names := outlooks.Known()
	list := sheet.List{Title: "Inputs of today", About: []string{"Outcome: 1 for who left without finishing, 0 for who finished; to be filled in once it is known", "Holds data of students: keep it where nobody else can read it", "Made by " + p.Name},
		Columns: []sheet.Column{{Heading: "student", Width: 14}, {Heading: "outcome", Width: 10}}}
	for _, n := range names {
		list.Columns = append(list.Columns, sheet.Column{Heading: n, Width: 14})
	}
	err := o.Read(ctx, func(v work.Snapshot) error {
		list.About = append([]string{"As at " + v.On.Spoken()}, list.About...)
		schools, err := concerns.Read(ctx, v, v.Moment())
		if err != nil {
			return err
		}
		for _, s := range schools {
			m, err := outlooks.Of(names).For(ctx, s.Section, v.On)
			if err != nil {
				return err
			}
			read := m.Reader(s.School)
			for i, id := range s.IDs {
				if !s.Ledger.Enrolled(i, s.Upto) {
					continue
				}
				row := []string{v.School.StudentOf(id).SourcedID, ""}
				for _, x := range read(i)(s.Upto) {
					cell := ""
					if x.Known {
						cell = strconv.FormatFloat(x.Number, 'g', 6, 64)
					}
					row = append(row, cell)
				}
				list.Rows = append(list.Rows, row)
			}
		}
		return nil
	})
	if err != nil {
		return pages.File{}, err
	}
	return pages.ListFile("inputs-of-today", list, format)
}
