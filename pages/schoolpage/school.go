// Package schoolpage holds the School page: what there is, and what is missing.
package schoolpage

import (
	"context"
	"encoding/json"
	"fmt"
	"reflect"
	"slices"
	"strings"

	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/held"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/school"
)

// SchoolView is the School page: what there is, and what is missing.
type SchoolView struct {
	Name      string               `json:"name"`
	Sections  []SectionLine        `json:"sections" doc:"Every section of the school; there is one at least"`
	Scope     string               `json:"scope" doc:"The sections that it covers; empty where the school has one"`
	Apart     []string             `json:"apart" doc:"What the sections in scope have decided differently: codes, reasons, policies, rules; the first of them is shown"`
	Rules     school.RegisterRules `json:"rules"`
	Steps     StepsSet             `json:"steps" doc:"On which policies the school acts"`
	Grading   held.GradingRule     `json:"grading" doc:"How attendance is written for grading"`
	Points    []held.MeetingPoint  `json:"points" doc:"Where everybody goes in a roll call, for the whole school"`
	FormNames []string             `json:"formNames" doc:"Who may be sent to a meeting point, beside staff and visitors"`
	Students  int                  `json:"students"`
	Staff     int                  `json:"staff"`
	Forms     int                  `json:"forms"`
	Classes   int                  `json:"classes"`
	Contacts  int                  `json:"contacts"`
	NoContact []pages.StudentRef   `json:"noContact" doc:"Students without a contact"`
	OfNobody  []string             `json:"ofNobody" doc:"Contacts of no student"`
	NoForm    []pages.StudentRef   `json:"noForm" doc:"Students in no form today"`
	Misplaced []string             `json:"misplaced" doc:"Marks of the school year that enter no figure, the first of them, a line each"`
	Lost      int                  `json:"lost" doc:"How many marks of the school year enter no figure"`
	Codes     CodesInUse           `json:"codes"`
	Reasons   []held.Reason        `json:"reasons" doc:"The retired ones too"`
	Policies  []PolicyLine         `json:"policies" doc:"Those by which the school measures today, and its own of later"`
	Imports   []ImportRecord       `json:"imports" doc:"What was taken from files or set on the page, newest first"`
	Accounts  []SchoolAccount      `json:"accounts"`
	People    []pages.StaffRef     `json:"people" doc:"Staff, for whom accounts can be made"`
}

// SectionLine is a section with what it has.
type SectionLine struct {
	ID       ids.Section `json:"id"`
	Name     string      `json:"name"`
	Students int         `json:"students" doc:"On its roll today"`
	Forms    int         `json:"forms"`
	Staff    int         `json:"staff" doc:"Who work in it; some work in several"`
	Calendar string      `json:"calendar" doc:"In words; empty while there is none"`
	Codes    string      `json:"codes" doc:"The code set in use"`
}

// CodesInUse are the school's codes of today, and the sets that it can choose.
type CodesInUse struct {
	Set   string       `json:"set"`
	Codes []CodeLine   `json:"codes"`
	Lacks []string     `json:"lacks" doc:"What can't be done with it, a sentence each"`
	Sets  []string     `json:"sets"`
	Later []LaterCodes `json:"later" doc:"Sets that are used from a later date on"`
}

// CodeLine is a code with what it counts as and is used for.
type CodeLine struct {
	Code   string   `json:"code"`
	Word   string   `json:"word"`
	Counts string   `json:"counts"`
	State  string   `json:"state"`
	Uses   []string `json:"uses" doc:"In words"`
}

// LaterCodes is a code set that is used from a later date on.
type LaterCodes struct {
	Set  string `json:"set"`
	When string `json:"when"`
}

// PolicyLine is a policy by which the school measures.
type PolicyLine struct {
	ID     string `json:"id"`
	Title  string `json:"title"`
	Source string `json:"source"`
	Own    bool   `json:"own" doc:"The school's own, which it can take away"`
	When   string `json:"when" doc:"From when it holds, in words; empty for today's shipped ones"`
}

// ImportRecord says that files were taken.
type ImportRecord struct {
	When string `json:"when"`
	By   string `json:"by"`
	Text string `json:"text"`
	Past bool   `json:"past" doc:"The past was corrected"`
}

// mostMisplaced bounds the marks that are shown one by one.
const mostMisplaced = 20

// SchoolAccount is someone who can sign in.
type SchoolAccount struct {
	ID       ids.Account `json:"id"`
	Username string      `json:"username"`
	Name     string      `json:"name"`
	Role     string      `json:"role"`
	Staff    ids.Staff   `json:"staff" doc:"Whose it is; 0 for nobody of the staff"`
	OneTime  bool        `json:"oneTime" doc:"It has not been signed in to since its password was given"`
	Ended    bool        `json:"ended"`
}

