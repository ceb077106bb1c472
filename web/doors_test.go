package web_test

import (
	"bufio"
	"context"
	"encoding/base64"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/httptest"
	"runtime"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/ids"
	passnumber "meldung/core/pass"
	"meldung/demo"
	"meldung/demo/demotest"
	"meldung/pages/deskpage"
	"meldung/pages/studentpage"
	"meldung/web"
	"meldung/work"
	"meldung/work/access"
	"meldung/work/accounts"
	"meldung/work/contacts"
	"meldung/work/desk"
)

// opened serves an office with options of the test's own.
func opened(t *testing.T, o *work.Office, options web.Options) *httptest.Server {
	t.Helper()
	handler, err := web.Handler(o, options)
	require.NoError(t, err)
	s := httptest.NewServer(handler)
	t.Cleanup(s.Close)
	return s
}

// knock tries to sign in from an address, as a proxy tells it, and returns the status.
func knock(t *testing.T, s *httptest.Server, from, username, password string) int {
	r, err := http.NewRequestWithContext(t.Context(), http.MethodPost, s.URL+"/api/session", strings.NewReader(fmt.Sprintf(`{"username":%q,"password":%q}`, username, password)))
	if !assert.NoError(t, err) {
		return 0
	}
	r.Header.Set("Content-Type", "application/json")
	r.Header.Set("X-Forwarded-For", from)
	a, err := http.DefaultClient.Do(r)
	if !assert.NoError(t, err) {
		return 0
	}
	defer a.Body.Close()
	return a.StatusCode
}

// Sixty wrong passwords at once are no more tries than sixty one after the other; writing the
// name otherwise is the same name; whoever has it elsewhere is not kept out.
func TestGuessesAtOnceGainNothing(t *testing.T) {
	t.Parallel()
	s := opened(t, demotest.Copy(t), web.Options{BehindProxy: true})
	var mu sync.Mutex
	got := map[int]int{}
	var all sync.WaitGroup
	for i := range 60 {
		all.Go(func() {
			name := []string{"kersey", "KERSEY ", " Kersey"}[i%3]
			status := knock(t, s, "192.0.2.7", name, fmt.Sprint("wrong ", i))
			mu.Lock()
			defer mu.Unlock()
			got[status]++
		})
	}
	all.Wait()
	assert.LessOrEqual(t, got[http.StatusForbidden], 5, "%v", got)
	assert.GreaterOrEqual(t, got[http.StatusTooManyRequests], 55, "%v", got)
	assert.Equal(t, http.StatusTooManyRequests, knock(t, s, "192.0.2.7", "kersey", demo.Password), "the right one waits too")
	assert.Equal(t, http.StatusTooManyRequests, knock(t, s, "203.0.113.9, 192.0.2.7", "kersey", demo.Password), "what the proxy was told counts for nothing")
	assert.Equal(t, http.StatusOK, knock(t, s, "192.0.2.8", "kersey", demo.Password), "nobody is kept out by another who types their name")
}

// Of IPv6 a whole network is one address; without a proxy nobody says where they come from.
func TestWhereATryComesFrom(t *testing.T) {
	t.Parallel()
	s := opened(t, demotest.Copy(t), web.Options{BehindProxy: true})
	for i := range 5 {
		assert.Equal(t, http.StatusForbidden, knock(t, s, fmt.Sprintf("2001:db8::%x", i+1), "osk", "wrong"))
	}
	assert.Equal(t, http.StatusTooManyRequests, knock(t, s, "2001:db8::ffff", "osk", "wrong"))
	assert.Equal(t, http.StatusForbidden, knock(t, s, "2001:db8:0:1::1", "osk", "wrong"))

	s = opened(t, demotest.Copy(t), web.Options{})
	for i := range 5 {
		assert.Equal(t, http.StatusForbidden, knock(t, s, fmt.Sprintf("192.0.2.%d", i), "osk", "wrong"))
	}
	assert.Equal(t, http.StatusTooManyRequests, knock(t, s, "192.0.2.99", "osk", "wrong"))
}

