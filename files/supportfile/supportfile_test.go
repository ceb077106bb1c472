package supportfile_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"meldung/core/day"
	"meldung/files/supportfile"
	"meldung/files/table"
)

const contactHead = "contact,student,date,time,way,with,who,outcome,note,next,recorded_by,kept\n"
const sessionHead = "session,student,date,from,minutes,kind,led_by,note_for_all,note,kept\n"

// Every wrong line is told, with what is wrong, and what is right is read.
func TestWrongLinesAreTold(t *testing.T) {
	rows, problems := supportfile.ReadContacts(table.Files{supportfile.Contacts: []byte(contactHead +
		"c1,s1,2026-03-02,15:20,call,home,Runa Ulvar,spoke,\"a, b\",2026-03-10,D. Ase,\n" +
		"c2,s1,2026-03-03,,,,,no answer,,,,\n" +
		"c1,s2,2026-03-03,,,,,spoke,,,,\n" +
		"c3,s1,3 March,,,,,spoke,,,,\n" +
		"c4,s1,2026-03-03,25:00,telegram,,,shouted,,,,everybody\n" +
		",s1,2026-03-03,,,,,spoke,,,,\n")})
	next := day.MustDate("2026-03-10")
	assert.Equal(t, supportfile.Contact{Line: 2, ID: "c1", Student: "s1", Date: day.MustDate("2026-03-02"), Minute: day.MustMinute("15:20"), Way: "call", With: "home", Who: "Runa Ulvar", Outcome: "spoke", Note: "a, b", Next: &next, RecordedBy: "D. Ase", Kept: "office"}, rows[0])
	assert.Equal(t, "no answer", rows[1].Outcome)
	lines := map[int]int{}
	for _, p := range problems {
		lines[p.Line]++
	}
	assert.Equal(t, map[int]int{4: 1, 5: 1, 6: 4, 7: 1}, lines)

	sessions, problems := supportfile.ReadSessions(table.Files{supportfile.Sessions: []byte(sessionHead +
		"g1,s1,2026-03-02,12:20,30,Mentoring,D. Ase,for all,for one,leads\n" +
		"g1,s2,2026-03-02,,45,Mentoring,D. Ase,for all,,\n" +
		"g1,s1,2026-03-02,12:20,30,Mentoring,D. Ase,,,\n" +
		"g2,s1,2026-03-02,12:20,0,Mentoring,D. Ase,,,\n" +
		"g3,s1,2026-03-02,12:20,30,,D. Ase,,,\n")})
	assert.Len(t, sessions, 2)
	assert.Nil(t, sessions[1].From)
	assert.Len(t, problems, 3)
	_, problems = supportfile.ReadSessions(table.Files{})
	assert.Equal(t, "sessions.csv: the file is missing", problems[0].String())
}

// What is read of any bytes is written so that it is read as the same.
func FuzzSupportFiles(f *testing.F) {
	f.Add([]byte(contactHead+"c1,s1,2026-03-02,15:20,call,home,Runa Ulvar,spoke,\"=1+1\n\",2026-03-10,D. Ase,leads\n"), []byte(sessionHead+"g1,s1,2026-03-02,12:20,30,Mentoring,D. Ase,for all,for one,office\n"))
	f.Fuzz(func(t *testing.T, contacts, sessions []byte) {
		c, _ := supportfile.ReadContacts(table.Files{supportfile.Contacts: contacts})
		again, problems := supportfile.ReadContacts(supportfile.WriteContacts(c))
		for i := range c {
			c[i].Line = 0
		}
		for i := range again {
			again[i].Line = 0
		}
		if len(c) > 0 && allKnown(c) {
			assert.Empty(t, problems)
			assert.Equal(t, c, again)
		}
		s, _ := supportfile.ReadSessions(table.Files{supportfile.Sessions: sessions})
		back, _ := supportfile.ReadSessions(supportfile.WriteSessions(s))
		assert.Len(t, back, len(s))
	})
}

// allKnown reports whether every row has words that are known: others were told, and are written as they stood.
func allKnown(rows []supportfile.Contact) bool {
	one := func(word string, list ...string) bool {
		for _, x := range list {
			if x == word {
				return true
			}
		}
		return false
	}
	for _, r := range rows {
		if !one(r.Way, "call", "message", "meeting", "visit") || !one(r.With, "home", "student", "outside") || !one(r.Outcome, "spoke", "left a message", "no answer", "met") || !one(r.Kept, "office", "leads", "owner") {
			return false
		}
	}
	return true
}
