package e2e

import (
	"bufio"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// roster is a small school: two forms, a teacher, three students.
func roster() map[string]string {
	return map[string]string{
		"manifest.csv":         "propertyName,value\nmanifest.version,1.0\noneroster.version,1.1\n",
		"orgs.csv":             "sourcedId,status,dateLastModified,name,type,identifier,parentSourcedId\no1,,,Skerry School,school,SK1,\n",
		"academicSessions.csv": "sourcedId,status,dateLastModified,title,type,startDate,endDate,parentSourcedId,schoolYear\ny1,,,Year,schoolYear,2020-01-01,2039-12-31,,2039\n",
		"courses.csv":          "sourcedId,status,dateLastModified,schoolYearSourcedId,title,courseCode,grades,orgSourcedId,subjects,subjectCodes\nc1,,,,Registration,REG,7,o1,,\n",
		"classes.csv":          "sourcedId,status,dateLastModified,title,grades,courseSourcedId,classCode,classType,location,schoolSourcedId,termSourcedIds,subjects,subjectCodes,periods\nk1,,,7 Gannet,7,c1,7G,homeroom,room 1,o1,y1,,,\n",
		"users.csv": "sourcedId,status,dateLastModified,enabledUser,orgSourcedIds,role,username,userIds,givenName,familyName,middleName,identifier,email,sms,phone,agentSourcedIds,grades,password,shoeSize\n" +
			"t1,,,true,o1,teacher,ek,,Bertil,Ek,,,,,,,,,\n" +
			"s1,,,true,o1,student,1,,Asta,Øye,,70001,,,,g1,7,,\n" +
			"s2,,,true,o1,student,2,,Bo,\"Van der Meer, jr\",,70002,,,,g1,7,,\n" +
			"s3,,,true,o1,student,3,,Cai,Lone,,70003,,,,,7,,\n" +
			"g1,,,true,o1,guardian,g,,Dot,Øye,,,,,01632 960 001 (after 4),\"s1,s2\",,,\n",
		"enrollments.csv": "sourcedId,status,dateLastModified,classSourcedId,schoolSourcedId,userSourcedId,role,primary,beginDate,endDate\n" +
			"e0,,,k1,o1,t1,teacher,true,,\ne1,,,k1,o1,s1,student,,,\ne2,,,k1,o1,s2,student,,,\ne3,,,k1,o1,s3,student,,,\n",
		"demographics.csv": "sourcedId,status,dateLastModified,birthDate,sex\ns1,,,2014-02-03,\n",
	}
}

// timetable has school around the clock on the days about today, so that the test
// can run at any hour.
func timetable() map[string]string {
	calendar := "date,day,term,grading_period\n"
	for d := -3; d <= 3; d++ {
		calendar += time.Now().AddDate(0, 0, d).Format("2006-01-02") + ",always,Autumn,Q1\n"
	}
	return map[string]string{
		"calendar.csv":  calendar,
		"slots.csv":     "day,slot,start,end,kind\nalways,AM,00:00,23:59,registration\n",
		"timetable.csv": "class,pattern,weekday,slot,room\n7 Gannet,always,,AM,room 1\n",
	}
}

func folderOf(t *testing.T, files map[string]string) (folder string, paths []string) {
	t.Helper()
	folder = t.TempDir()
	for name, text := range files {
		path := filepath.Join(folder, name)
		require.NoError(t, os.WriteFile(path, []byte(text), 0o600))
		paths = append(paths, path)
	}
	return folder, paths
}

func broken() map[string]string {
	files := roster()
	files["users.csv"] = strings.Replace(files["users.csv"], "s3,,,true,o1,student", "s3,,,true,o1,pirate", 1)
	files["classes.csv"] = strings.Replace(files["classes.csv"], "homeroom", "cabin", 1)
	return files
}

func TestImportByCommand(t *testing.T) {
	t.Parallel()
	data := filepath.Join(t.TempDir(), "new")
	run := func(folder string, apply bool) (string, error) {
		args := []string{"import", "oneroster", folder, "--data", data}
		if apply {
			args = append(args, "--apply")
		}
		out, err := exec.Command(binary, args...).CombinedOutput()
		return string(out), err
	}
	bad, _ := folderOf(t, broken())
	out, err := run(bad, true)
	assert.Error(t, err)
	assert.Contains(t, out, `classes.csv:2: classType "cabin"`)
	assert.Contains(t, out, `users.csv:5: role "pirate"`)
	assert.Contains(t, out, "nothing was changed")

	good, _ := folderOf(t, roster())
	out, err = run(good, false)
	require.NoError(t, err, out)
	assert.Regexp(t, `student +3 added`, out, "the broken import left nothing behind")
	assert.Contains(t, out, "Cai Lone (70003) has no guardian on file")
	assert.Contains(t, out, "users.csv: columns left out: shoeSize")
	out, err = run(good, true)
	require.NoError(t, err, out)
	out, err = run(good, true)
	require.NoError(t, err, out)
	assert.Contains(t, out, "nothing to change")

	back := filepath.Join(t.TempDir(), "out")
	exported, err := exec.Command(binary, "export", "oneroster", back, "--data", data).CombinedOutput()
	require.NoError(t, err, string(exported))
	users, err := os.ReadFile(filepath.Join(back, "users.csv"))
	require.NoError(t, err)
	assert.Contains(t, string(users), "01632 960 001 (after 4)", "phones stay text exactly as given")
	assert.Contains(t, string(users), `"Van der Meer, jr"`)
}

// serveOn starts the real server on a folder that nobody has signed in to yet, and returns
// it with the administrator's one-time password.
func serveOn(t *testing.T, data string) (*school, string) {
	s := &school{t: t, addr: freeAddress(t), data: data}
	s.url = "http://" + s.addr
	s.cmd = exec.Command(binary, "serve", "--addr", s.addr, "--data", s.data, "--zone", "Local")
	out, err := s.cmd.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, s.cmd.Start())
	t.Cleanup(s.kill)
	password := ""
	lines := bufio.NewScanner(out)
	for password == "" && lines.Scan() {
		if m := regexp.MustCompile(`one-time password (\S+)`).FindStringSubmatch(lines.Text()); m != nil {
			password = m[1]
		}
	}
	require.NotEmpty(t, password)
	r, err := http.Get(s.url + "/healthz")
	require.NoError(t, err)
	r.Body.Close()
	return s, password
}

