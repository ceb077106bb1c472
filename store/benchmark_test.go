package store_test

import (
	"bufio"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"strings"
	"testing"
	"time"

	"meldung/core/absence"
	"meldung/core/day"
	"meldung/core/policy"
	"meldung/files/policyfile"
)

// BenchmarkTenPercentAgainstSQLite measures 2,000 students × 190 days × 8 slots
// in the ledger, and the same sum by the sqlite3 program's GROUP BY over the same
// marks in the same run. It reports the ratio, and the ledger's memory.
func BenchmarkTenPercentAgainstSQLite(b *testing.B) {
	const students, days, slots = 2000, 190, 8
	p, err := policyfile.Shipped("ten-percent")
	if err != nil {
		b.Fatal(err)
	}
	var before, after runtime.MemStats
	runtime.GC()
	runtime.ReadMemStats(&before)
	ledger, database := bigSchool(b, p.Codes, students, days, slots)
	runtime.GC()
	runtime.ReadMemStats(&after)

	start := time.Now()
	out, err := exec.Command("sqlite3", database, `
		SELECT count(*), sum(absent), sum(possible) FROM (
			SELECT student, count(*) AS possible, sum(missed * 2 >= due) AS absent FROM (
				SELECT m.student, m.day, sum(s.minutes) AS due, sum(CASE WHEN c.absent THEN s.minutes ELSE 0 END) AS missed
				FROM mark m JOIN slot s ON s.slot = m.slot JOIN code c ON c.code = m.code GROUP BY m.student, m.day)
			GROUP BY student)`).CombinedOutput()
	sqlite := time.Since(start)
	if err != nil {
		b.Fatalf("%v: %s", err, out)
	}
	sum := ""
	for b.Loop() {
		m := absence.NewMeasure(ledger, p)
		absent, possible := 0, 0
		for i := range ledger.Len() {
			f := m.Student(i, absence.Span{From: 0, To: days - 1})
			absent, possible = absent+f.Absent, possible+f.Possible
		}
		sum = fmt.Sprintf("%d|%d|%d", ledger.Len(), absent, possible)
	}
	if sum != strings.TrimSpace(string(out)) {
		b.Fatalf("the ledger says %s, sqlite3 says %s", sum, out)
	}
	b.ReportMetric(float64(sqlite)/(float64(b.Elapsed())/float64(b.N)), "sqlite/ledger")
	b.ReportMetric(float64(after.HeapAlloc-before.HeapAlloc)/(1<<20), "ledger-MB")
}

// BenchmarkEveryShippedPolicy measures a whole school of 2,000 × 190 × 6 by every
// shipped policy, figures, triggers and ladders, in one pass over each student.
func BenchmarkEveryShippedPolicy(b *testing.B) {
	ledger, panel := panelOfShipped(b)
	b.ReportAllocs()
	for b.Loop() {
		for i := range ledger.Len() {
			panel.Student(i, ledger.Calendar().Days()-1)
		}
	}
}

// BenchmarkOneChange corrects one mark and measures that student anew by every
// shipped policy.
func BenchmarkOneChange(b *testing.B) {
	ledger, panel := panelOfShipped(b)
	mark := absence.Mark{}
	for n := 0; b.Loop(); n++ {
		mark.Code = n % len(ledger.Codes(0).Codes)
		if err := ledger.Set(n%ledger.Len(), n%190, n%6, mark); err != nil {
			b.Fatal(err)
		}
		panel.Student(n%ledger.Len(), 189)
	}
}

func panelOfShipped(b *testing.B) (*absence.Ledger, *absence.Panel) {
	var policies []*policy.Policy
	for _, id := range policyfile.Policies() {
		p, err := policyfile.Shipped(id)
		if err != nil {
			b.Fatal(err)
		}
		policies = append(policies, p)
	}
	ledger, _ := bigSchool(b, policies[0].Codes, 2000, 190, 6)
	return ledger, absence.NewPanel(ledger, policies...)
}

// bigSchool fills a ledger and an SQLite file with the same marks.
func bigSchool(b *testing.B, codes *policy.CodeSet, students, days, slots int) (*absence.Ledger, string) {
	pattern := day.Pattern{Name: "long"}
	for k := range slots {
		pattern.Slots = append(pattern.Slots, day.Slot{Name: fmt.Sprint(k), Start: day.Midnight.Add(day.Minutes(540 + 45*k)), End: day.Midnight.Add(day.Minutes(580 + 45*k))})
	}
	pattern.Slots[0].Kind = day.Registration
	var rows []day.Row
	for d := day.MustDate("2025-09-01"); len(rows) < days; d++ {
		rows = append(rows, day.Row{Date: d, Pattern: "long"})
	}
	calendar, err := day.NewCalendar([]day.Pattern{pattern}, rows)
	if err != nil {
		b.Fatal(err)
	}
	ledger := absence.NewLedger(calendar, codes)
	folder := b.TempDir()
	file, err := os.Create(filepath.Join(folder, "marks.csv"))
	if err != nil {
		b.Fatal(err)
	}
	w := bufio.NewWriter(file)
	r := rand.New(rand.NewPCG(1, 2))
	chosen := []string{"X", "M", "U", "N"}
	for n := range students {
		i := ledger.AddStudent(absence.Student{ID: fmt.Sprint(n), Enrolled: []day.Dates{day.Always}, ShareHere: policy.NewFraction(1, 1), ShareElsewhere: policy.NewFraction(0, 1)})
		for d := range days {
			whole := r.IntN(18) == 0
			for k := range slots {
				code := "P"
				if whole || r.IntN(60) == 0 {
					code = chosen[r.IntN(len(chosen))]
				}
				place, _ := codes.Index(code)
				if err := ledger.Set(i, d, k, absence.Mark{Code: place}); err != nil {
					b.Fatal(err)
				}
				fmt.Fprintf(w, "%d,%d,%d,%s\n", n, d, k, code)
			}
		}
	}
	if err := w.Flush(); err != nil {
		b.Fatal(err)
	}
	database := filepath.Join(folder, "marks.db")
	script := `CREATE TABLE mark (student INTEGER, day INTEGER, slot INTEGER, code TEXT, PRIMARY KEY (student, day, slot)) WITHOUT ROWID;
		CREATE TABLE slot (slot INTEGER PRIMARY KEY, minutes INTEGER); WITH RECURSIVE k(n) AS (SELECT 0 UNION ALL SELECT n + 1 FROM k WHERE n < 7) INSERT INTO slot SELECT n, 40 FROM k;
		CREATE TABLE code (code TEXT PRIMARY KEY, absent INTEGER) WITHOUT ROWID; INSERT INTO code VALUES ('P', 0), ('X', 1), ('M', 1), ('U', 1), ('N', 1);
		.mode csv
		.import ` + file.Name() + ` mark`
	c := exec.Command("sqlite3", database)
	c.Stdin = strings.NewReader(strings.ReplaceAll(script, "\t\t", ""))
	if out, err := c.CombinedOutput(); err != nil {
		b.Fatalf("%v: %s", err, out)
	}
	return ledger, database
}