// Three hundred who try at once, each another name from another address, take the memory of
// as many passwords as there are cores, and those signed in read on.
func TestAFloodOfSignIns(t *testing.T) {
	o := demotest.Copy(t)
	s := opened(t, o, web.Options{BehindProxy: true})
	in := signInWith(t, s, "tolvan", demo.Password)
	require.Equal(t, http.StatusOK, request(t, s, "GET", "/api/today", "", in).StatusCode)
	runtime.GC()
	var before, now runtime.MemStats
	runtime.ReadMemStats(&before)
	var all sync.WaitGroup
	for i := range 300 {
		all.Go(func() {
			status := knock(t, s, fmt.Sprintf("198.51.%d.%d", i/250, i%250), fmt.Sprint("nobody", i), "wrong")
			assert.Contains(t, []int{http.StatusForbidden, http.StatusServiceUnavailable}, status)
		})
	}
	done := make(chan struct{})
	go func() { all.Wait(); close(done) }()
	most, longest := uint64(0), time.Duration(0)
	for open := true; open; {
		select {
		case <-done:
			open = false
		default:
		}
		begun := time.Now()
		require.Equal(t, http.StatusOK, request(t, s, "GET", "/api/rail", "", in).StatusCode)
		longest = max(longest, time.Since(begun))
		runtime.ReadMemStats(&now)
		most = max(most, now.HeapAlloc)
	}
	grown := int64(most) - int64(before.HeapAlloc)
	assert.Less(t, grown, int64(32<<20*(runtime.NumCPU()+4)+200<<20), "memory grew by %d MB", grown>>20)
	assert.Less(t, longest, time.Second, "a page took %v", longest)
}

// stream opens the live line; ended is closed when the server ends it.
func stream(t *testing.T, s *httptest.Server, cookies []*http.Cookie) (status int, ended <-chan struct{}) {
	ctx, cancel := context.WithTimeout(t.Context(), 30*time.Second)
	t.Cleanup(cancel)
	r, err := http.NewRequestWithContext(ctx, http.MethodGet, s.URL+"/api/live", nil)
	require.NoError(t, err)
	for _, c := range cookies {
		r.AddCookie(c)
	}
	a, err := http.DefaultClient.Do(r)
	require.NoError(t, err)
	t.Cleanup(func() { a.Body.Close() })
	over := make(chan struct{})
	lines := bufio.NewScanner(a.Body)
	if a.StatusCode == http.StatusOK {
		for lines.Scan() && lines.Text() != ": listening" {
		}
	}
	go func() {
		for lines.Scan() {
		}
		if ctx.Err() == nil {
			close(over)
		}
	}()
	return a.StatusCode, over
}

func encoded(text string) string { return base64.StdEncoding.EncodeToString([]byte(text)) }

func awaited(t *testing.T, what <-chan struct{}, words string) {
	t.Helper()
	select {
	case <-what:
	case <-time.After(10 * time.Second):
		t.Fatal(words)
	}
}

// The live line ends with its session, and is none of a one-time password's.
func TestTheLiveLineEndsWithItsSession(t *testing.T) {
	t.Parallel()
	s, _ := server(t)
	status, _ := stream(t, s, signIn(t, s, "fresh"))
	assert.Equal(t, http.StatusUnauthorized, status, "a one-time password opens nothing else")

	in := signIn(t, s, "officer")
	status, ended := stream(t, s, in)
	require.Equal(t, http.StatusOK, status)
	request(t, s, "POST", "/api/session/end", "{}", in)
	awaited(t, ended, "the stream outlives its session")
}

func TestSessionsEndWhenNobodyUsesThem(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	var later atomic.Int64 // minutes
	s := opened(t, o, web.Options{Idle: time.Hour, Clock: func() time.Time { return time.Now().Add(time.Duration(later.Load()) * time.Minute) }})
	ask := func(in []*http.Cookie, byItself bool) int {
		a := asked(t, s, "/api/rail", in, byItself)
		defer a.Body.Close()
		return a.StatusCode
	}
	used, left := signInWith(t, s, "tolvan", demo.Password), signInWith(t, s, "kersey", demo.Password)
	for range 3 {
		later.Add(25)
		require.Equal(t, http.StatusOK, ask(used, false))
		ask(left, true)
	}
	assert.Equal(t, http.StatusOK, ask(used, false), "somebody uses it")
	later.Add(50)
	for range 2 {
		l := leftOf(t, s, used, true)
		assert.InDelta(t, 10*60, l.Seconds, 5, "being asked how long is no use")
		assert.False(t, l.Longest)
	}
	assert.InDelta(t, 3600, leftOf(t, s, used, false).Seconds, 5, "who answers goes on")
	for range 10 {
		later.Add(55)
		require.Equal(t, http.StatusOK, ask(used, false))
	}
	assert.True(t, leftOf(t, s, used, false).Longest, "no use makes a sign-in last longer than it may")
	assert.Equal(t, http.StatusUnauthorized, ask(left, true), "a page that asks by itself is nobody")
	assert.Equal(t, http.StatusUnauthorized, ask(left, false))
}