// asAdmin opens a window of the administrator's, at the one-time password.
func (s *school) asAdmin(password string) *window {
	t := s.t
	page := s.profile(s.url)
	w := &window{Page: page.Timeout(5 * time.Minute), t: t, s: s}
	w.field("Name").MustInput("admin")
	w.field("Password").MustInput(password)
	w.keys(input.Enter)
	w.see("choose a password of your own")
	return w
}

func TestImportOnThePageAndTheFirstRegister(t *testing.T) {
	t.Parallel()
	s, password := serveOn(t, filepath.Join(t.TempDir(), "data"))
	w := s.asAdmin(password)
	w.field("Password").MustInput("short")
	w.keys(input.Enter)
	w.see("at least 10 characters; the old one still holds")
	w.field("Password").MustSelectAllText().MustInput("long enough for a school")
	w.keys(input.Enter)
	w.MustElement(".band nav")

	w.goTo("/school/import")
	_, bad := folderOf(t, broken())
	w.MustElement("input[type=file]").MustSetFiles(bad...)
	w.see("nothing was changed.")
	w.see(`users.csv:5: role "pirate"`)
	_, good := folderOf(t, roster())
	w.MustElement("input[type=file]").MustSetFiles(good...)
	w.click("button", "Apply these")
	w.see("Applied.")
	w.goTo("/school/people")
	w.see("Cai Lone") // has no contact
	w.goTo("/school/import")
	w.click(".ant-segmented-item", "Calendar and timetable")
	_, table := folderOf(t, timetable())
	w.MustElement("input[type=file]").MustSetFiles(table...)
	w.click("button", "Apply these")
	w.see("Applied.")
	w.goTo("/school/calendar")
	w.see("7 school days")

	w.goTo("/registers")
	w.click("a", "7 Gannet")
	w.see("3 to mark")
	w.typed("npp")
	w.control(input.Enter)
	w.see("A change is a correction with a reason")
	w.goTo("/today")
	w.see("on roll")
	assert.Equal(t, 3, w.count()["roll"])
	w.see("no contact on file")
}

