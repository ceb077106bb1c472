package web

import (
	"context"

	"meldung/core/day"
	"meldung/files/table"
	"meldung/pages/schoolpage"
	"meldung/work"
	"meldung/work/calendar"
	"meldung/work/caseload"
	"meldung/work/coursework"
	"meldung/work/incidents"
	"meldung/work/outlooks"
	"meldung/work/plans"
	"meldung/work/roster"
	"meldung/work/school"
)

// ImportFile is one uploaded file.
type ImportFile struct {
	Name    string `json:"name" maxLength:"200"`
	Content []byte `json:"content" doc:"base64"`
}

// Import is files to look at, or to apply.
type Import struct {
	Kind  string       `json:"kind" enum:"oneroster,timetable,incidents,grades,activity,history,contacts,sessions"`
	Apply bool         `json:"apply"`
	From  string       `json:"from,omitempty" doc:"The date from which it is to hold; empty for as early as changes nothing that is over"`
	Past  bool         `json:"past,omitempty" doc:"The past is to be corrected: what holds may begin among the days whose registers are in"`
	Seen  string       `json:"seen,omitempty" maxLength:"20" doc:"The stamp of what was looked at; where it would be another now, nothing is changed"`
	Take  bool         `json:"takeFiles,omitempty" doc:"The files' contacts and warnings take the place of what the school itself has changed"`
	Files []ImportFile `json:"files" doc:"CSV files, or one zip archive"`
}

func (s *server) schoolRoutes() {
	get(s, work.MaySeeSchool, "/school", "The School page", func(ctx context.Context, in *Scoped) (*body[schoolpage.SchoolView], error) {
		return answer(schoolpage.Show(ctx, s.office, in.scope()...))
	})
	get(s, work.MaySeeCalendar, "/school/calendar", "The school years, with their days", func(ctx context.Context, in *Scoped) (*body[schoolpage.CalendarView], error) {
		return answer(schoolpage.ShowCalendar(ctx, s.office, in.scope()...))
	})
	get(s, work.MaySeeTimetable, "/school/timetable", "When slots are, and when a class meets", func(ctx context.Context, in *struct {
		Scoped
		Class string `query:"class" maxLength:"40" doc:"class:ID"`
	}) (*body[schoolpage.TimetableView], error) {
		return answer(schoolpage.ShowTimetable(ctx, s.office, in.Class, in.scope()...))
	})
	post(s, work.MayCloseDays, "/school/closures", "Look at closing dates, or close them", func(ctx context.Context, in *Keyed[calendar.DayClosing]) (*body[plans.Plan], error) {
		return answer(calendar.Close(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayOpenDays, "/school/closures/back", "Look at taking closures back, or take them back", func(ctx context.Context, in *Keyed[calendar.DayOpening]) (*body[plans.Plan], error) {
		return answer(calendar.Open(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MaySetTerms, "/school/terms", "Look at other terms or grading periods, or set them", func(ctx context.Context, in *Keyed[calendar.Terms]) (*body[plans.Plan], error) {
		return answer(calendar.SetTerms(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MaySetBells, "/school/bells", "Look at other times of a day pattern from a date on, or set them", func(ctx context.Context, in *Keyed[calendar.Bells]) (*body[plans.Plan], error) {
		return answer(calendar.SetBells(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MaySetPattern, "/school/day-pattern", "Look at another pattern of some dates, or set it", func(ctx context.Context, in *Keyed[calendar.DayPattern]) (*body[plans.Plan], error) {
		return answer(calendar.SetPattern(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MaySetRegisterRules, "/school/register-rules", "Decide about registers", func(ctx context.Context, in *Keyed[school.RegisterRules]) (*body[work.Receipt], error) {
		return answer(school.SetRegisterRules(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayChooseCodes, "/school/codes", "Look at a code set for the school, or use it", func(ctx context.Context, in *Keyed[school.CodesChoice]) (*body[school.CodesPlan], error) {
		return answer(school.ChooseCodes(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayTakePolicy, "/school/policies", "Look at a policy of the school's own, or take it", func(ctx context.Context, in *Keyed[school.PolicyChoice]) (*body[school.PolicyPlan], error) {
		return answer(school.TakePolicy(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayDraftPolicy, "/school/policies/draft", "Check a policy that is being written", func(ctx context.Context, in *Keyed[schoolpage.PolicyDraft]) (*body[schoolpage.PolicyDrafted], error) {
		return answer(schoolpage.DraftPolicy(ctx, s.office, in.Body))
	})
	get(s, work.MaySeePolicy, "/policy", "A policy as it holds on a date", func(ctx context.Context, in *struct {
		Scoped
		Policy string `query:"policy" required:"true" maxLength:"60"`
		On     string `query:"on" maxLength:"10" doc:"Empty for today"`
	}) (*body[schoolpage.PolicyView], error) {
		return answer(schoolpage.ShowPolicy(ctx, s.office, in.Policy, in.On, in.scope()...))
	})
	post(s, work.MayDraftCodes, "/school/codes/draft", "Check a code set that is being written", func(ctx context.Context, in *Keyed[schoolpage.CodesDraft]) (*body[schoolpage.CodesDrafted], error) {
		return answer(schoolpage.DraftCodes(ctx, s.office, in.Body))
	})
	post(s, work.MaySetGrading, "/school/grading", "Set how attendance is written for grading", func(ctx context.Context, in *Keyed[school.Grading]) (*body[work.Receipt], error) {
		return answer(school.SetGrading(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MaySetReasons, "/school/reasons", "Rename, order, retire and add reasons", func(ctx context.Context, in *Keyed[school.Reasons]) (*body[work.Receipt], error) {
		return answer(school.SetReasons(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayImport, "/school/import", "Look at files, or apply them", func(ctx context.Context, in *Keyed[Import]) (*body[plans.Plan], error) {
		files, err := uploaded(in.Body.Files)
		if err != nil {
			return nil, problem(&work.Error{Kind: work.Wrong, Message: err.Error() + "; nothing was changed"})
		}
		opt := plans.Options{Apply: in.Body.Apply, CorrectPast: in.Body.Past, TakeFiles: in.Body.Take, Seen: in.Body.Seen}
		if in.Body.From != "" {
			from, err := day.ParseDate(in.Body.From)
			if err != nil {
				return nil, problem(work.Wrongf("%v; nothing was changed", err))
			}
			opt.From = &from
		}
		run := map[string]func(context.Context, *work.Office, work.Person, string, table.Files, plans.Options) (plans.Plan, error){
			"oneroster": roster.ImportRoster, "timetable": roster.ImportTimetable, "incidents": incidents.Import, "grades": coursework.Import, "history": outlooks.Import, "activity": outlooks.ImportActivity, "contacts": caseload.ImportContacts, "sessions": caseload.ImportSessions,
		}[in.Body.Kind]
		return answer(run(ctx, s.office, person(ctx), in.Key, files, opt))
	})
}

func uploaded(list []ImportFile) (table.Files, error) {
	if len(list) == 1 && len(list[0].Name) > 4 && list[0].Name[len(list[0].Name)-4:] == ".zip" {
		return table.Unzip(list[0].Content)
	}
	files := table.Files{}
	for _, f := range list {
		files[f.Name] = f.Content
	}
	return files, nil
}