// asked is the answer to a read, by a person or by a page that nobody touches.
func asked(t *testing.T, s *httptest.Server, path string, in []*http.Cookie, byItself bool) *http.Response {
	t.Helper()
	r, err := http.NewRequestWithContext(t.Context(), http.MethodGet, s.URL+path, nil)
	require.NoError(t, err)
	for _, c := range in {
		r.AddCookie(c)
	}
	if byItself {
		r.Header.Set("Meldung-Untouched", "1")
	}
	a, err := http.DefaultClient.Do(r)
	require.NoError(t, err)
	return a
}

// leftOf asks how long a sign-in still lasts, as a person does or as a page that nobody touches.
func leftOf(t *testing.T, s *httptest.Server, in []*http.Cookie, byItself bool) web.SignInLeft {
	t.Helper()
	a := asked(t, s, "/api/session/left", in, byItself)
	defer a.Body.Close()
	require.Equal(t, http.StatusOK, a.StatusCode)
	var l web.SignInLeft
	require.NoError(t, json.NewDecoder(a.Body).Decode(&l))
	return l
}

// What is in the file does not sign anybody in.
func TestSessionsAreKeptUnderHashes(t *testing.T) {
	t.Parallel()
	s, o := server(t)
	in := signIn(t, s, "officer")
	assert.True(t, in[0].HttpOnly, "no script reads it")
	assert.Equal(t, http.SameSiteStrictMode, in[0].SameSite, "no other site sends it along")
	assert.Equal(t, "/", in[0].Path)
	var tokens []string
	rows, err := o.Store().Sessions().QueryContext(t.Context(), "SELECT token FROM sessions")
	require.NoError(t, err)
	defer rows.Close()
	for rows.Next() {
		var token string
		require.NoError(t, rows.Scan(&token))
		tokens = append(tokens, token)
	}
	require.NoError(t, rows.Err())
	require.Len(t, tokens, 1)
	assert.NotEqual(t, in[0].Value, tokens[0])
	in[0].Value = tokens[0]
	assert.Equal(t, http.StatusUnauthorized, request(t, s, "GET", "/api/session", "", in).StatusCode)
}

func TestAPasswordOfOnesOwn(t *testing.T) {
	t.Parallel()
	s, _ := server(t)
	first, second := signIn(t, s, "officer"), signIn(t, s, "officer")
	set := func(old, chosen string) (int, string) {
		a := request(t, s, "POST", "/api/session/password", fmt.Sprintf(`{"old":%q,"password":%q}`, old, chosen), first)
		text, err := io.ReadAll(a.Body)
		require.NoError(t, err)
		return a.StatusCode, string(text)
	}
	status, words := set("not the old one", "corridor lamp seven")
	assert.Equal(t, http.StatusForbidden, status)
	assert.Contains(t, words, "the present password is another")
	for chosen, why := range map[string]string{"short": "at least 10", "Password1234": "tried first", "P4ssw0rd!!": "tried first", "aaaaaaaaaab": "four different",
		"officer2026": "your own name", "Sept3mber2026": "tried first"} {
		status, words = set(password, chosen)
		assert.Equal(t, http.StatusUnprocessableEntity, status, chosen)
		assert.Contains(t, words, why, chosen)
	}
	assert.Equal(t, http.StatusOK, request(t, s, "GET", "/api/session", "", second).StatusCode)
	_, ended := stream(t, s, second)
	status, words = set(password, "corridor lamp seven")
	assert.Equal(t, http.StatusNoContent, status, words)
	assert.Equal(t, http.StatusOK, request(t, s, "GET", "/api/session", "", first).StatusCode, "who changed it stays signed in")
	assert.Equal(t, http.StatusUnauthorized, request(t, s, "GET", "/api/session", "", second).StatusCode, "and nobody else")
	awaited(t, ended, "a stream outlives the password")
	signInWith(t, s, "officer", "corridor lamp seven")
}

