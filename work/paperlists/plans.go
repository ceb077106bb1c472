package paperlists

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/listing"
	"meldung/store"
	"meldung/work"
)

// The ways in which a list leaves without being asked for.
const (
	ToPrinter = "printer"
	ByEMail   = work.ByEMail
)

// Planned is when one of a person's own lists is made without being asked for.
type Planned struct {
	List     ids.PaperList `json:"list"`
	At       string        `json:"at" minLength:"1" maxLength:"5" doc:"HH:MM"`
	Weekdays []int         `json:"weekdays,omitempty" maxItems:"7" doc:"0 for Sunday; none for every school day"`
	Way      string        `json:"way" enum:"printer,e-mail"`
	Format   string        `json:"format" enum:"pdf,csv,xlsx"`
	With     []ids.Account `json:"with,omitempty" maxItems:"200" doc:"By e-mail: to whom; whose it is and those who have it"`
	Section  []ids.Section `json:"section,omitempty" maxItems:"50" doc:"Of which sections; none for all"`
}

// PlanOf reads when a plan is due.
func PlanOf(p store.PaperPlan) (listing.Plan, error) {
	out := listing.Plan{At: p.Minute, Since: p.Known}
	if err := json.Unmarshal([]byte(p.Weekdays), &out.On); err != nil {
		return out, fmt.Errorf("reading when a list is made: %w", err)
	}
	return out, nil
}

// SectionsOf reads of which sections a plan or a job is.
func SectionsOf(text string) (out []ids.Section, err error) {
	if err := json.Unmarshal([]byte(text), &out); err != nil {
		return nil, fmt.Errorf("reading the sections of a list: %w", err)
	}
	return out, nil
}

// When says when a plan is due.
func When(p listing.Plan) string {
	if len(p.On) == 0 {
		return "every school day at " + p.At.String()
	}
	var names []string
	for _, d := range p.On {
		names = append(names, d.String()+"s")
	}
	return strings.Join(names, ", ") + " at " + p.At.String()
}

// Plan has one of a person's own lists made without being asked for: for the printer as the person may see it, by
// e-mail to each as that one may see it.
func Plan(ctx context.Context, o *work.Office, p work.Person, key string, in Planned) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayPlanPaper, Kind: "paper plan", In: in, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		at, err := day.ParseTyped(in.At)
		if err != nil {
			return work.Wrongf("%v; nothing was saved", err)
		}
		plan := listing.Plan{At: at, Since: tx.Now, On: []time.Weekday{}}
		for d := range 7 {
			if weekday := (d + 1) % 7; slices.Contains(in.Weekdays, weekday) {
				plan.On = append(plan.On, time.Weekday(weekday))
			}
		}
		for _, d := range in.Weekdays {
			if d < 0 || d > 6 {
				return work.Wrongf("a weekday is 0 to 6; nothing was saved")
			}
		}
		for _, id := range in.Section {
			if _, err := v.SectionWith(id); err != nil {
				return err
			}
		}
		all, err := store.PaperLists(ctx, tx.Tx)
		if err != nil {
			return err
		}
		l, err := ownOf(all, p, in.List)
		if err != nil {
			return err
		}
		names, err := in.readers(ctx, tx, v, p, l)
		if err != nil {
			return err
		}
		row := store.PaperPlan{ListID: l.ID, Minute: at, Weekdays: asText(plan.On), Way: in.Way, Format: in.Format, Sections: asText(in.Section), Origin: tx.Origin()}
		to := "goes by e-mail to " + strings.Join(names, ", ") + " "
		if in.Way == ToPrinter {
			in.With, row.Format, to = nil, "pdf", "is printed "
		}
		id, err := store.AddPaperPlan(ctx, tx.Tx, row, in.With)
		out = work.ReceiptOf(tx, l.Name+" "+to+When(plan), id)
		return err
	})
	return out, err
}

// asText is what is kept of a few numbers.
func asText[T any](list []T) string {
	if len(list) == 0 {
		return "[]"
	}
	text, _ := json.Marshal(list) // numbers
	return string(text)
}

