package concerns

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// toldSetting names the day on which people were told last; tellFrom is from when they are on a day.
const toldSetting = "concerns told"

var tellFrom = day.MustMinute("07:00")

// TellNew tells those whom the rules name, once a day, of whom a rule has come to find since it stands so: on
// their pages, and by e-mail where the rule wants it; never twice of one stretch. It is called every few
// seconds, and does nothing where nothing is due. Students are counted and not named: an e-mail goes through
// many hands, and the place Concerns names them.
func TellNew(ctx context.Context, o *work.Office, at day.Instant) error {
	if tellFrom.After(at.Minute()) {
		return nil
	}
	var last day.Date
	var rules []HeldRule
	err := o.Read(ctx, func(v work.Snapshot) error {
		if _, err := store.Setting(ctx, v.Store(), toldSetting, &last); err != nil || last >= at.Date() {
			return err
		}
		policies, err := Policies(v)
		if err != nil {
			return err
		}
		rules, err = Rules(ctx, v.Store(), policies)
		return err
	})
	if err != nil || last >= at.Date() {
		return err
	}
	rules = slices.DeleteFunc(On(rules), func(h HeldRule) bool { return len(h.Tell) == 0 })
	looks := map[ids.Section]Look{}
	if len(rules) > 0 {
		if looks, err = LookNow(ctx, o); err != nil {
			return err
		}
	}
	return o.Write(ctx, work.Job{By: work.Person{}.ActingAt(at), Kind: "concerns told"}, func(tx *work.Tx, v work.Snapshot) error {
		if err := store.SetSetting(ctx, tx.Tx, toldSetting, at.Date()); err != nil {
			return err
		}
		t := telling{tx: tx, v: v, looks: looks, rules: rules}
		return t.all(ctx)
	})
}

// telling is who is told of whom.
type telling struct {
	tx    *work.Tx
	v     work.Snapshot
	looks map[ids.Section]Look
	rules []HeldRule

	accounts []store.Account
	told     map[toldKey]day.Date // when last
}

type toldKey struct {
	account ids.Account
	rule    string
	student ids.Student
}

func (t *telling) all(ctx context.Context) error {
	var err error
	if t.accounts, err = store.Accounts(ctx, t.tx.Tx); err != nil {
		return err
	}
	told, err := store.ConcernsTold(ctx, t.tx.Tx)
	if err != nil {
		return err
	}
	t.told = map[toldKey]day.Date{}
	for _, x := range told {
		k := toldKey{x.AccountID, x.Rule, x.StudentID}
		t.told[k] = max(t.told[k], x.AsAt)
	}
	for _, a := range t.accounts {
		if a.EndedBy == nil && a.StaffID != nil {
			if err := t.one(ctx, a); err != nil {
				return err
			}
		}
	}
	return nil
}

// one tells an account what is new for it.
func (t *telling) one(ctx context.Context, a store.Account) error {
	var rows []store.ConcernTold
	var words []string
	send := false
	for _, h := range t.rules {
		n := 0
		for _, s := range t.v.Sections() {
			look := t.looks[s.ID]
			for _, f := range found(look) {
				i := slices.IndexFunc(f.Rules, func(r FoundRule) bool { return r.Rule == h.ID })
				if i < 0 || !t.isTold(h, a, f.Student) {
					continue
				}
				last, before := t.told[toldKey{a.ID, h.ID, f.Student}]
				if f.Rules[i].Since < h.From || before && last >= f.Rules[i].Since {
					continue
				}
				rows = append(rows, store.ConcernTold{Rule: h.ID, StudentID: f.Student, AsAt: t.tx.Now.Date(), AccountID: a.ID, JournalID: t.tx.Entry})
				n++
			}
		}
		if n > 0 {
			words = append(words, fmt.Sprintf("%s: %d", h.Title, n))
			send = send || h.Send
		}
	}
	if len(rows) == 0 {
		return nil
	}
	text := "Newly found by the school’s rules. " + strings.Join(words, "; ") + ". Who they are stands under Concerns."
	staff := t.v.School.StaffOf(*a.StaffID)
	messages := []store.Message{{Channel: work.OnPage}}
	if send && staff.Email != "" {
		messages = append(messages, store.Message{Channel: work.ByEMail, Address: staff.Email})
	}
	for _, m := range messages {
		m.Kind, m.StaffID, m.Text = work.OfConcern, a.StaffID, text
		if _, err := t.tx.AddMessage(ctx, m); err != nil {
			return err
		}
	}
	return store.AddConcernsTold(ctx, t.tx.Tx, rows)
}

// isTold reports whether a rule names somebody for a student.
func (t *telling) isTold(h HeldRule, a store.Account, student ids.Student) bool {
	if GoesByOutlook(&h.Rule.Rule) && !work.Role(a.Role).May(work.MaySeeOutlook) {
		return false
	}
	if slices.Contains(h.Tell, a.Role) {
		return true
	}
	if !slices.Contains(h.Tell, "tutor") {
		return false
	}
	return slices.ContainsFunc(t.v.School.EnrollmentsOf(student), func(e store.Enrollment) bool {
		class, ok := t.v.School.Class(e.ClassID)
		return ok && class.Form() && e.On(t.v.On) && t.v.School.Teaches(*a.StaffID, class.ID)
	})
}