// An administrator ends accounts and sessions, resets passwords and changes roles; each holds
// at once.
func TestAccountsAreAdministered(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	s := serving(t, o)
	admin, maud := signInWith(t, s, "admin", demo.Password), signInWith(t, s, "kersey", demo.Password)
	var list []web.Session
	require.NoError(t, json.NewDecoder(request(t, s, "GET", "/api/school/sessions", "", admin).Body).Decode(&list))
	require.Len(t, list, 2)
	var hers web.Session
	for _, one := range list {
		if !one.Own {
			hers = one
		}
	}
	assert.NotEmpty(t, hers.Used)
	assert.Equal(t, "127.0.0.1", hers.From)
	id := hers.Account
	keys := 0
	act := func(as []*http.Cookie, path, body string) (int, map[string]any) {
		keys++
		return send(t, s, path, fmt.Sprint("key of this test ", keys), body, as)
	}

	status, _ := act(admin, "/api/school/sessions/"+hers.Handle+"/end", "{}")
	assert.Equal(t, http.StatusOK, status)
	assert.Equal(t, http.StatusUnauthorized, request(t, s, "GET", "/api/rail", "", maud).StatusCode)
	status, _ = act(admin, "/api/school/sessions/another/end", "{}")
	assert.Equal(t, http.StatusNotFound, status)

	maud = signInWith(t, s, "kersey", demo.Password)
	assert.Equal(t, http.StatusForbidden, request(t, s, "GET", "/api/absence", "", maud).StatusCode)
	status, _ = act(admin, fmt.Sprintf("/api/school/accounts/%d", id), `{"role":"officer"}`)
	assert.Equal(t, http.StatusOK, status)
	assert.Equal(t, http.StatusOK, request(t, s, "GET", "/api/absence", "", maud).StatusCode, "another role holds at once")

	status, made := act(admin, fmt.Sprintf("/api/school/accounts/%d/reset", id), "{}")
	require.Equal(t, http.StatusOK, status)
	assert.Equal(t, http.StatusUnauthorized, request(t, s, "GET", "/api/rail", "", maud).StatusCode, "a reset ends what is open")
	fresh := signInWith(t, s, "kersey", made["password"].(string))
	assert.Equal(t, http.StatusForbidden, request(t, s, "GET", "/api/rail", "", fresh).StatusCode, "and its password is for once")

	status, _ = act(admin, fmt.Sprintf("/api/school/accounts/%d/end", id), "{}")
	assert.Equal(t, http.StatusOK, status)
	assert.Equal(t, http.StatusUnauthorized, request(t, s, "GET", "/api/session", "", fresh).StatusCode)
	assert.Equal(t, http.StatusForbidden, knock(t, s, "", "kersey", made["password"].(string)))
	status, _ = act(admin, fmt.Sprintf("/api/school/accounts/%d/end", list[0].Account+list[1].Account-id), "{}")
	assert.Equal(t, http.StatusForbidden, status, "nobody ends their own")

	csv := "username,role,name,staff\nberth,officer,A. Berth,\nnewquill,teacher,,Hester Quill\n"
	a := request(t, s, "POST", "/api/school/accounts/list", fmt.Sprintf(`{"name":"accounts.csv","content":%q}`, encoded(csv)), admin)
	var some []accounts.MadeAccount
	require.NoError(t, json.NewDecoder(a.Body).Decode(&some))
	require.Len(t, some, 2)
	signInWith(t, s, "newquill", some[1].Password)
	status, problem := act(admin, "/api/school/accounts/list", fmt.Sprintf(`{"name":"accounts.csv","content":%q}`, encoded("username,role,name,staff\nmast,desk,M. Mast,\nnext,teacher,,Nobody Known\n")))
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.Contains(t, problem["detail"], "accounts.csv:3")
	assert.Equal(t, http.StatusForbidden, knock(t, s, "", "mast", "whatever it was"), "all of a list or nothing")
}

