package oneroster_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/files/oneroster"
	"meldung/files/table"
)

func bundle() oneroster.Bundle {
	from := day.MustDate("2025-09-03")
	return oneroster.Bundle{
		Orgs:     []oneroster.Org{{ID: "o1", Name: "Skerry School", Type: "school"}},
		Sessions: []oneroster.Session{{ID: "y1", Title: "Year", Type: "schoolYear", Start: from, End: from + 300, SchoolYear: "2026"}},
		Courses:  []oneroster.Course{{ID: "c1", Title: "Registration"}},
		Classes:  []oneroster.Class{{ID: "k1", Title: "7 Gannet", Course: "c1", Type: "homeroom", Terms: "y1", School: "o1", Line: 2}},
		Staff:    []oneroster.Staff{{ID: "t1", Given: "Bertil", Family: "Ek", Role: "teacher", Orgs: []string{"o1"}}},
		Students: []oneroster.Student{
			{Line: 3, Orgs: []string{"o1"}, ID: "s1", Number: "70001", Given: "Asta", Family: "Øye", From: &from, ShareHere: "0.5", ShareElsewhere: "0.5", Born: "2014-02-03", Card: "SK70001",
				Schedule: []oneroster.DueSlot{{Slot: "1"}, {Slot: "2", Weekday: 3}}, Warnings: []oneroster.Warning{{Text: "nut allergy, severe"}, {Text: "plan", CareFirst: true}},
				Ties: []oneroster.Tie{{Contact: "g2", Relation: "aunt", MayCollect: true}, {Contact: "g1", Relation: "father", LivesWith: true, DoNotCall: true}}},
			{Line: 4, Orgs: []string{"o1"}, ID: "s2", Number: "70002", Given: "Bo", Family: "Lone", From: &from, ShareHere: "1", ShareElsewhere: "0"},
		},
		Contacts:    []oneroster.Contact{{ID: "g1", Given: "Dot", Family: "Øye", Phone: "01632 960 001 (after 4)"}, {ID: "g2", Given: "Eir", Family: "Vik", SMS: "07700 900 002"}, {ID: "g3", Given: "Nobody's", Family: "Own"}},
		Enrollments: []oneroster.Enrollment{{ID: "e1", Class: "k1", Student: "s1", From: &from}},
		Teachings:   []oneroster.Teaching{{ID: "e0", Class: "k1", Staff: "t1", Primary: true}},
	}
}

func TestWhatIsWrittenReadsBackTheSame(t *testing.T) {
	files := oneroster.Write(bundle())
	got := oneroster.Read(files)
	require.Empty(t, got.Problems)
	assert.Equal(t, bundle(), got.Bundle)
	assert.Equal(t, files, oneroster.Write(got.Bundle))
	assert.Equal(t, []string{"Bo Lone (70002) has no guardian on file", "Nobody's Own (g3) is a guardian without a student"}, got.Notes)
}

// The columns of the standard's bulk files (OneRoster 1.1, CSV tables; from memory).
func TestHeadersAreTheStandards(t *testing.T) {
	files := oneroster.Write(bundle())
	first := func(name string) string { return strings.SplitN(string(files[name]), "\n", 2)[0] }
	assert.Equal(t, "propertyName,value", first("manifest.csv"))
	assert.Equal(t, "sourcedId,status,dateLastModified,classSourcedId,schoolSourcedId,userSourcedId,role,primary,beginDate,endDate", first("enrollments.csv"))
	assert.True(t, strings.HasPrefix(first("users.csv"), "sourcedId,status,dateLastModified,enabledUser,orgSourcedIds,role,username,userIds,givenName,familyName,middleName,identifier,email,sms,phone,agentSourcedIds,grades,password,metadata."))
}