// readers judges to whom a plan sends: whoever has the list, with an address.
func (in *Planned) readers(ctx context.Context, tx *work.Tx, v work.Snapshot, p work.Person, l store.PaperList) (names []string, err error) {
	if in.Way != ByEMail {
		return nil, nil
	}
	slices.Sort(in.With)
	in.With = slices.Compact(in.With)
	if len(in.With) == 0 {
		return nil, work.Wrongf("say to whom it goes; nothing was saved")
	}
	has, err := havers(ctx, tx.Tx, l.ID, l.AccountID)
	if err != nil {
		return nil, err
	}
	for _, id := range in.With {
		i := slices.IndexFunc(has, func(a store.Account) bool { return a.ID == id })
		if i < 0 {
			return nil, work.Wrongf("a list goes to whose it is and to those with whom it is shared; nothing was saved")
		}
		if AddressOf(v, has[i]) == "" {
			return nil, work.Conflictf("no e-mail address of %s is on file; nothing was saved", has[i].Name)
		}
		names = append(names, has[i].Name)
	}
	return names, nil
}

// havers are the accounts that have a list and may still see papers: whose it is, and those with whom it is shared.
func havers(ctx context.Context, q store.Queryer, list ids.PaperList, owner ids.Account) ([]store.Account, error) {
	accounts, err := store.Accounts(ctx, q)
	if err != nil {
		return nil, err
	}
	readers, err := store.PaperReaders(ctx, q)
	if err != nil {
		return nil, err
	}
	return slices.DeleteFunc(accounts, func(a store.Account) bool {
		has := a.ID == owner || slices.ContainsFunc(readers, func(r store.PaperReader) bool { return r.ListID == list && r.AccountID == a.ID })
		return !has || a.EndedBy != nil || !work.Role(a.Role).May(work.MayRunPaper)
	}), nil
}

// AddressOf is the e-mail address of an account: that of the member of staff whose it is; empty for none.
func AddressOf(v work.Snapshot, a store.Account) string {
	if a.StaffID == nil {
		return ""
	}
	return v.School.StaffOf(*a.StaffID).Email
}

// EndPlan ends a plan of one of a person's own lists.
func EndPlan(ctx context.Context, o *work.Office, p work.Person, key string, id ids.PaperPlan) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MayEndPaperPlan, Kind: "paper plan", Of: id, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		plans, err := store.PaperPlans(ctx, tx.Tx)
		if err != nil {
			return err
		}
		i := slices.IndexFunc(plans, func(x store.PaperPlan) bool { return x.ID == id && x.AccountID == p.Account })
		if i < 0 {
			return work.NotFoundf("you have no such plan; nothing was changed")
		}
		plan, err := PlanOf(plans[i])
		if err != nil {
			return err
		}
		_, err = store.EndPaperPlan(ctx, tx.Tx, id, tx.Entry)
		out = work.ReceiptOf(tx, fmt.Sprintf("%s is made %s no more", plans[i].Name, When(plan)), id)
		return err
	})
	return out, err
}

// Print puts a list that a person has on its way to the printer, as at now.
func Print(ctx context.Context, o *work.Office, p work.Person, key string, id ids.PaperList, of []ids.Section) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySendToPrinter, Kind: "paper to print", Of: id, Out: &out}, func(tx *work.Tx, _ work.Snapshot) error {
		l, _, err := One(ctx, tx.Tx, p, id)
		if err != nil {
			return err
		}
		job := store.PaperJob{VersionID: l.Version, AccountID: p.Account, Way: ToPrinter, Format: "pdf", Sections: asText(of), Date: tx.Now.Date(), Minute: tx.Now.Minute(), State: JobWaits, Origin: tx.Origin()}
		made, err := store.AddPaperJob(ctx, tx.Tx, job)
		out = work.ReceiptOf(tx, l.Name+" is on its way to the printer", made)
		return err
	})
	return out, err
}

// What becomes of a job.
const (
	JobWaits   = "waiting"
	JobPrinted = "printed"
	JobFailed  = "failed"
)

// Tick puts on its way what plans ask for at an instant, once a day each. It is called every few seconds, and does
// nothing where nothing is due.
func Tick(ctx context.Context, o *work.Office, at day.Instant) error {
	some := false
	err := o.Read(ctx, func(v work.Snapshot) error {
		due, err := dueAt(ctx, v, v.Store(), at)
		some = len(due) > 0
		return err
	})
	if err != nil || !some {
		return err
	}
	return o.Write(ctx, work.Job{By: work.Person{}.ActingAt(at), Kind: "paper due"}, func(tx *work.Tx, v work.Snapshot) error {
		due, err := dueAt(ctx, v, tx.Tx, at) // somebody may have ended a plan in between
		for _, d := range due {
			if err == nil {
				err = d.put(ctx, tx, v)
			}
		}
		return err
	})
}

// due is what a plan asks for, for one account.
type due struct {
	plan    store.PaperPlan
	account store.Account
	asks    listing.Due
}