// A teacher who counts through passes, cards and ids learns nothing of students not theirs.
func TestNothingIsReachedByCounting(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	s := serving(t, o)
	rask := signInWith(t, s, "rask", demo.Password)
	text := func(path string) (int, string) {
		a := request(t, s, "GET", path, "", rask)
		content, err := io.ReadAll(a.Body)
		require.NoError(t, err)
		return a.StatusCode, string(content)
	}
	var numbers []string
	for i, name := range []string{"Juno Sandal", "Finn Calloway"} {
		moved, err := desk.Move(t.Context(), o, demotest.Maud, fmt.Sprint("a move for a pass ", i), desk.Movement{Students: demotest.IDs(t, o, name), Kind: "departed", Reason: "appointment", Note: "psychiatrist at 10"})
		require.NoError(t, err)
		made, err := desk.MakePass(t.Context(), o, demotest.Maud, fmt.Sprint("a pass of a move ", i), ids.Movement(moved.IDs[0]))
		require.NoError(t, err)
		numbers = append(numbers, made.Text)
	}
	serial, err := passnumber.Parse(numbers[0])
	require.NoError(t, err)
	next, err := passnumber.Parse(numbers[1])
	require.NoError(t, err)
	assert.NotContains(t, []ids.Pass{serial - 1, serial + 1}, next, "numbers are drawn")
	status, words := text("/api/passes/" + numbers[0])
	require.Equal(t, http.StatusOK, status, "who stands before one may be checked")
	var checked deskpage.PassCheck
	require.NoError(t, json.Unmarshal([]byte(words), &checked))
	assert.Equal(t, []string{"good", "Juno Sandal"}, []string{checked.State, checked.Name})
	assert.NotContains(t, words, "psychiatrist")
	assert.NotContains(t, words, "appointment")
	slowed := 0
	for i := range 40 {
		if status, _ := text("/api/passes/" + passnumber.Number(ids.Pass(i+1))); status == http.StatusTooManyRequests {
			slowed++
		}
	}
	assert.Equal(t, 20, slowed, "twenty slips, and no more")

	// Every card, every sheet, every photo, every figure: theirs or refused.
	require.NoError(t, o.Read(t.Context(), func(v work.Snapshot) error {
		theirs, cards := 0, 0
		mayNot := []string{}
		for _, st := range v.School.Records().Rows.Students {
			own := v.MaySee(demotest.Rask, st.ID) == nil
			if own {
				theirs++
				continue
			}
			if len(mayNot) < 25 {
				mayNot = append(mayNot, fmt.Sprint(st.ID))
			}
			if cards < 40 && st.Card != "" {
				cards++
				_, words := text("/api/cards/" + st.Card)
				assert.NotContains(t, words, st.Family)
			}
		}
		assert.Positive(t, theirs)
		for _, id := range mayNot {
			for _, path := range []string{"/api/students/" + id, "/api/students/" + id + "/photo", "/api/absence/" + id} {
				status, _ := text(path)
				assert.Equal(t, http.StatusForbidden, status, path)
			}
		}
		return nil
	}))
	// A document is opened under its own student alone, and by the office alone.
	juno, finn := demotest.IDs(t, o, "Juno Sandal")[0], demotest.IDs(t, o, "Finn Calloway")[0]
	set, err := contacts.SetWarning(t.Context(), o, demotest.Officer, "a warning with a plan", contacts.Warning{Student: juno, Text: "epilepsy",
		Document: &contacts.Document{Name: "plan.pdf", Content: []byte("%PDF-1.7\nplan\n%%EOF\n")}})
	require.NoError(t, err)
	office := signInWith(t, s, "tolvan", demo.Password)
	document := func(student ids.Student, warning int64, who []*http.Cookie) *http.Response {
		return request(t, s, "GET", fmt.Sprintf("/api/students/%d/warnings/%d/document", student, warning), "", who)
	}
	opened := document(juno, set.IDs[0], office)
	require.Equal(t, http.StatusOK, opened.StatusCode)
	assert.Equal(t, []string{"application/pdf", `inline; filename="plan.pdf"`}, []string{opened.Header.Get("Content-Type"), opened.Header.Get("Content-Disposition")})
	assert.Equal(t, http.StatusNotFound, document(finn, set.IDs[0], office).StatusCode, "another's")
	assert.Equal(t, http.StatusNotFound, document(juno, set.IDs[0]+1, office).StatusCode, "of no such warning")
	assert.Equal(t, http.StatusForbidden, document(juno, set.IDs[0], rask).StatusCode, "a teacher's of theirs too")

	// A student of theirs with a brother who is not: the sheet does not name him.
	named := 0
	require.NoError(t, o.Read(t.Context(), func(v work.Snapshot) error {
		for _, st := range v.School.Records().Rows.Students {
			if v.MaySee(demotest.Rask, st.ID) != nil {
				continue
			}
			sheet, err := studentpage.Show(t.Context(), o, demotest.Rask, st.ID, "")
			require.NoError(t, err)
			for _, sib := range sheet.Siblings {
				assert.NoError(t, v.MaySee(demotest.Rask, sib.ID), "%s", sib.Name)
			}
			for _, sib := range v.School.Siblings(st.ID, v.On) {
				if v.MaySee(demotest.Rask, sib.ID) != nil {
					named++
				}
			}
		}
		return nil
	}))
	assert.Positive(t, named, "somebody has a brother or sister whom this teacher does not teach")
}