func TestEveryWrongLineIsSaid(t *testing.T) {
	change := func(file, old, new string) func(table.Files) {
		return func(f table.Files) {
			text := string(f[file])
			if !strings.Contains(text, old) {
				panic(old + " is not in " + file)
			}
			f[file] = []byte(strings.Replace(text, old, new, 1))
		}
	}
	for _, c := range []struct {
		name   string
		change func(table.Files)
		want   string
	}{
		{"file missing", func(f table.Files) { delete(f, "users.csv") }, "users.csv: the file is missing"},
		{"column missing", change("courses.csv", "title", "name"), `courses.csv:1: the column "title" is missing`},
		{"id twice", change("users.csv", "\ns2,", "\ns1,"), `users.csv:4: sourcedId "s1" is there twice`},
		{"id empty", change("users.csv", "\ns2,", "\n,"), "users.csv:4: sourcedId is empty"},
		{"role", change("users.csv", ",student,", ",pirate,"), `users.csv:3: role "pirate"`},
		{"date", change("users.csv", "2025-09-03", "2025-13-03"), `users.csv:3: metadata.enrolledFrom "2025-13-03" is not a date`},
		{"share", change("users.csv", ",0.5,", ",1.5,"), `metadata.shareHere "1.5"`},
		{"weekday", change("users.csv", "2@3", "2@8"), `"2@8" has no weekday`},
		{"contact", change("users.csv", `"g2,g1"`, `"g2,g9"`), `names "g9", who is no guardian`},
		{"class type", change("classes.csv", "homeroom", "cabin"), `classes.csv:2: classType "cabin"`},
		{"course", change("classes.csv", ",c1,", ",c9,"), `courseSourcedId "c9"`},
		{"class", change("enrollments.csv", "e1,,,k1", "e1,,,k9"), `enrollments.csv:3: classSourcedId "k9"`},
		{"user", change("enrollments.csv", ",s1,", ",s9,"), `enrollments.csv:3: userSourcedId "s9"`},
		{"slot without a name", change("users.csv", "2@3", "@3"), `"@3" names no slot`},
		{"slot twice", change("users.csv", "1,2@3", "1,1"), `"1" is there twice`},
		{"a student twice in a class", change("enrollments.csv", "e1,", "e2,,,k1,o1,s1,student,,,\ne1,"), `enrollments.csv:4: "s1" is in the class "k1" twice at a time`},
		{"a teacher twice in a class", change("enrollments.csv", "e1,", "e2,,,k1,o1,t1,teacher,true,,\ne1,"), `enrollments.csv:3: "t1" is in the class "k1" twice at a time`},
		{"an ended course with a class", change("courses.csv", "c1,", "c1,tobedeleted"), `classes.csv:2: courseSourcedId "c1" is not among the active rows of courses.csv`},
		{"session", change("academicSessions.csv", "2025-09-03", "2029-09-03"), "is before startDate"},
	} {
		files := oneroster.Write(bundle())
		c.change(files)
		var got []string
		for _, p := range oneroster.Read(files).Problems {
			got = append(got, p.String())
		}
		assert.Contains(t, strings.Join(got, "\n"), c.want, c.name)
	}
}

func TestGuardiansListedOnEitherSide(t *testing.T) {
	files := oneroster.Write(bundle())
	text := strings.ReplaceAll(string(files["users.csv"]), `"g2,g1"`, "")
	text = strings.ReplaceAll(text, "aunt|father", "")
	for _, column := range []string{"g2", "g1"} {
		text = strings.Replace(text, ","+column+",", ",,", 3)
	}
	files["users.csv"] = []byte(text)
	got := oneroster.Read(files)
	ids := []string{}
	for _, tie := range got.Bundle.Students[0].Ties {
		ids = append(ids, tie.Contact)
	}
	assert.Equal(t, []string{"g1", "g2"}, ids, "the guardians' own rows name the student")
}

// Where a file can't be read at all, what refers to it is not told line by line.
func TestAMissingColumnIsOneLine(t *testing.T) {
	for file, column := range map[string]string{"classes.csv": "classType", "courses.csv": "title", "users.csv": "role"} {
		files := oneroster.Write(bundle())
		files[file] = []byte(strings.Replace(string(files[file]), column, "other", 1))
		var got []string
		for _, p := range oneroster.Read(files).Problems {
			got = append(got, p.String())
		}
		assert.Equal(t, []string{file + `:1: the column "` + column + `" is missing`}, got)
	}
}

// Who leaves a class and comes back is in it twice, at different times.
func TestTwoStaysInAClass(t *testing.T) {
	files := oneroster.Write(bundle())
	files["enrollments.csv"] = []byte(strings.Replace(string(files["enrollments.csv"]), "2025-09-03,\n", "2025-09-03,2025-10-01\ne2,,,k1,o1,s1,student,,2026-01-08,\n", 1))
	got := oneroster.Read(files)
	assert.Empty(t, got.Problems)
	assert.Len(t, got.Bundle.Enrollments, 2)
}