// A school whose codes are others from the first day on: its letters are the keys, and the
// stroke, which is the sign of being there, is given by one of its own.
func TestARegisterOnOtherCodes(t *testing.T) {
	t.Parallel()
	data := filepath.Join(t.TempDir(), "data")
	classes, _ := folderOf(t, roster())
	days, _ := folderOf(t, timetable())
	for _, args := range [][]string{{"oneroster", classes}, {"timetable", days}} {
		out, err := exec.Command(binary, "import", args[0], args[1], "--data", data, "--apply").CombinedOutput()
		require.NoError(t, err, string(out))
	}
	s, password := serveOn(t, data)
	w := s.asAdmin(password)
	w.field("Password").MustSelectAllText().MustInput("long enough for a school")
	w.keys(input.Enter)
	w.MustElement(".band nav")

	w.goTo("/school/codes")
	w.choose("Another code set", "sessions-2024")
	w.see("With sessions-2024 nobody can attend at a distance")
	w.click("button", "Use sessions-2024 at all times")
	w.see("The 34 codes of the set")

	w.goTo("/registers")
	w.click("a", "7 Gannet")
	w.see("3 to mark")
	w.typed(".nn")
	w.until(func() (bool, string) { return strings.Contains(tallyOf(w), "0 to mark"), "every row to be marked" })
	assert.Regexp(t, "^1 in 0 late 2 no reason 0 explained", tallyOf(w))
	w.control(input.Enter)
	w.see("A change is a correction with a reason")
	code := func(given string) string {
		return w.MustEval(`(given) => fetch("/api/registers/1/AM").then((r) => r.json()).then((v) => v.rows.find((r) => r.student.given === given).versions.at(-1).code)`, given).Str()
	}
	assert.Equal(t, []string{"/", "N", "N"}, []string{code("Cai"), code("Bo"), code("Asta")})

	// The desk: one comes after all, one leaves. The set has no code for leaving early, so that
	// the mark stands and the door says where she is.
	w.goTo("/desk")
	w.see("Today at the desk")
	w.typed("bo")
	w.see("Van der Meer")
	w.keys(input.Enter)
	w.see("Bo is in")
	w.KeyActions().Press(input.AltLeft).Type(input.Digit3).Release(input.AltLeft).MustDo()
	w.keys(input.Enter)
	w.see("late 1")
	w.typed("cai")
	w.see("Cai Lone")
	w.keys(input.Enter)
	w.see("Cai leaves")
	w.KeyActions().Press(input.AltLeft).Type(input.Digit1).Release(input.AltLeft).MustDo()
	w.keys(input.Enter)
	w.until(func() (bool, string) { return strings.Contains(w.text(), "leaves alone"), "who collects to be said" })
	assert.Equal(t, []string{"L", "/"}, []string{code("Bo"), code("Cai")})

	// The morning: a home is rung and says ill, and safe arrival is closed.
	w.goTo("/today")
	w.see("Call home")
	w.see("Dot Øye")
	w.typed("5")
	w.see("to be worried for")
	w.typed("left at eight")
	w.keys(input.Enter)
	w.see("Dot Øye believes Asta is at school: left at eight")
	assert.Equal(t, 1, w.count()["unaccounted"], "what a home believes explains nobody")
	w.typed("z")
	w.gone("Worried for")
	w.saysIll("I")
	w.keys(input.Enter)
	w.see("Nobody is unaccounted for at")
	assert.Equal(t, "I", code("Asta"))
	count := w.count()
	assert.Equal(t, []int{3, 0, 1, 1, 1}, []int{count["roll"], count["in"], count["late"], count["left"], count["explained"]})
	w.typed("c")
	w.see("Safe arrival was closed at")
	w.goTo("/outbox")
	w.see("no carrier for texts and e-mails is set up: they wait here")
	w.goTo("/absence?policy=sessions")
	w.see("Half-day sessions")

	// Following up with nothing prepared: a case from a student's sheet, a call, a session.
	w.goTo("/follow-up")
	w.see("Nobody waits for a contact")
	w.goTo("/follow-up?student=1")
	w.see("No open case")
	w.click("button", "^Open a case")
	w.field("Why").MustInput("away since Monday")
	w.field("Looked at next").MustInput("today")
	w.keys(input.Enter)
	w.click(".ant-modal button", "^Save")
	w.see("Case in the hands of")
	w.goTo("/follow-up")
	w.see("1 due")
	w.typed("1")
	w.see("somebody else")
	w.typed("will come on Thursday")
	w.keys(input.Enter)
	w.keys(input.Tab)
	w.typed("+2")
	w.keys(input.Enter)
	w.see("spoke, next")
	w.goTo("/follow-up/support")
	w.see("Nobody is on the caseload")

	// And a drill: who is in is on the list, who is ill or has left is not.
	w.goTo("/roll-call")
	w.see("people would be on the list")
	w.click("button", "Begin a drill")
	w.see("Bo Van der Meer")
	assert.NotRegexp(t, "Asta Øye|Cai Lone", w.text())
}