// Who looked at what is on record, once for a look; only an administrator reads it.
func TestWhoLookedAtWhat(t *testing.T) {
	t.Parallel()
	o := demotest.Copy(t)
	looks := access.New(o)
	s := opened(t, o, web.Options{Looks: looks})
	rask, admin := signInWith(t, s, "ase", demo.Password), signInWith(t, s, "admin", demo.Password)
	student := demotest.IDs(t, o, "Juno Sandal")[0]
	for range 3 {
		require.Equal(t, http.StatusOK, request(t, s, "GET", fmt.Sprintf("/api/students/%d", student), "", rask).StatusCode)
	}
	request(t, s, "GET", "/api/students/999999", "", rask) // there is none: nothing was seen
	require.Equal(t, http.StatusOK, request(t, s, "GET", "/api/lates/file?format=csv&from=2026-03-02", "", rask).StatusCode)
	read := func(query string) (lines []string) {
		a := request(t, s, "GET", "/api/school/record?"+query, "", admin)
		var v struct {
			Lines []struct {
				Who, What, Detail string
				Write             bool
				Student           *struct{ Name string }
			}
		}
		require.NoError(t, json.NewDecoder(a.Body).Decode(&v))
		for _, l := range v.Lines {
			line := l.Who + ": " + l.What
			if l.Student != nil {
				line += " of " + l.Student.Name
			}
			lines = append(lines, strings.TrimSpace(line+" "+l.Detail))
		}
		return lines
	}
	kept := func(lines int) bool { // a look is noted when its answer is on its way
		require.NoError(t, looks.Keep(t.Context()))
		return len(read("what=looks")) == lines
	}
	require.Eventually(t, func() bool { return kept(2) }, 10*time.Second, 10*time.Millisecond)
	assert.Equal(t, []string{"D. Ase: late arrivals as a file from 2026-03-02, format csv", "D. Ase: student's sheet of Juno Sandal"}, read("what=looks"))
	assert.Equal(t, []string{"D. Ase: student's sheet of Juno Sandal"}, read(fmt.Sprint("what=looks&student=", student)))
	officer := signInWith(t, s, "tolvan", demo.Password)
	for path, body := range map[string]string{
		"/api/notices": fmt.Sprintf(`{"students":[%d],"reason":"ill"}`, student),
		"/api/calls":   fmt.Sprintf(`{"students":[%d,300],"outcome":"no answer"}`, student),
	} {
		r, err := http.NewRequestWithContext(t.Context(), http.MethodPost, s.URL+path, strings.NewReader(body))
		require.NoError(t, err)
		r.Header.Set("Content-Type", "application/json")
		r.Header.Set("Idempotency-Key", "on record "+path)
		for _, c := range officer {
			r.AddCookie(c)
		}
		a, err := http.DefaultClient.Do(r)
		require.NoError(t, err)
		require.Equal(t, http.StatusOK, a.StatusCode)
		require.NoError(t, a.Body.Close())
	}
	both := strings.Join(read(fmt.Sprint("what=writes&student=", student)), "\n")
	assert.Contains(t, both, "R. Tolvan: notice of Juno Sandal")
	assert.Regexp(t, `R. Tolvan: call .*Juno Sandal`, both, "of several, all are named")
	assert.Regexp(t, `: register 7 .* AM, 2026-03-10`, strings.Join(read("what=writes"), "\n"))
	assert.NotEmpty(t, read("what=writes"))
	assert.NotContains(t, strings.Join(read("what=writes"), "\n"), "sheet")
	file := request(t, s, "GET", "/api/school/record/file?what=looks", "", admin)
	text, err := io.ReadAll(file.Body)
	require.NoError(t, err)
	assert.Contains(t, string(text), "Juno Sandal")
	assert.Equal(t, http.StatusForbidden, request(t, s, "GET", "/api/school/record", "", rask).StatusCode)
	require.Eventually(t, func() bool { return kept(3) }, 10*time.Second, 10*time.Millisecond, "the record as a file is on record too")
	require.NoError(t, looks.Prune(t.Context()))
	assert.Len(t, read("what=looks"), 3, "nothing is old yet")
}