// Show returns the School page of some sections, of every one where none is given.
func Show(ctx context.Context, o *work.Office, of ...ids.Section) (SchoolView, error) {
	out := SchoolView{Points: []held.MeetingPoint{}, FormNames: []string{}, NoContact: []pages.StudentRef{}, OfNobody: []string{}, NoForm: []pages.StudentRef{}, Policies: []PolicyLine{}, Misplaced: []string{}, Imports: []ImportRecord{}, Accounts: []SchoolAccount{}, Sections: []SectionLine{}, Apart: []string{}, People: []pages.StaffRef{}}
	accounts, err := store.Accounts(ctx, o.Store().Read())
	if err != nil {
		return out, err
	}
	for _, a := range accounts {
		one := SchoolAccount{ID: a.ID, Username: a.Username, Name: a.Name, Role: a.Role, OneTime: a.OneTime, Ended: a.EndedBy != nil}
		if a.StaffID != nil {
			one.Staff = *a.StaffID
		}
		out.Accounts = append(out.Accounts, one)
	}
	if out.Imports, err = imports(ctx, o.Store().Read()); err != nil {
		return out, err
	}
	sets, err := school.Codes(ctx, o.Store().Read())
	if err != nil {
		return out, err
	}
	m, err := o.Moment("", of...)
	if err != nil {
		return out, err
	}
	today := m.Date
	return out, o.Read(ctx, func(v work.Snapshot) error {
		s := v.School
		out.Name, out.Scope = v.SchoolName(), v.ScopeText(m.Scope)
		out.Points, out.FormNames = append([]held.MeetingPoint{}, v.Sections()[0].Settings.MeetingPoints...), s.Forms()
		if err := out.decided(v.In(m.Scope), sets); err != nil {
			return err
		}
		for _, section := range v.In(m.Scope) {
			lost := section.Misplaced()
			out.Lost += len(lost)
			for _, m := range lost[:min(len(lost), mostMisplaced-len(out.Misplaced))] {
				out.Misplaced = append(out.Misplaced, fmt.Sprintf("%s, %s, %s %s: %s", s.StudentOf(m.StudentID).Name(), m.Date.Spoken(), m.Slot, m.Code, m.Why))
			}
		}
		for _, section := range v.Sections() {
			out.Sections = append(out.Sections, sectionLine(section))
		}
		for _, st := range s.Students {
			if !m.Scope.Has(st.Section) || !st.EnrolledOn(today) {
				continue
			}
			out.Students++
			if len(s.ContactsOf(st.ID)) == 0 {
				out.NoContact = append(out.NoContact, pages.Student(v, st, today))
			}
			if s.Form(st.ID, today) == "" {
				out.NoForm = append(out.NoForm, pages.Student(v, st, today))
			}
		}
		for _, p := range s.Records().Rows.Staff {
			if !p.Ended {
				out.Staff++
				out.People = append(out.People, pages.StaffRef{ID: p.ID, Name: work.Join(" ", p.Given, p.Family)})
			}
		}
		for _, c := range s.Classes {
			switch {
			case c.Ended, !m.Scope.Has(c.Section):
			case c.Form():
				out.Forms++
			default:
				out.Classes++
			}
		}
		for _, c := range s.Records().Rows.Contacts {
			if c.Ended {
				continue
			}
			out.Contacts++
			if len(s.StudentsOfContact(c.ID)) == 0 {
				out.OfNobody = append(out.OfNobody, work.Join(" · ", c.Name(), c.Phone))
			}
		}
		return nil
	})
}

// sectionLine returns a section with what it has today.
func sectionLine(s work.Section) SectionLine {
	out := SectionLine{ID: s.ID, Name: s.Name, Codes: s.Codes.ID}
	for _, st := range s.Students {
		if st.Section == s.ID && st.EnrolledOn(s.On) {
			out.Students++
		}
	}
	for _, c := range s.School.Classes {
		if c.Form() && !c.Ended && c.Section == s.ID {
			out.Forms++
		}
	}
	for _, x := range s.School.Records().Rows.StaffSections {
		if m, there := s.School.StaffMember(x.StaffID); there && !m.Ended && x.SectionID == s.ID {
			out.Staff++
		}
	}
	if c := s.Calendar; c != nil && c.Days() > 0 {
		out.Calendar = fmt.Sprintf("%d school days from %s to %s", c.Days(), c.Day(0).Date.Spoken(), c.Day(c.Days()-1).Date.Spoken())
	}
	return out
}

