package paperpage_test

import (
	"context"
	"errors"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/demo/demotest"
	"meldung/outside"
	"meldung/pages/paperpage"
	"meldung/pages/todaypage"
	"meldung/store"
	"meldung/work"
	"meldung/work/access"
	"meldung/work/accounts"
	"meldung/work/messages"
	"meldung/work/paperlists"
	"meldung/work/takeback"
)

// saved keeps a list of a form with contacts, and returns its id.
func saved(t *testing.T, o *work.Office, p work.Person, name string) ids.PaperList {
	t.Helper()
	setup := ready(t, papers(t, o, p), "class")
	setup.Title, setup.Who = name, "class:48"
	setup.Columns = append(setup.Columns, paperlists.PaperListColumn{Field: "contact:1:name, relation and phone", Heading: "Contact", Width: 50})
	r, err := paperlists.Save(t.Context(), o, p, "", paperlists.Saved{Name: name, Setup: setup})
	require.NoError(t, err)
	return ids.PaperList(r.IDs[0])
}

func at(text string) day.Instant {
	i, err := day.ParseInstant(text)
	if err != nil {
		panic(err)
	}
	return i
}

// tray is a printer with the names of what it was given.
type tray struct {
	outside.Printer
	broken bool
	given  []string
}

func (p *tray) Print(name string, content []byte) (string, error) {
	if p.broken {
		return "", errors.New("the printer’s folder can’t be written")
	}
	p.given = append(p.given, name)
	return p.Printer.Print(name, content)
}

func jobs(t *testing.T, o *work.Office, p work.Person, printer paperpage.Printer) []paperpage.PaperJobView {
	t.Helper()
	v, err := paperpage.Papers(t.Context(), o, p, printer, "")
	require.NoError(t, err)
	return v.Jobs
}

// Every school day at its time a list lies at the printer once, on the data of that minute; on a day off it does not;
// where the program was not running it is made late, and after two hours its owner is told that it was not.
func TestAListIsPrintedEverySchoolDay(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	o, clock := demotest.CopyWithClock(t)
	folder := t.TempDir()
	printer := &tray{Printer: outside.Printer{Folder: folder}}
	looks := access.New(o)
	list := saved(t, o, demotest.Officer, "Halyard at hand")
	_, err := paperlists.Plan(ctx, o, demotest.Officer, "", paperlists.Planned{List: list, At: "740", Way: paperlists.ToPrinter, Format: "pdf"})
	require.NoError(t, err)
	plans := papers(t, o, demotest.Officer).Lists
	i := slices.IndexFunc(plans, func(l paperpage.PaperRef) bool { return l.ID == list })
	assert.Equal(t, "every school day at 07:40", plans[i].Plans[0].When)
	mine := func() (out []paperpage.PaperJobView) {
		for _, j := range jobs(t, o, demotest.Officer, printer) {
			if j.List == list {
				out = append(out, j)
			}
		}
		return out
	}
	pass := func(text string) {
		clock.Set(at(text))
		var both sync.WaitGroup
		for range 2 { // as two that tick at once
			both.Go(func() { assert.NoError(t, paperlists.Tick(ctx, o, o.Now())) })
		}
		both.Wait()
		require.NoError(t, paperpage.PrintWaiting(ctx, o, looks, printer))
		require.NoError(t, paperpage.PrintWaiting(ctx, o, looks, printer))
	}
	pass("2026-03-10T09:13")
	assert.Empty(t, mine(), "planned after its time of the day")
	pass("2026-03-11T07:39")
	assert.Empty(t, mine())
	pass("2026-03-11T07:40")
	pass("2026-03-11T07:41")
	got := mine()
	require.Len(t, got, 1)
	assert.Equal(t, "printed", got[0].State)
	assert.True(t, got[0].There)
	f, err := paperpage.PrintedPaper(ctx, o, demotest.Officer, printer, got[0].ID)
	require.NoError(t, err)
	assert.Equal(t, "%PDF", string(f.Content[:4]))
	text := read(t, f.Content)
	assert.Contains(t, text, "as at 07:40, Wed 11 March 2026")
	assert.Contains(t, text, "Student data of Fairlead School")
	_, err = paperpage.PrintedPaper(ctx, o, demotest.Ase, printer, got[0].ID)
	assert.Equal(t, work.NotFound, demotest.Kind(t, err), "another's page")
	pass("2026-03-14T07:45") // a Saturday
	assert.Len(t, mine(), 1)
	pass("2026-03-16T09:30") // late, and of use
	got = mine()
	require.Len(t, got, 2)
	assert.Equal(t, "printed", got[0].State)
	assert.Contains(t, got[0].At, "09:30", "as at when it is made, not when it should have been")
	pass("2026-03-17T11:00")
	got = mine()
	require.Len(t, got, 3)
	assert.Equal(t, "failed", got[0].State)
	assert.Contains(t, got[0].Words, "the program was not running at 07:40")
	owner, _, err := accounts.PersonOf(ctx, o, demotest.Officer.Account)
	require.NoError(t, err)
	notes, err := todaypage.ShowNotes(ctx, o, owner)
	require.NoError(t, err)
	assert.True(t, slices.ContainsFunc(notes, func(n todaypage.MessageView) bool {
		return strings.Contains(n.Text, "Halyard at hand was not made today")
	}))
	for _, wrong := range []paperlists.Planned{
		{List: list, At: "25:00", Way: "printer", Format: "pdf"}, {List: list, At: "08:00", Weekdays: []int{7}, Way: "printer", Format: "pdf"},
		{List: list, At: "08:00", Way: "e-mail", Format: "csv"}, {List: list, At: "08:00", Way: "e-mail", Format: "csv", With: []ids.Account{demotest.Maud.Account}},
		{List: list, At: "08:00", Way: "pigeon", Format: "csv"}, {List: list, At: "08:00", Way: "printer", Format: "pdf", Section: []ids.Section{99}}, {List: 99, At: "08:00", Way: "printer", Format: "pdf"},
	} {
		_, err := paperlists.Plan(ctx, o, demotest.Officer, "", wrong)
		assert.Error(t, err, wrong)
	}
	_, err = paperlists.Plan(ctx, o, demotest.Ase, "", paperlists.Planned{List: list, At: "08:00", Way: "printer", Format: "pdf"})
	assert.Equal(t, work.NotFound, demotest.Kind(t, err), "another's list")
}

