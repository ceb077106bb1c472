// Package demo builds the invented Fairlead School on the Holm Isles, from a
// fixed seed, and plays its days. Nothing in it is real.
package demo

import (
	"context"
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/register"
	"meldung/held"
	"meldung/store"
	"meldung/work/accounts"
	"meldung/work/school"
)

// Password opens every account of the demonstration.
const Password = "holm-isles-2026"

// SignIns are the accounts worth naming, with who they are.
var SignIns = []struct{ Username, Who string }{
	{"tolvan", "Ruth Tolvan, attendance officer"},
	{"ase", "Disa Ase, pastoral lead"},
	{"osk", "Pirkko Osk, teacher, tutor of 8 Halyard"},
	{"rask", "Tove Rask, teacher, tutor of 9 Bowline"},
	{"kersey", "Maud Kersey, desk"},
	{"strom", "Halvard Strom, leader"},
	{"admin", "administrator"},
}

// firstPlayed names the setting that holds the first day that is played.
const firstPlayed = "demo first played"

// School is the demonstration's school with its plan of days.
type School struct {
	people  *people
	days    []day.Date
	plans   [][]dayPlan
	classes [][5][8]ids.Class
}

// New plans Fairlead School and its present year; nothing is stored.
func New() *School { return NewOf(Options{}) }

// NewOf plans a school of another size, or with earlier years; nothing is stored.
func NewOf(o Options) *School {
	s := &School{people: newSchool(o)}
	for _, c := range s.people.school.Calendar {
		if c.SectionID == lower && c.Pattern != day.Closed && c.Date >= firstDay {
			s.days = append(s.days, c.Date)
		}
	}
	s.plans = s.people.year(s.days)
	s.classes = s.people.timetableOf()
	return s
}

// Build writes the school and every day before the given one. Progress is told in
// hundredths.
func (s *School) Build(ctx context.Context, db *store.Store, until day.Date, progress func(percent int)) error {
	hash, err := accounts.Hash(Password)
	if err != nil {
		return err
	}
	err = db.WriteBulk(ctx, func(tx *sqlx.Tx) error {
		if err := store.AddSchool(ctx, tx, s.people.school); err != nil {
			return fmt.Errorf("writing the invented school: %w", err)
		}
		rules, err := addLetters(ctx, tx)
		if err != nil {
			return err
		}
		for _, section := range s.people.school.Sections {
			settings := held.UsualSettings()
			settings.Steps = rules
			settings.Name, settings.AloneFrom = "Fairlead School", 13
			if section.ID == upper {
				settings.RegisterWithin = 10 // its registration is over sooner
			}
			if err := store.SetSettingFrom(ctx, tx, section.ID, held.SettingsName, settings, 0); err != nil {
				return err
			}
		}
		emblem, err := emblemPicture()
		if err != nil {
			return err
		}
		if err := store.SetSetting(ctx, tx, school.EmblemSetting, emblem); err != nil {
			return err
		}
		if err := store.SetSetting(ctx, tx, firstPlayed, until); err != nil {
			return err
		}
		accounts, err := s.addAccounts(ctx, tx, hash)
		if err != nil {
			return err
		}
		if err := addLists(ctx, tx, accounts); err != nil {
			return err
		}
		past := s.before(until)
		if len(past) > 0 {
			if err := store.SetBegan(ctx, tx, past[len(past)-1]); err != nil {
				return err
			}
		}
		all, done := len(past), 0
		for _, y := range s.people.past {
			all += len(y.days)
		}
		told := func() {
			done++
			progress(done * 100 / all)
		}
		err = store.WithoutStudentIndex(ctx, tx, func() error {
			for _, y := range slices.Backward(s.people.past) {
				if err := s.writeEarlier(ctx, tx, y, accounts, told); err != nil {
					return err
				}
			}
			for n, d := range past {
				if err := s.writeDay(ctx, tx, d, s.classes, func(i int) *dayPlan { return &s.plans[i][n] }, accounts); err != nil {
					return fmt.Errorf("writing %s: %w", d, err)
				}
				told()
			}
			return nil
		})
		if err != nil {
			return err
		}
		if err := s.addSeats(ctx, tx, past); err != nil {
			return err
		}
		if len(past) > 0 {
			if err := s.settleAllBut(ctx, tx, past[len(past)-1], accounts); err != nil {
				return err
			}
		}
		return s.people.addReview(ctx, tx, past, s.plans, accounts)
	})
	if err != nil {
		return err
	}
	if s.people.noReviews {
		return nil
	}
	return s.holdReviews(ctx, db, until)
}

func (s *School) before(until day.Date) []day.Date {
	n := 0
	for n < len(s.days) && s.days[n] < until {
		n++
	}
	return s.days[:n]
}

// addAccounts makes an account for everyone who works here, and the administrator.
func (s *School) addAccounts(ctx context.Context, tx *sqlx.Tx, hash string) (map[string]ids.Account, error) {
	made := map[string]ids.Account{}
	add := func(i int, role string) error {
		p := s.people.school.Staff[i]
		staff := p.ID
		username := strings.ToLower(p.Family)
		id, err := store.AddAccount(ctx, tx, store.Account{Username: username, Name: p.Short(), Role: role, StaffID: &staff, Password: hash})
		made[username] = id
		return err
	}
	first, last := s.people.teachers, s.people.teachers+len(officeSet)
	for i := range s.people.school.Staff[:last] {
		role := "teacher"
		if i >= first {
			role = officeSet[i-first].account
		}
		if err := add(i, role); err != nil {
			return nil, err
		}
	}
	id, err := store.AddAccount(ctx, tx, store.Account{Username: "admin", Name: "Administrator", Role: "administrator", Password: hash})
	made["admin"] = id
	for i := last; i < len(s.people.school.Staff) && err == nil; i++ {
		err = add(i, "teacher")
	}
	return made, err
}

