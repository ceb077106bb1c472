package rollcall

import (
	"context"
	"strconv"
	"strings"

	"meldung/core/ids"
	"meldung/held/names"
	"meldung/store"
	"meldung/work"
)

// Visit is somebody who signs in: a visitor, or a member of staff.
type Visit struct {
	Staff ids.Staff `json:"staff,omitempty" doc:"A member of staff; 0 for a visitor"`
	Name  string    `json:"name,omitempty" maxLength:"100" doc:"Of a visitor"`
	Firm  string    `json:"firm,omitempty" maxLength:"100"`
	Host  string    `json:"host,omitempty" maxLength:"100" doc:"Whom they visit"`
	Badge string    `json:"badge,omitempty" maxLength:"20" doc:"Empty for the next number that is free"`
}

// SignIn stores that somebody has come. A visitor gets a badge that nobody else wears.
func SignIn(ctx context.Context, o *work.Office, p work.Person, key string, n Visit) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MaySignInVisitor, Kind: "visit", In: n, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		id, words, err := signIn(ctx, tx, v, x, n, nil)
		out = work.ReceiptOf(tx, words, id)
		return err
	})
	return out, err
}

func signIn(ctx context.Context, tx *work.Tx, v work.Snapshot, x *work.Day, n Visit, station *ids.Station) (ids.Visit, string, error) {
	row := store.Visit{Kind: "visitor", Name: strings.TrimSpace(n.Name), Firm: strings.TrimSpace(n.Firm), Host: strings.TrimSpace(n.Host), Badge: strings.TrimSpace(n.Badge),
		Date: x.Date, From: tx.Now.Minute(), StationID: station, Origin: tx.Origin()}
	if n.Staff != 0 {
		s, ok := v.School.StaffMember(n.Staff)
		if !ok || s.Ended {
			return 0, "", work.NotFoundf("that is no member of staff; nothing was saved")
		}
		row.Kind, row.StaffID, row.Name, row.Firm, row.Host, row.Badge = "staff", &s.ID, s.Short(), "", "", ""
	}
	if row.Name == "" {
		return 0, "", work.Wrongf("give the visitor’s name; nothing was saved")
	}
	worn := map[string]bool{}
	for _, one := range x.Visits {
		if !one.To.IsZero() {
			continue
		}
		worn[one.Badge] = true
		switch {
		case row.StaffID != nil && one.StaffID != nil && *one.StaffID == *row.StaffID:
			return 0, "", work.Conflictf("%s is signed in since %s", row.Name, one.From)
		case row.Badge != "" && one.Badge == row.Badge:
			return 0, "", work.Conflictf("badge %s is worn by %s; nothing was saved", one.Badge, one.Name)
		}
	}
	for n := 1; row.Kind == "visitor" && row.Badge == ""; n++ {
		if free := strconv.Itoa(n); !worn[free] {
			row.Badge = free
		}
	}
	id, err := store.AddVisit(ctx, tx.Tx, row)
	return id, work.Join(", ", row.Name+" signed in at "+row.From.String(), badgeWords(row.Badge)), err
}

// SignOut stores that somebody has left.
func SignOut(ctx context.Context, o *work.Office, p work.Person, key string, id ids.Visit) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MaySignOutVisitor, Kind: "visit ended", Of: id, Out: &out}, func(tx *work.Tx, _ work.Snapshot, x *work.Day) error {
		for _, one := range x.Visits {
			if one.ID == id {
				done, err := store.EndVisit(ctx, tx.Tx, id, tx.Now.Minute(), tx.Entry)
				if err == nil && !done {
					return work.Conflictf("%s left at %s", one.Name, one.To)
				}
				out = work.ReceiptOf(tx, one.Name+" left at "+tx.Now.Minute().String(), id)
				return err
			}
		}
		return work.NotFoundf("nobody of that number signed in today; nothing was saved")
	})
	return out, err
}

// BackIn takes back that somebody has left today.
func BackIn(ctx context.Context, o *work.Office, p work.Person, key string, id ids.Visit) (work.Receipt, error) {
	var out work.Receipt
	err := o.WriteToday(ctx, work.Job{By: p, Key: key, Needs: work.MayBringBack, Kind: "visit goes on", Of: id, Out: &out}, func(tx *work.Tx, _ work.Snapshot, x *work.Day) error {
		var this *store.Visit
		for i := range x.Visits {
			if x.Visits[i].ID == id {
				this = &x.Visits[i]
			}
		}
		if this == nil {
			return work.NotFoundf("nobody of that number signed in today; nothing was saved")
		}
		for _, one := range x.Visits {
			if one.ID != id && one.To.IsZero() && one.Badge != "" && one.Badge == this.Badge {
				return work.Conflictf("badge %s is worn by %s by now; sign %s in again", one.Badge, one.Name, this.Name)
			}
		}
		if _, err := store.VisitAgain(ctx, tx.Tx, id); err != nil {
			return err
		}
		out = work.ReceiptOf(tx, this.Name+" is in after all", id)
		return nil
	})
	return out, err
}

// AtStation is a visitor before a station.
type AtStation struct {
	Visit
	Leave bool `json:"leave,omitempty" doc:"They leave: the badge, and the family name as it was given"`
}

// VisitorReceipt thanks a visitor.
type VisitorReceipt struct {
	Name  string `json:"name"`
	Badge string `json:"badge"`
	At    string `json:"at"`
}

// MoveAtStation signs a visitor in or out at a station. Who leaves gives badge and name, so that
// nobody signs out whose badge they have only read.
func MoveAtStation(ctx context.Context, o *work.Office, station ids.Station, key string, a AtStation) (VisitorReceipt, error) {
	var out VisitorReceipt
	if a.Staff != 0 {
		return out, work.Refusedf("staff sign in at the desk; nothing was saved")
	}
	err := o.WriteToday(ctx, work.Job{Key: key, Kind: "visit", In: a, Of: station, Out: &out}, func(tx *work.Tx, v work.Snapshot, x *work.Day) error {
		out = VisitorReceipt{Name: strings.TrimSpace(a.Name), At: tx.Now.Minute().String()}
		if !a.Leave {
			a.Badge = ""
			id, _, err := signIn(ctx, tx, v, x, a.Visit, &station)
			if err != nil {
				return err
			}
			visits, err := store.VisitsOn(ctx, tx.Tx, x.Date)
			for _, one := range visits {
				if one.ID == id {
					out.Badge = one.Badge
				}
			}
			return err
		}
		for _, one := range x.Visits {
			if one.Kind == "visitor" && one.To.IsZero() && one.Badge == strings.TrimSpace(a.Badge) && one.Badge != "" && sameName(one.Name, a.Name) {
				out.Name, out.Badge = one.Name, one.Badge
				_, err := store.EndVisit(ctx, tx.Tx, one.ID, tx.Now.Minute(), tx.Entry)
				return err
			}
		}
		return work.NotFoundf("nobody with that badge and name is signed in: see the office")
	})
	return out, err
}

// sameName reports whether a typed name is a whole name, or its last word.
func sameName(name, typed string) bool {
	name, typed = names.Fold(name), names.Fold(strings.TrimSpace(typed))
	words := strings.Fields(name)
	return typed != "" && (typed == name || (len(words) > 0 && typed == words[len(words)-1]))
}

// Place says where a visitor belongs: "Harbour Works, host M. Jahn, badge 12".
func Place(v store.Visit) string {
	return work.Join(", ", v.Firm, hostWords(v.Host), badgeWords(v.Badge))
}
