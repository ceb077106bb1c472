package paperpage

import (
	"context"
	"errors"
	"fmt"
	"log/slog"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/listing"
	"meldung/pages"
	"meldung/store"
	"meldung/work"
	"meldung/work/access"
	"meldung/work/accounts"
	"meldung/work/messages"
	"meldung/work/paperlists"
)

// Printer takes pages to print.
type Printer interface {
	// Print takes a page under a name, and returns what it calls it. A second one of that name takes its place.
	Print(name string, content []byte) (file string, err error)
	// Has reports whether a page still waits to be printed, and Read returns it; nil where it is gone.
	Has(file string) bool
	Read(file string) ([]byte, error)
}

// PaperPlan is when a list is made without being asked for.
type PaperPlan struct {
	ID     ids.PaperPlan `json:"id"`
	When   string        `json:"when"`
	Way    string        `json:"way" enum:"printer,e-mail"`
	Format string        `json:"format" enum:"pdf,csv,xlsx"`
	To     []string      `json:"to" doc:"By e-mail: to whom, of those who have the list still"`
	Scope  string        `json:"scope" doc:"Of which sections; empty for all"`
}

// PaperJobView is a list that was put on its way.
type PaperJobView struct {
	ID     ids.PaperJob  `json:"id"`
	List   ids.PaperList `json:"list"`
	Name   string        `json:"name"`
	At     string        `json:"at" doc:"As at when it was made"`
	Way    string        `json:"way" enum:"printer,e-mail"`
	For    string        `json:"for" doc:"Who may see what is on it"`
	State  string        `json:"state" enum:"waiting,printed,sent,delivered,failed"`
	Words  string        `json:"words" doc:"Why it waits or has failed"`
	ByPlan bool          `json:"byPlan"`
	There  bool          `json:"there" doc:"It lies in the printer's folder still, to be looked at"`
}

const (
	jobDays  = 14 // for how long jobs are shown
	mostJobs = 40
)

// plansOf shows the plans of a person's own lists.
func plansOf(ctx context.Context, v work.Snapshot, p work.Person) (map[ids.PaperList][]PaperPlan, error) {
	plans, err := store.PaperPlans(ctx, v.Store())
	if err != nil {
		return nil, err
	}
	readers, err := store.PaperPlanReaders(ctx, v.Store())
	if err != nil {
		return nil, err
	}
	shared, err := store.PaperReaders(ctx, v.Store())
	if err != nil {
		return nil, err
	}
	has := map[ids.PaperList]map[ids.Account]string{} // by name, who has a list besides whose it is
	for _, r := range shared {
		if has[r.ListID] == nil {
			has[r.ListID] = map[ids.Account]string{}
		}
		has[r.ListID][r.AccountID] = r.Name
	}
	out := map[ids.PaperList][]PaperPlan{}
	for _, x := range plans {
		if x.AccountID != p.Account {
			continue
		}
		when, err := paperlists.PlanOf(x)
		if err != nil {
			return nil, err
		}
		of, err := paperlists.SectionsOf(x.Sections)
		if err != nil {
			return nil, err
		}
		one := PaperPlan{ID: x.ID, When: paperlists.When(when), Way: x.Way, Format: x.Format, To: []string{}, Scope: v.ScopeText(of)}
		for _, r := range readers {
			name, still := has[x.ListID][r.AccountID]
			if r.AccountID == p.Account {
				name, still = p.Name, true
			}
			if r.PlanID == x.ID && still {
				one.To = append(one.To, name)
			}
		}
		out[x.ListID] = append(out[x.ListID], one)
	}
	return out, nil
}

// jobsOf shows what was put on its way lately of a person's lists, or to the person.
func jobsOf(ctx context.Context, v work.Snapshot, p work.Person, printer Printer) ([]PaperJobView, error) {
	out := []PaperJobView{}
	jobs, err := store.PaperJobsSince(ctx, v.Store(), v.Now.Date()-jobDays, p.Account, mostJobs)
	for _, j := range jobs {
		one := PaperJobView{ID: j.ID, List: j.ListID, Name: j.Name, At: pages.SpokenAt(day.At(j.Date, j.Minute), v.Now.Date()), Way: j.Way, For: j.For, State: j.State, Words: j.Words, ByPlan: j.PlanID != nil}
		if j.MessageID != nil && j.Sent != "" {
			one.State, one.Words = j.Sent, j.SentWords
		}
		one.There = j.File != "" && printer != nil && j.AccountID == p.Account && printer.Has(j.File)
		out = append(out, one)
	}
	return out, err
}