// What the printer does not take waits and is tried again; after an hour, and where there is no printer, it has failed.
func TestAPrinterThatTakesNothing(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	o, clock := demotest.CopyWithClock(t)
	printer := &tray{Printer: outside.Printer{Folder: t.TempDir()}, broken: true}
	looks := access.New(o)
	list := saved(t, o, demotest.Officer, "Halyard now")
	print := func(key string) {
		_, err := paperlists.Print(ctx, o, demotest.Officer, key, list, nil)
		require.NoError(t, err)
	}
	print("twice the same")
	print("twice the same")
	require.NoError(t, paperpage.PrintWaiting(ctx, o, looks, printer))
	got := jobs(t, o, demotest.Officer, printer)
	require.Equal(t, "waiting", got[0].State)
	assert.Contains(t, got[0].Words, "can’t be written", "it says why it waits")
	printer.broken = false
	require.NoError(t, paperpage.PrintWaiting(ctx, o, looks, printer))
	require.NoError(t, paperpage.PrintWaiting(ctx, o, looks, printer))
	assert.Len(t, printer.given, 1, "asked for once, printed once")
	printer.broken = true
	print("another one")
	clock.Set(clock.Now() + 61)
	require.NoError(t, paperpage.PrintWaiting(ctx, o, looks, printer))
	assert.Equal(t, "failed", jobs(t, o, demotest.Officer, printer)[0].State)
	print("without a printer")
	require.NoError(t, paperpage.PrintWaiting(ctx, o, looks, nil))
	got = jobs(t, o, demotest.Officer, nil)
	assert.Equal(t, "no printer is set up", got[0].Words)
	print("before a long night")
	printer.broken = false
	clock.Set(clock.Now() + 24*60)
	require.NoError(t, paperpage.PrintWaiting(ctx, o, looks, printer))
	assert.Equal(t, "the program was not running", jobs(t, o, demotest.Officer, nil)[0].Words, "a page of yesterday is of no use")
	require.NoError(t, printer.Clear(time.Now().Add(-time.Hour)))
	file, err := os.ReadDir(printer.Folder)
	require.NoError(t, err)
	assert.Len(t, file, 1)
	require.NoError(t, os.WriteFile(filepath.Join(printer.Folder, "theirs.pdf"), nil, 0o600))
	require.NoError(t, printer.Clear(time.Now().Add(time.Hour)))
	file, err = os.ReadDir(printer.Folder)
	require.NoError(t, err)
	assert.Len(t, file, 1, "what is not ours stays")
	_, err = paperlists.Print(ctx, o, demotest.Ase, "", list, nil)
	assert.Equal(t, work.NotFound, demotest.Kind(t, err), "another's list")
}

// mailbox is a server of e-mails with what came in, by address.
type mailbox struct {
	mu   sync.Mutex
	came map[string]messages.Outgoing
}

func (b *mailbox) Carry(_ context.Context, m messages.Outgoing) (string, error) {
	b.mu.Lock()
	defer b.mu.Unlock()
	b.came[m.Address] = m
	return "", nil
}

