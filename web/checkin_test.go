package web_test

import (
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"net/http/cookiejar"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/demo"
	"meldung/demo/demotest"
	"meldung/pages/registerpage"
	"meldung/work"
	"meldung/work/checkin"
)

// ask posts as someone's phone and returns status, words and body.
func ask(t *testing.T, c *http.Client, url, body string, out any) (int, string) {
	t.Helper()
	a, err := c.Post(url, "application/json", strings.NewReader(body))
	require.NoError(t, err)
	defer a.Body.Close()
	text, err := io.ReadAll(a.Body)
	require.NoError(t, err)
	if out != nil && a.StatusCode == http.StatusOK {
		require.NoError(t, json.Unmarshal(text, out))
	}
	return a.StatusCode, string(text)
}

func phone(t *testing.T) *http.Client {
	t.Helper()
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	return &http.Client{Jar: jar}
}

// Someone guesses codes, then numbers, then without the phone's cookie: all of it is
// slowed down, logged, and seen by the teacher; a class at the same address is not
// held up by a few slips.
func TestGuessingIsSlowedAndLogged(t *testing.T) {
	office, clock := demotest.CopyWithClock(t)
	clock.Set(day.At(day.MustDate("2026-03-10"), day.MustMinute("13:46")))
	s := serving(t, office)
	osk := work.Person{Account: 1, Name: "P. Osk", Role: work.Teacher, Staff: 1}
	opened, err := checkin.Open(t.Context(), office, osk, "open the window", checkin.NewCheckIn{Class: 48, Slot: "PM", Minutes: 10})
	require.NoError(t, err)
	code := func() string {
		c, err := registerpage.ShowCode(t.Context(), office, osk, ids.CheckIn(opened.IDs[0]), s.URL)
		require.NoError(t, err)
		return c.Code
	}
	wrongCode := func() string {
		if code() == "123456" {
			return `{"code":"654321"}`
		}
		return `{"code":"123456"}`
	}
	start := s.URL + "/api/phone/start"

	status, _ := ask(t, phone(t), start, `{"code":"`+strings.Repeat("1", 20_000)+`"}`, nil)
	assert.Equal(t, http.StatusRequestEntityTooLarge, status)

	guesser := phone(t)
	for i := range 5 {
		status, words := ask(t, guesser, start, wrongCode(), nil)
		assert.Equal(t, http.StatusUnprocessableEntity, status, i)
		assert.Contains(t, words, "not on show now")
	}
	status, words := ask(t, guesser, start, fmt.Sprintf(`{"code":%q}`, code()), nil)
	assert.Equal(t, http.StatusTooManyRequests, status, "even the right code has to wait")
	assert.Contains(t, words, "too many tries: wait 60 s")

	other := phone(t)
	var begun checkin.PhoneStart
	status, words = ask(t, other, start, fmt.Sprintf(`{"code":%q}`, code()), &begun)
	require.Equal(t, http.StatusOK, status, words)
	enter := func(number string) (int, string) {
		return ask(t, other, s.URL+"/api/phone/check-in", fmt.Sprintf(`{"ticket":%q,"number":%q}`, begun.Ticket, number), nil)
	}
	for i := range 5 {
		status, _ = enter(fmt.Sprint(10000 + i))
		assert.Equal(t, http.StatusUnprocessableEntity, status)
	}
	status, _ = enter("10005")
	assert.Equal(t, http.StatusTooManyRequests, status)

	slowed := false
	for range 60 {
		status, _ = ask(t, &http.Client{}, start, wrongCode(), nil) // a new phone each time
		slowed = slowed || status == http.StatusTooManyRequests
	}
	assert.True(t, slowed, "throwing the cookie away does not help")

	v, err := registerpage.Show(t.Context(), office, osk, 48, "PM", "")
	require.NoError(t, err)
	assert.GreaterOrEqual(t, v.CheckIn.Wrong, 40)
	assert.Less(t, v.CheckIn.Wrong, 60, "a refused try is not looked at")
	assert.Empty(t, v.CheckIn.Entries)
}

// A phone gets its student's given name and own strip; no name, number or mark of
// anyone else, and nothing before a teacher has confirmed it.
func TestAPhoneLearnsNothingOfOthers(t *testing.T) {
	office, clock := demotest.CopyWithClock(t)
	clock.Set(day.At(day.MustDate("2026-03-10"), day.MustMinute("13:46")))
	s := serving(t, office)
	teacher := signInWith(t, s, "osk", demo.Password)
	a := request(t, s, "POST", "/api/check-ins", `{"class":48,"slot":"PM","minutes":10}`, teacher)
	require.Equal(t, http.StatusOK, a.StatusCode)
	var opened work.Receipt
	require.NoError(t, json.NewDecoder(a.Body).Decode(&opened))
	a = request(t, s, "GET", fmt.Sprintf("/api/check-ins/%d/code", opened.IDs[0]), "", teacher)
	var code registerpage.CheckInCode
	require.NoError(t, json.NewDecoder(a.Body).Decode(&code))
	assert.Equal(t, s.URL+"/check-in", code.Address, "the address under which the teacher reaches the school")
	assert.NotEmpty(t, code.Picture)

	own := phone(t)
	var begun checkin.PhoneStart
	_, text := ask(t, own, s.URL+"/api/phone/start", fmt.Sprintf(`{"code":%q}`, code.Code), &begun)
	osk := work.Person{Account: 1, Name: "P. Osk", Role: work.Teacher, Staff: 1}
	v, err := registerpage.Show(t.Context(), office, osk, 48, "PM", "")
	require.NoError(t, err)
	me := v.CheckIn.NotYet[0]
	_, more := ask(t, own, s.URL+"/api/phone/check-in", fmt.Sprintf(`{"ticket":%q,"number":%q}`, begun.Ticket, me.Number), nil)
	record := func() string {
		a, err := own.Get(s.URL + "/api/phone/record")
		require.NoError(t, err)
		defer a.Body.Close()
		text, err := io.ReadAll(a.Body)
		require.NoError(t, err)
		return string(text)
	}
	before := record()
	assert.Contains(t, before, `"known":false`)
	_, err = checkin.Confirm(t.Context(), office, osk, "she is here", ids.CheckIn(opened.IDs[0]), checkin.Confirmation{Students: []checkin.Confirmed{{Student: me.ID}}})
	require.NoError(t, err)
	after := record()
	assert.Contains(t, after, `"known":true`)
	assert.Contains(t, after, me.Given)
	all := text + more + before + after
	for _, r := range v.Rows {
		assert.NotContains(t, all, r.Student.Number)
		if r.Student.Given != me.Given {
			assert.NotContains(t, all, `"`+r.Student.Given)
		}
		assert.NotContains(t, all, r.Student.Name)
	}
}
