package web

import (
	"context"
	"fmt"

	"meldung/core/ids"
	"meldung/pages"
	"meldung/pages/schoolpage"
	"meldung/pages/studentpage"
	"meldung/work"
	"meldung/work/access"
	"meldung/work/accounts"
	"meldung/work/former"
	"meldung/work/leavers"
)

// accountRoutes are who can sign in, and who is.
func (s *server) accountRoutes() {
	post(s, work.MayAddAccount, "/school/accounts", "Make an account with a one-time password", func(ctx context.Context, in *Keyed[accounts.NewAccount]) (*body[accounts.MadeAccount], error) {
		return answer(accounts.Add(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayImportAccounts, "/school/accounts/list", "Make the accounts of a list", func(ctx context.Context, in *Keyed[accounts.List]) (*body[[]accounts.MadeAccount], error) {
		return answer(accounts.Import(ctx, s.office, person(ctx), in.Body))
	})
	post(s, work.MayResetAccount, "/school/accounts/{id}/reset", "Give an account a new one-time password, and open it again where it has ended", func(ctx context.Context, in *KeyedByID[ids.Account]) (*body[accounts.MadeAccount], error) {
		made, err := accounts.Reset(ctx, s.office, person(ctx), in.ID)
		return answer(made, s.andEndSessions(err, in.ID))
	})
	post(s, work.MayEndAccount, "/school/accounts/{id}/end", "End an account", func(ctx context.Context, in *KeyedByID[ids.Account]) (*body[work.Receipt], error) {
		out, err := accounts.End(ctx, s.office, person(ctx), in.Key, in.ID)
		return answer(out, s.andEndSessions(err, in.ID))
	})
	post(s, work.MayChangeAccount, "/school/accounts/{id}", "Give an account another role", func(ctx context.Context, in *struct {
		ID ids.Account `path:"id"`
		Keyed[accounts.Part]
	}) (*body[work.Receipt], error) {
		return answer(accounts.SetPart(ctx, s.office, person(ctx), in.Key, in.ID, in.Body))
	})
	get(s, work.MaySeeSessions, "/school/sessions", "Browsers that are signed in", func(ctx context.Context, _ *struct{}) (*body[[]Session], error) {
		return answer(s.sessions.list(ctx))
	})
	post(s, work.MayEndSession, "/school/sessions/{handle}/end", "Sign a browser out", func(_ context.Context, in *struct {
		Handle string `path:"handle" maxLength:"60"`
		Keyed[nothing]
	}) (*body[work.Receipt], error) {
		ended, err := s.sessions.endWhere(func(handle string, _ ids.Account) bool { return handle == in.Handle })
		if err == nil && ended == 0 {
			err = work.NotFoundf("that browser is no longer signed in")
		}
		return answer(work.Receipt{Text: "Signed out there", IDs: []int64{}}, err)
	})
	get(s, work.MaySeeLooks, "/school/record", "Who looked at what and who did what", func(ctx context.Context, in *DoneAsked) (*body[schoolpage.DoneView], error) {
		return answer(schoolpage.ShowDone(ctx, s.office, in.ask(), access.Keeping))
	})
	get(s, work.MayKeepLooks, "/school/record/file", "Who looked at what and who did what as a file", func(ctx context.Context, in *DoneAsked) (*fileBody, error) {
		f, err := schoolpage.DoneFile(ctx, s.office, in.ask())
		return answerFile(f, err, "attachment")
	})
}

// leaverRoutes are what becomes of the data of those who have left.
func (s *server) leaverRoutes() {
	get(s, work.MaySeeLeavers, "/school/leavers", "Those who have left, and for how long their data are kept", func(ctx context.Context, _ *struct{}) (*body[schoolpage.LeaversView], error) {
		return answer(schoolpage.ShowLeavers(ctx, s.office))
	})
	post(s, work.MaySetLeaversRule, "/school/leavers/rule", "Decide for how long the data of leavers are kept", func(ctx context.Context, in *Keyed[leavers.Rule]) (*body[work.Receipt], error) {
		return answer(leavers.SetRule(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayEraseLeavers, "/school/leavers/erase", "Erase the data of leavers whose time is over", func(ctx context.Context, in *Keyed[leavers.Erasure]) (*body[work.Receipt], error) {
		return answer(leavers.Erase(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	get(s, work.MayTakePersonalData, "/students/{id}/everything", "Everything that is kept about a student, as a zip archive of CSV files", func(ctx context.Context, in *struct {
		ID ids.Student `path:"id"`
	}) (*fileBody, error) {
		name, archive, err := leavers.Everything(ctx, s.office, person(ctx), in.ID)
		return answerFile(pages.File{Name: name, Type: "application/zip", Content: archive}, err, "attachment")
	})
}

// formerRoutes are what earlier schools have handed on about a student.
func (s *server) formerRoutes() {
	type one struct {
		ID     ids.Student      `path:"id"`
		Record ids.FormerRecord `path:"record"`
	}
	get(s, work.MaySeeFormer, "/students/{id}/former", "What earlier schools have handed on about a student", func(ctx context.Context, in *struct {
		ID ids.Student `path:"id"`
	}) (*body[[]studentpage.FormerRef], error) {
		return answer(studentpage.Formers(ctx, s.office, person(ctx), in.ID))
	})
	get(s, work.MaySeeFormerOf, "/students/{id}/former/{record}", "A record of an earlier school, to read", func(ctx context.Context, in *one) (*body[studentpage.FormerView], error) {
		return answer(studentpage.Former(ctx, s.office, person(ctx), in.ID, in.Record))
	})
	get(s, work.MayKeepFormer, "/students/{id}/former/{record}/file", "A record of an earlier school as it came, a zip archive", func(ctx context.Context, in *one) (*fileBody, error) {
		f, err := studentpage.FormerFile(ctx, s.office, in.ID, in.Record)
		return answerFile(f, err, "attachment")
	})
	post(s, work.MayLookAtFormer, "/former/look", "What bringing in a record of an earlier school would do", func(ctx context.Context, in *struct{ Body former.Brought }) (*body[studentpage.FormerLook], error) {
		return answer(studentpage.LookAtFormer(ctx, s.office, person(ctx), in.Body))
	})
	post(s, work.MayBringFormer, "/former", "Bring in a record of an earlier school", func(ctx context.Context, in *Keyed[former.Brought]) (*body[work.Receipt], error) {
		return answer(former.Bring(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MayEndFormer, "/former/end", "Take a record of an earlier school off a student", func(ctx context.Context, in *Keyed[former.RecordEnding]) (*body[work.Receipt], error) {
		return answer(former.End(ctx, s.office, person(ctx), in.Key, in.Body))
	})
}

// DoneAsked is which lines of the record are asked for.
type DoneAsked struct {
	From    string      `query:"from" maxLength:"10" doc:"First date; empty is six days before the last"`
	To      string      `query:"to" maxLength:"10" doc:"Last date; empty is today"`
	Account ids.Account `query:"account" doc:"Whose; 0 for everyone's"`
	Student ids.Student `query:"student" doc:"Looks at this student only"`
	What    string      `query:"what" enum:"looks,writes" doc:"Empty is both"`
	Page    int         `query:"page" minimum:"1" maximum:"10000" default:"1"`
}

func (a DoneAsked) ask() schoolpage.DoneAsk {
	return schoolpage.DoneAsk{From: a.From, To: a.To, Account: a.Account, Student: a.Student, What: a.What, Page: a.Page}
}

// andEndSessions ends the sessions of an account to which something was done without an error.
func (s *server) andEndSessions(err error, account ids.Account) error {
	if err != nil {
		return err
	}
	if _, err := s.sessions.endWhere(func(_ string, of ids.Account) bool { return of == account }); err != nil {
		return fmt.Errorf("that is saved, but not every session was ended: %w", err)
	}
	return nil
}