// dueAt is what plans ask for at an instant and has not been made.
func dueAt(ctx context.Context, v work.Snapshot, q store.Queryer, at day.Instant) ([]due, error) {
	plans, err := store.PaperPlans(ctx, q)
	if err != nil || len(plans) == 0 {
		return nil, err
	}
	made, err := store.PaperMadeOn(ctx, q, at.Date())
	if err != nil {
		return nil, err
	}
	readers, err := store.PaperPlanReaders(ctx, q)
	if err != nil {
		return nil, err
	}
	var out []due
	for _, p := range plans {
		plan, err := PlanOf(p)
		if err != nil {
			return nil, err
		}
		asks := plan.Due(at)
		if asks == listing.Nothing {
			continue
		}
		if open, err := isOpen(v, p, at.Date()); err != nil || !open {
			if err != nil {
				return nil, err
			}
			continue
		}
		has, err := havers(ctx, q, p.ListID, p.AccountID)
		if err != nil {
			return nil, err
		}
		if !slices.ContainsFunc(has, func(a store.Account) bool { return a.ID == p.AccountID }) {
			continue // whose it is has left: nobody minds it
		}
		for _, a := range has {
			goes := p.Way == ToPrinter && a.ID == p.AccountID || p.Way == ByEMail && slices.Contains(readers, store.PaperPlanReader{PlanID: p.ID, AccountID: a.ID})
			if goes && !slices.Contains(made, store.PaperMade{PlanID: p.ID, AccountID: a.ID}) {
				out = append(out, due{p, a, asks})
			}
		}
	}
	return out, nil
}

// isOpen reports whether a date is a school day of a section that a plan covers.
func isOpen(v work.Snapshot, p store.PaperPlan, d day.Date) (bool, error) {
	of, err := SectionsOf(p.Sections)
	if err != nil {
		return false, err
	}
	return slices.ContainsFunc(v.In(of), func(s work.Section) bool { _, _, open := s.SchoolDay(d); return open }), nil
}

// put puts what is due on its way, or says why that can't be.
func (d due) put(ctx context.Context, tx *work.Tx, v work.Snapshot) error {
	job := store.PaperJob{VersionID: d.plan.VersionID, PlanID: &d.plan.ID, AccountID: d.account.ID, Way: d.plan.Way, Format: d.plan.Format, Sections: d.plan.Sections,
		Date: tx.Now.Date(), Minute: tx.Now.Minute(), State: JobWaits, Origin: tx.Origin()}
	if d.asks == listing.Missed {
		job.State, job.Words = JobFailed, fmt.Sprintf("the program was not running at %s and in the two hours after", d.plan.Minute)
	}
	if job.State == JobWaits && job.Way == ByEMail {
		address := AddressOf(v, d.account)
		message, err := tx.AddMessage(ctx, store.Message{Kind: work.AsList, StaffID: d.account.StaffID, Channel: work.ByEMail, Address: address,
			Text: fmt.Sprintf("%s, as at %s, %s, is attached. It holds student data: keep it from others, and delete it when it is of no more use.", d.plan.Name, job.Minute, job.Date.Spoken())})
		if err != nil {
			return err
		}
		job.MessageID = &message
	}
	if _, err := store.AddPaperJob(ctx, tx.Tx, job); err != nil || job.State != JobFailed {
		return err
	}
	return tellOwner(ctx, tx, d.account, fmt.Sprintf("%s was not made today: %s.", d.plan.Name, job.Words))
}

// tellOwner tells somebody on their pages what has become of a list.
func tellOwner(ctx context.Context, tx *work.Tx, a store.Account, words string) error {
	if a.StaffID == nil {
		return nil
	}
	_, err := tx.AddMessage(ctx, store.Message{Kind: work.AsList, StaffID: a.StaffID, Channel: work.OnPage, Text: words})
	return err
}

// Printed writes what became of a job for the printer. One that failed for good is told to whose it is.
func Printed(ctx context.Context, o *work.Office, j store.PaperJob) error {
	return o.Write(ctx, work.Job{Kind: "paper printed"}, func(tx *work.Tx, _ work.Snapshot) error {
		settled, err := store.SettlePaperJob(ctx, tx.Tx, j, tx.Entry)
		if err != nil || !settled || j.State != JobFailed {
			return err
		}
		account, err := store.AccountByID(ctx, tx.Tx, j.AccountID)
		if err != nil || account == nil {
			return err
		}
		return tellOwner(ctx, tx, *account, fmt.Sprintf("%s of %s was not printed: %s.", j.Name, j.Minute, j.Words))
	})
}