// PrintedPaper returns a page that lies in the printer's folder still, to whom it was made for.
func PrintedPaper(ctx context.Context, o *work.Office, p work.Person, printer Printer, id ids.PaperJob) (pages.File, error) {
	gone := work.NotFoundf("that page is not at the printer: it was taken, or never yours")
	jobs, err := store.PaperJobsBy(ctx, o.Store().Read(), id, 0)
	if err != nil {
		return pages.File{}, err
	}
	if len(jobs) == 0 || jobs[0].AccountID != p.Account || jobs[0].File == "" || printer == nil {
		return pages.File{}, gone
	}
	content, err := printer.Read(jobs[0].File)
	if err == nil && content == nil {
		err = gone
	}
	return pages.File{Name: jobs[0].File, Type: pages.PDF, Content: content}, err
}

// makeJob makes a job's list as the person may see it whom it is for, and notes that as a look of theirs.
func makeJob(ctx context.Context, o *work.Office, looks *access.Record, j store.PaperJob) (pages.File, error) {
	p, _, err := accounts.PersonOf(ctx, o, j.AccountID)
	if err != nil {
		return pages.File{}, err
	}
	if !p.May(work.MayRunPaper) {
		return pages.File{}, work.Refusedf("%s may not see papers any more", p.Name)
	}
	setup, err := paperlists.Read(j.Setup)
	if err != nil {
		return pages.File{}, err
	}
	of, err := paperlists.SectionsOf(j.Sections)
	if err != nil {
		return pages.File{}, err
	}
	f, err := Make(ctx, o, p, day.At(j.Date, j.Minute).String(), MakeAsk{setup, j.Format}, of...)
	if err == nil {
		looks.Note(store.Look{AccountID: p.Account, What: "saved list as a file", Detail: fmt.Sprintf("%s, for the %s", j.Name, j.Way)})
	}
	return f, err
}

// printPatience is for how many minutes a page that can't be printed is tried again.
const printPatience = 60

// PrintWaiting gives the printer what waits for it. What the printer does not take now is tried again at the next
// call, and says why it waits; what can't be made, was not taken for an hour, or has waited since another day, has failed,
// and whose it is is told. printer is nil where the school has none.
func PrintWaiting(ctx context.Context, o *work.Office, looks *access.Record, printer Printer) error {
	jobs, err := store.PaperJobsToPrint(ctx, o.Store().Read())
	if err != nil {
		return err
	}
	for _, j := range jobs {
		switch err := printJob(ctx, o, looks, printer, &j); {
		case err == nil:
			j.State, j.Words = paperlists.JobPrinted, ""
		case ctx.Err() != nil:
			return ctx.Err()
		case forGood(err) || o.Now()-day.At(j.Date, j.Minute) > printPatience:
			j.State, j.Words = paperlists.JobFailed, err.Error()
		case j.Words == err.Error():
			continue // it is said already
		default:
			slog.Error("a list waits for the printer", "error", err)
			j.Words = err.Error()
		}
		if err := paperlists.Printed(ctx, o, j); err != nil {
			return err
		}
	}
	return nil
}

// forGood reports whether trying again is of no use.
func forGood(err error) bool {
	var mistake *work.Error
	return errors.As(err, &mistake)
}

func printJob(ctx context.Context, o *work.Office, looks *access.Record, printer Printer, j *store.PaperJob) error {
	switch {
	case printer == nil:
		return work.Conflictf("no printer is set up")
	case o.Now()-day.At(j.Date, j.Minute) > day.Instant(listing.Grace):
		return work.Conflictf("the program was not running")
	}
	f, err := makeJob(ctx, o, looks, *j)
	if err != nil {
		return err
	}
	j.File, err = printer.Print(fmt.Sprintf("%s-%02d%02d-%s-%d", j.Date, j.Minute.SinceMidnight()/60, j.Minute.SinceMidnight()%60, pages.Slug(j.Name), j.ID), f.Content)
	return err
}

// Enclosures makes the files that go with messages: a list with one that carries it, nothing with others.
func Enclosures(o *work.Office, looks *access.Record) messages.Enclose {
	return func(ctx context.Context, m store.Message) ([]messages.File, error) {
		if m.Kind != work.AsList || m.Channel != work.ByEMail {
			return nil, nil
		}
		jobs, err := store.PaperJobsBy(ctx, o.Store().Read(), 0, m.ID)
		if err != nil {
			return nil, err
		}
		if len(jobs) == 0 {
			return nil, work.NotFoundf("the list that goes with it is no more")
		}
		f, err := makeJob(ctx, o, looks, jobs[0])
		return []messages.File{{Name: f.Name, Type: f.Type, Content: f.Content}}, err
	}
}