// By e-mail each gets the columns that they may see, and whoever has the list no more gets none. The words of the
// e-mail name nobody. Sent again it goes with its list.
func TestAListByEMail(t *testing.T) {
	t.Parallel()
	ctx := t.Context()
	o, clock := demotest.CopyWithClock(t)
	looks := access.New(o)
	list := saved(t, o, demotest.Officer, "Halyard by mail")
	all, err := store.Accounts(ctx, o.Store().Read())
	require.NoError(t, err)
	strom := all[slices.IndexFunc(all, func(a store.Account) bool { return a.Username == "strom" })]
	share := func(with ...ids.Account) {
		_, err := paperlists.Share(ctx, o, demotest.Officer, "", paperlists.Sharing{List: list, With: with})
		require.NoError(t, err)
	}
	share(strom.ID, demotest.Ase.Account)
	planned, err := paperlists.Plan(ctx, o, demotest.Officer, "", paperlists.Planned{List: list, At: "10:00", Way: paperlists.ByEMail, Format: "csv", Weekdays: []int{5, 2}, With: []ids.Account{strom.ID, demotest.Officer.Account, demotest.Ase.Account}})
	require.NoError(t, err)
	assert.Contains(t, planned.Text, "Tuesdays, Fridays at 10:00")
	box := &mailbox{came: map[string]messages.Outgoing{}}
	worker := messages.NewWorker(o, map[string]messages.Carrier{work.ByEMail: box}, paperpage.Enclosures(o, looks))
	pass := func(text string) {
		clear(box.came)
		clock.Set(at(text))
		require.NoError(t, paperlists.Tick(ctx, o, o.Now()))
		require.NoError(t, worker.Round(ctx, work.ByEMail))
		require.NoError(t, worker.Round(ctx, work.ByEMail))
	}
	pass("2026-03-10T10:00")
	lists := map[string]string{}
	for address, m := range box.came {
		if m.Kind != work.AsList {
			continue
		}
		require.Len(t, m.Files, 1, address)
		assert.Equal(t, "student-data-halyard-by-mail.csv", m.Files[0].Name)
		assert.NotContains(t, m.Text, "07700", "no student's data in the words")
		lists[address] = string(m.Files[0].Content)
	}
	require.Len(t, lists, 3)
	assert.True(t, strings.Contains(lists["halvard.strom@fairlead.example"], "made by H. Strom, Tue 10 March 10:00"), "by the rights of whoever gets it")
	for address, text := range lists {
		assert.True(t, strings.Contains(text, "Strand, Maren"), address)
		assert.Equal(t, 26, strings.Count(text, "8 Halyard"), address)
	}
	sent := demotest.Outbox(t, o, demotest.Officer)
	i := slices.IndexFunc(sent, func(m todaypage.MessageView) bool { return m.Kind == work.AsList })
	require.GreaterOrEqual(t, i, 0)
	assert.Equal(t, "sent", sent[i].State)
	got := jobs(t, o, demotest.Officer, nil)
	assert.Equal(t, "sent", got[0].State)
	clear(box.came)
	_, err = messages.Resend(ctx, o, demotest.Officer, "", sent[i].ID)
	require.NoError(t, err)
	require.NoError(t, worker.Round(ctx, work.ByEMail))
	require.Len(t, box.came, 1)
	for _, m := range box.came {
		assert.Len(t, m.Files, 1)
	}
	pass("2026-03-11T10:00")
	assert.Empty(t, box.came, "a Wednesday")
	share(strom.ID)
	for _, l := range papers(t, o, demotest.Officer).Lists {
		if l.ID == list {
			assert.ElementsMatch(t, []string{"R. Tolvan", "H. Strom"}, l.Plans[0].To)
		}
	}
	pass("2026-03-13T10:00")
	assert.Len(t, box.came, 2, "Ase has it no more")
	require.NoError(t, o.Write(ctx, work.Job{Kind: "left"}, func(tx *work.Tx, _ work.Snapshot) error {
		_, err := tx.ExecContext(ctx, `UPDATE account SET ended_by = ? WHERE id = ?`, tx.Entry, strom.ID)
		return err
	}))
	pass("2026-03-17T10:00")
	assert.Len(t, box.came, 1, "whoever left gets nothing")
	ended, err := paperlists.EndPlan(ctx, o, demotest.Officer, "", ids.PaperPlan(planned.IDs[0]))
	require.NoError(t, err)
	pass("2026-03-20T10:00")
	assert.Empty(t, box.came)
	_, err = paperlists.EndPlan(ctx, o, demotest.Officer, "", ids.PaperPlan(planned.IDs[0]))
	assert.Equal(t, work.NotFound, demotest.Kind(t, err))
	_, err = takeback.Entry(ctx, o, demotest.Officer, "", ended.Seq)
	require.Error(t, err, "of another day")
	again, err := paperlists.Plan(ctx, o, demotest.Officer, "", paperlists.Planned{List: list, At: "11:00", Way: paperlists.ByEMail, Format: "csv", With: []ids.Account{demotest.Officer.Account}})
	require.NoError(t, err)
	_, err = takeback.Entry(ctx, o, demotest.Ase, "", again.Seq)
	require.Error(t, err, "another's plan")
	_, err = takeback.Entry(ctx, o, demotest.Officer, "", again.Seq)
	require.NoError(t, err)
	pass("2026-03-20T11:00")
	assert.Empty(t, box.came)
}
