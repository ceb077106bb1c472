package assess_test

import (
	"bytes"
	"fmt"
	"math/rand/v2"
	"testing"
	"testing/fstest"

	"meldung/core/day"
	"meldung/files/assess"
	"meldung/files/policyfile"
)

// BenchmarkAssess reads 2,000 students × 190 days × 6 slots from CSV and measures
// them: the work of the whole command but for writing the tables.
func BenchmarkAssess(b *testing.B) {
	folder := fstest.MapFS{}
	put := func(name string, text *bytes.Buffer) { folder[name] = &fstest.MapFile{Data: text.Bytes()} }
	calendar := bytes.NewBufferString("date,day,term,grading_period\n")
	var dates []day.Date
	for d := day.MustDate("2025-08-25"); len(dates) < 190; d++ {
		if d.Weekday() < 6 {
			dates = append(dates, d)
			fmt.Fprintf(calendar, "%s,full,t%d,q%d\n", d, len(dates)/64, len(dates)/48)
		}
	}
	slots := bytes.NewBufferString("day,slot,start,end,kind\n")
	for k := range 6 {
		fmt.Fprintf(slots, "full,%d,%s,%s,\n", k, day.Midnight.Add(day.Minutes(540+60*k)), day.Midnight.Add(day.Minutes(590+60*k)))
	}
	students := bytes.NewBufferString("student,family_name,given_name,year,form,enrolled_from,enrolled_to,share_here,share_elsewhere\n")
	marks := bytes.NewBufferString("student,date,slot,code,from,to,class\n")
	r := rand.New(rand.NewPCG(1, 2))
	for n := range 2000 {
		fmt.Fprintf(students, "S%05d,Fenn,Odd,7,7 Reef,2025-08-25,,,\n", n)
		for _, d := range dates {
			away := r.IntN(16) == 0
			for k := range 6 {
				switch {
				case away:
					fmt.Fprintf(marks, "S%05d,%s,%d,M,,,\n", n, d, k)
				case r.IntN(50) == 0:
					fmt.Fprintf(marks, "S%05d,%s,%d,L,,%s,geography\n", n, d, k, day.Midnight.Add(day.Minutes(547+60*k)))
				default:
					fmt.Fprintf(marks, "S%05d,%s,%d,P,,,\n", n, d, k)
				}
			}
		}
	}
	put(assess.Calendar, calendar)
	put(assess.Slots, slots)
	put(assess.Students, students)
	put(assess.Marks, marks)
	p, err := policyfile.Shipped("hours")
	if err != nil {
		b.Fatal(err)
	}
	b.SetBytes(int64(marks.Len()))
	b.ReportAllocs()
	for b.Loop() {
		ledger, problems := assess.Read(folder, p)
		if len(problems) > 0 {
			b.Fatal(problems[0])
		}
		assess.Measure(ledger, p, dates[189])
	}
}