// writeDay writes a past day: registers, marks, and the movements that go with them. classes
// say where everyone was to be, plan what the n-th student did.
func (s *School) writeDay(ctx context.Context, tx *sqlx.Tx, d day.Date, classes [][5][8]ids.Class, plan func(i int) *dayPlan, accounts map[string]ids.Account) error {
	teacherOf := map[ids.Class]ids.Account{}
	for _, t := range s.people.school.Teachers {
		teacherOf[t.ClassID] = accounts[strings.ToLower(s.people.school.Staff[t.StaffID-1].Family)]
	}
	var marks []store.Mark
	var registers []store.Register
	for k := range dayShape {
		entry := map[ids.Class]ids.Entry{}
		for i := range s.people.school.Students {
			st := &s.people.school.Students[i]
			class := classes[i][d.Weekday()-1][k]
			if class == 0 || !st.EnrolledOn(d) {
				continue
			}
			section := s.people.school.Classes[class-1].Section
			if section == upper && d == upperClosed {
				continue
			}
			slot := shapeOf(section)[k]
			if entry[class] == 0 {
				account := teacherOf[class]
				j, err := store.AddJournal(ctx, tx, store.Journal{Known: day.At(d, slot.Start.Add(takenAfter(class))), Account: &account, Kind: "register"})
				if err != nil {
					return err
				}
				entry[class] = j.ID
				registers = append(registers, store.Register{Date: d, Slot: slot.Slot, ClassID: class, Start: slot.Start, End: slot.End, Kind: slot.Kind, Origin: store.Origin{Journal: j.ID}})
			}
			m := plan(i).slots[k]
			row := store.Mark{Date: d, Slot: slot.Slot, StudentID: st.ID, Version: 1, ClassID: class, Code: m.code, AwayFrom: m.from, AwayTo: m.to, Made: slot.Start.Add(takenAfter(class) - 1), Source: "register", Origin: store.Origin{Journal: entry[class]}}
			marks = append(marks, row)
		}
	}
	if err := store.AddRegisters(ctx, tx, registers); err != nil {
		return err
	}
	if err := store.AddMarks(ctx, tx, marks); err != nil {
		return err
	}
	return s.writeMovements(ctx, tx, d, classes, plan, accounts["kersey"])
}

// unseated is the form whose plan is left to whoever tries the demonstration.
const unseated = "8 Halyard"

// addSeats sits the forms down in their own rooms, some beside an empty seat.
func (s *School) addSeats(ctx context.Context, tx *sqlx.Tx, past []day.Date) error {
	if len(past) == 0 {
		return nil
	}
	j, err := store.AddJournal(ctx, tx, store.Journal{Known: day.At(past[0], day.MustMinute("15:00")), Kind: "seat"})
	if err != nil {
		return err
	}
	r := rand.New(rand.NewPCG(seed, 11))
	for _, c := range s.people.school.Classes {
		if !c.Form() || c.Title == unseated {
			continue
		}
		var students []ids.Student
		for _, e := range s.people.school.Enrollments {
			if e.ClassID == c.ID && e.To == nil {
				students = append(students, e.StudentID)
			}
		}
		places := r.Perm(min(register.Columns*register.Rows(len(students)), len(students)+6))
		seats := make([]store.Seat, len(students))
		for i, id := range students {
			seats[i] = store.Seat{StudentID: id, Place: places[i]}
		}
		if err := store.SetSeats(ctx, tx, c.ID, c.Room, seats, j.ID); err != nil {
			return fmt.Errorf("seating %s: %w", c.Title, err)
		}
	}
	return nil
}

// writeMovements writes who came late and left early on a past day.
func (s *School) writeMovements(ctx context.Context, tx *sqlx.Tx, d day.Date, classes [][5][8]ids.Class, planOf func(i int) *dayPlan, desk ids.Account) error {
	add := func(student ids.Student, at day.Minute, kind, reason string) error {
		j, err := store.AddJournal(ctx, tx, store.Journal{Known: day.At(d, at), Account: &desk, Kind: "movement"})
		if err != nil {
			return err
		}
		_, err = store.AddMovement(ctx, tx, store.Movement{StudentID: student, Date: d, Minute: at, Kind: kind, Reason: reason, Origin: store.Origin{Journal: j.ID}})
		return err
	}
	for i := range s.people.school.Students {
		st := &s.people.school.Students[i]
		class := classes[i][d.Weekday()-1][0]
		if !st.EnrolledOn(d) || class == 0 || (d == upperClosed && s.people.school.Classes[class-1].Section == upper) {
			continue
		}
		plan := planOf(i)
		if !plan.comes.IsZero() {
			if err := add(st.ID, plan.comes, "arrived", plan.lateReason(ferryLate[d.String()][st.Travels] > 0)); err != nil {
				return err
			}
		}
		for _, m := range plan.slots {
			if m.code == "D" && !m.from.IsZero() {
				if err := add(st.ID, m.from, "departed", "appointment"); err != nil {
					return err
				}
			}
		}
	}
	return nil
}

// takenAfter is how many minutes into a slot a class's register comes in.
func takenAfter(class ids.Class) day.Minutes { return 4 + day.Minutes(class*7%9) }