// decided says what the first of some sections has decided, and in what the others differ.
func (out *SchoolView) decided(sections []work.Section, sets []string) (err error) {
	first := sections[0]
	rules := func(s work.Section) school.RegisterRules {
		return school.RegisterRules{Within: s.Settings.RegisterWithin, LateGrace: s.Settings.LateGrace, RemindAfter: s.Settings.RemindAfter,
			CallAfter: s.Settings.CallAfter, AloneFrom: s.Settings.AloneFrom}
	}
	out.Reasons, out.Codes, out.Rules, out.Grading = first.Settings.Reasons, codesInUse(first, sets), rules(first), first.Settings.Grading
	if out.Policies, err = policyLines(first); err != nil {
		return err
	}
	if out.Steps, err = stepsSet(first); err != nil {
		return err
	}
	for _, what := range []struct {
		name   string
		differ func(s work.Section) (bool, error)
	}{
		{"codes", func(s work.Section) (bool, error) { return s.Codes.ID != first.Codes.ID, nil }},
		{"reasons", func(s work.Section) (bool, error) {
			return !slices.Equal(s.Settings.Reasons, first.Settings.Reasons), nil
		}},
		{"rules", func(s work.Section) (bool, error) { return rules(s) != out.Rules, nil }},
		{"grading", func(s work.Section) (bool, error) { return s.Settings.Grading != first.Settings.Grading, nil }},
		{"steps", func(s work.Section) (bool, error) {
			set, err := stepsSet(s)
			return !reflect.DeepEqual(set, out.Steps), err
		}},
		{"policies", func(s work.Section) (bool, error) {
			lines, err := policyLines(s)
			return !slices.Equal(lines, out.Policies), err
		}},
	} {
		for _, s := range sections[1:] {
			differs, err := what.differ(s)
			if err != nil {
				return err
			}
			if differs && !slices.Contains(out.Apart, what.name) {
				out.Apart = append(out.Apart, what.name)
			}
		}
	}
	return nil
}

// codesInUse returns the codes of the snapshot's date, and the sets there are.
func codesInUse(v work.Section, sets []string) CodesInUse {
	out := CodesInUse{Set: v.Codes.ID, Codes: []CodeLine{}, Lacks: v.Codes.Lacks(), Sets: sets, Later: []LaterCodes{}}
	for _, c := range v.Codes.Codes {
		line := CodeLine{Code: c.Code, Word: c.Word, Counts: c.Counts.String(), State: pages.Shape(c), Uses: c.Uses.Words()}
		for i := range line.Uses {
			line.Uses[i] = strings.ReplaceAll(line.Uses[i], "_", " ")
			if c.Half != policy.WholeDay {
				line.Uses[i] += " in the " + c.Half.String()
			}
		}
		out.Codes = append(out.Codes, line)
	}
	before := v.Codes.ID
	for _, x := range v.SectionRecords.Settings {
		if x.From > v.On && x.Codes.ID != before {
			out.Later = append(out.Later, LaterCodes{x.Codes.ID, "from " + x.From.Spoken() + " on"})
			before = x.Codes.ID
		}
	}
	return out
}

// mostImports bounds the list of what was taken from files.
const mostImports = 20

// changed are the kinds of entry by which what enters figures was changed, in words.
var changed = map[string]string{"import roster": "people and classes", "import timetable": "calendar and timetable", "codes": "code set", "policy": "policy", "times of a day": "times of a day",
	"terms": "terms", "bell times": "bell times", "day pattern": "day pattern", "part-time": "part-time student", "closure": "closed", "closure taken back": "closure taken back"}

// imports lists what was taken from files or set on the page, newest first.
func imports(ctx context.Context, q store.Queryer) ([]ImportRecord, error) {
	var kinds []string
	for kind := range changed {
		kinds = append(kinds, kind, "correct the past: "+kind)
	}
	entries, err := store.Entries(ctx, q, kinds, mostImports)
	if err != nil {
		return nil, err
	}
	out := []ImportRecord{}
	for _, e := range entries {
		r := ImportRecord{When: e.Known.Date().Spoken() + e.Known.Date().Time().Format(" 2006") + ", " + e.Known.Minute().String(), By: e.By}
		kind, past := strings.CutPrefix(e.Kind, "correct the past: ")
		r.Past = past
		r.Text = changed[kind]
		var plan struct {
			When    string   `json:"when"`
			Figures []string `json:"figures"`
			Set     string   `json:"set"`
			Title   string   `json:"title"`
		}
		if e.Answer != nil {
			if err := json.Unmarshal([]byte(*e.Answer), &plan); err != nil {
				return nil, fmt.Errorf("reading the record of an import: %w", err)
			}
		}
		r.Text = work.Join(", ", work.Join(" ", r.Text, plan.Set, plan.Title), plan.When)
		if past {
			r.Text = work.Join(" · ", append([]string{r.Text + ", the past corrected"}, plan.Figures...)...)
		}
		out = append(out, r)
	}
	return out, nil
}

// policyLines lists the policies of the snapshot's date, and the school's own of later dates.
func policyLines(v work.Section) ([]PolicyLine, error) {
	list, err := v.PoliciesOn(v.On)
	if err != nil {
		return nil, err
	}
	since := map[string]held.PolicyFrom{}
	out := []PolicyLine{}
	for _, p := range v.OwnPolicies() {
		if p.From <= v.On {
			since[p.ID] = p
		}
	}
	for _, p := range list {
		line := PolicyLine{ID: p.ID, Title: p.Title, Source: p.Source}
		if own, known := since[p.ID]; known && own.Policy != nil {
			line.Own, line.When = true, "since "+own.From.Spoken()
		}
		out = append(out, line)
	}
	for _, p := range v.OwnPolicies() {
		if p.From > v.On && p.Policy != nil {
			out = append(out, PolicyLine{p.ID, p.Policy.Title, p.Policy.Source, true, "from " + p.From.Spoken() + " on"})
		}
	}
	return out, nil
}
