package demo

import (
	"context"
	"fmt"

	"github.com/jmoiron/sqlx"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/held"
	"meldung/store"
)

// beganSteps is the date from which the school acts on what its policies say is due.
const beganSteps = "2026-02-16"

var streets = []string{"Net Loft Lane", "Rope Walk", "Harbour Row", "Tern Street", "Causeway", "Kelp Yard", "Lantern Hill", "Skerry View", "Boat Shed Close", "Gull Terrace"}

// addresses gives homes their address: who lives with a student lives at the first contact's.
func (p *people) addresses() {
	at := map[ids.Contact]string{}
	next := 0
	for _, t := range p.school.StudentContacts {
		if t.CallOrder == 1 && at[t.ContactID] == "" {
			at[t.ContactID] = fmt.Sprintf("%d %s\nHolm", 1+next/len(streets), streets[next%len(streets)])
			next++
		}
	}
	first := map[ids.Student]ids.Contact{}
	for _, t := range p.school.StudentContacts {
		if t.CallOrder == 1 {
			first[t.StudentID] = t.ContactID
		}
	}
	for _, t := range p.school.StudentContacts {
		if t.LivesWith && at[t.ContactID] == "" {
			at[t.ContactID] = at[first[t.StudentID]]
		}
	}
	for i := range p.school.Contacts {
		c := &p.school.Contacts[i]
		c.Address = at[c.ID]
		if c.Family == "Szabłowski" {
			c.Language = polish
		}
	}
}

const polish = "polski"

// letters are those that the school writes, each with the line that asks for it; one has none.
var letters = []struct {
	line, key, name string
	texts           []store.LetterText
}{
	{"letter-3", "letter-3", "Letter at 3 days", []store.LetterText{{Subject: "{given name} has missed {count} without a reason we know", Text: `Dear {addressees},

{given name} ({form}) was absent on {dates}, and we do not know why.

Please tell us the reason, or call {sender} on {phone}.

{sender}
Attendance officer`}}},
	{"letter-5", "letter-5", "Letter at 5 days", []store.LetterText{{Subject: "{given name} has missed {count} without a reason we know", Text: `Dear {addressees},

Since September {given name} ({form}) has been absent on {missed}. For {count} of them we have no reason that the school can accept: {dates}.

In all {given name} has missed {time missed} of lessons {timetable}.

Please call {sender} on {phone} this week, so that we can agree what would help.

{sender}
Attendance officer`}, {Language: polish, Subject: "{given name}: {count} nieobecności bez znanej nam przyczyny", Text: `Szanowni Państwo {addressees},

od września {given name} ({form}) opuścił(a) {missed}. Dla {count} nie znamy przyczyny, którą szkoła może uznać: {dates}.

Łącznie opuszczono {time missed} lekcji {timetable}.

Prosimy o telefon pod numer {phone} w tym tygodniu.

{sender}`}}},
	{"letter-10", "letter-10", "Letter at 10 days", []store.LetterText{{Subject: "{given name} has missed {count}: please come and see us", Text: `Dear {addressees},

{given name} ({form}) has been absent on {missed}, {count} of them without a reason that the school can accept.

In all {given name} has missed {time missed} of lessons {timetable}.

We ask you to come to the school with {given name}. Please call {phone} for a time.

{sender}
Attendance officer`}}},
	{"", "", "Invitation to a talk", []store.LetterText{{Subject: "An invitation to talk about {given name}", Text: `Dear {addressees},

we would like to talk with you about {given name} ({form}), about what goes well and where more help would do good.

Please call {sender} on {phone} for a time that suits you. The meeting takes about half an hour, and {given name} is welcome too.

{sender}
{school}`}, {Language: polish, Subject: "Zaproszenie na rozmowę: {given name}", Text: `Szanowni Państwo {addressees},

chcielibyśmy porozmawiać z Państwem o uczniu {given name} ({form}): co idzie dobrze i gdzie potrzebna jest pomoc.

Prosimy o telefon pod numer {phone}, aby ustalić dogodny termin. Rozmowa potrwa około pół godziny.

{sender}
{school}`}}},
}

// addLetters writes the school's letters, and returns what it does about what is due.
func addLetters(ctx context.Context, tx *sqlx.Tx) (held.StepRules, error) {
	rules := held.StepRules{Address: "Fairlead School\n1 Causeway, Holm", Phone: "01632 960 100",
		Follows: []held.Followed{{Policy: "letters", From: beganSteps}, {Policy: "lates-example", From: beganSteps}}}
	rules.Actions = append(rules.Actions, rules.All()...)
	j, err := store.AddJournal(ctx, tx, store.Journal{Known: day.At(day.MustDate(beganSteps), day.MustMinute("08:00")), Kind: "letter"})
	if err != nil {
		return rules, err
	}
	for _, l := range letters {
		id, err := store.AddLetterTemplate(ctx, tx, store.LetterTemplate{Name: l.name, Journal: j.ID})
		if err != nil {
			return rules, err
		}
		for _, text := range l.texts {
			text.TemplateID, text.Journal = id, j.ID
			if _, err := store.AddLetterText(ctx, tx, text); err != nil {
				return rules, err
			}
		}
		if l.line == "" {
			continue
		}
		rules.Actions = append(rules.Actions, held.Action{Key: l.key, Name: l.name, Kind: "letter", Letter: id})
		rules.Lines = append(rules.Lines, held.LineAction{Policy: "letters", Line: l.line, Action: l.key})
	}
	return rules, nil
}
