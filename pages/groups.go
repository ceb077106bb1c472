package pages

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/store"
	"meldung/work"
)

// GroupOf finds the students of a scope who are asked for, on the roll on a date, and says in
// words who they are; empty for everyone. A list or own field comes as Group has it.
func GroupOf(v work.Snapshot, scope work.Scope, d day.Date, group string) (students []store.Student, words string, err error) {
	kind, name, _ := strings.Cut(group, ":")
	number, numberErr := strconv.ParseInt(name, 10, 64)
	takes := func(store.Student) bool { return true }
	switch kind {
	case "":
	case "year":
		words = "Year " + name
		takes = func(s store.Student) bool { return s.Year == name }
	case "leaving":
		words = "Leaving " + name
		leaving := Leaving(v, d)
		takes = func(s store.Student) bool {
			year, ok := leaving(s)
			return ok && strconv.Itoa(year) == name
		}
	case "travels":
		words = "Those who come by " + name
		takes = func(s store.Student) bool { return s.Travels == name }
	case "part-time":
		words = "Part-time students"
		takes = func(s store.Student) bool { return v.School.ScheduleOf(s.ID, d) != nil || s.ShareHere != "1" }
	case "student":
		one, err := v.Student(ids.Student(number))
		if err != nil || numberErr != nil {
			return nil, "", work.Wrongf("%q is no student", name)
		}
		words = one.Name()
		takes = func(s store.Student) bool { return s.ID == one.ID }
	case "students":
		numbers, title, _ := strings.Cut(name, " ")
		words = title
		on := map[ids.Student]bool{}
		for _, n := range strings.Split(numbers, ",") {
			if id, err := strconv.ParseInt(n, 10, 64); err == nil {
				on[ids.Student(id)] = true
			}
		}
		takes = func(s store.Student) bool { return on[s.ID] }
	case "class":
		class, err := v.Class(ids.Class(number))
		if err != nil || numberErr != nil {
			return nil, "", work.Wrongf("%q is no class", name)
		}
		words = class.Title
		inClass := map[ids.Student]bool{}
		for _, e := range v.School.EnrolledIn(class.ID) {
			inClass[e.StudentID] = inClass[e.StudentID] || e.On(d)
		}
		takes = func(s store.Student) bool { return inClass[s.ID] }
	default:
		return nil, "", work.Wrongf("%q is no group: a year, a class, a way of coming or a student is expected", group)
	}
	for _, s := range v.School.Students {
		if scope.Has(s.Section) && s.EnrolledOn(d) && takes(s) {
			students = append(students, s)
		}
	}
	return students, words, nil
}

// GroupChoices offers the years, leaving cohorts, forms and classes of a scope.
func GroupChoices(v work.Snapshot, scope work.Scope) []Choice {
	out := []Choice{}
	var years []string
	for _, s := range v.School.Students {
		if s.Year != "" && scope.Has(s.Section) && !slices.Contains(years, s.Year) {
			years = append(years, s.Year)
		}
	}
	slices.SortFunc(years, func(a, b string) int {
		x, _ := strconv.Atoi(a)
		y, _ := strconv.Atoi(b)
		if x != y {
			return x - y
		}
		return strings.Compare(a, b)
	})
	for _, y := range years {
		out = append(out, Choice{Value: "year:" + y, Label: "Year " + y, Kind: "year"})
	}
	leaving, leavers := Leaving(v, v.On), []int{}
	for _, s := range v.School.Students {
		if year, ok := leaving(s); ok && scope.Has(s.Section) && s.EnrolledOn(v.On) && !slices.Contains(leavers, year) {
			leavers = append(leavers, year)
		}
	}
	slices.Sort(leavers)
	for _, year := range leavers {
		out = append(out, Choice{Value: fmt.Sprintf("leaving:%d", year), Label: fmt.Sprintf("Leaving %d", year), Kind: "leaving"})
	}
	for _, form := range []bool{true, false} {
		kind := map[bool]string{true: "form", false: "class"}[form]
		for _, c := range v.School.Classes {
			if c.Form() == form && !c.Ended && scope.Has(c.Section) {
				out = append(out, Choice{Value: fmt.Sprintf("class:%d", c.ID), Label: c.Title, Kind: kind})
			}
		}
	}
	var ways []string
	partTime := false
	for _, s := range v.School.Students {
		if !scope.Has(s.Section) || !s.EnrolledOn(v.On) {
			continue
		}
		partTime = partTime || s.ShareHere != "1" || v.School.ScheduleOf(s.ID, v.On) != nil
		if s.Travels != "" && !slices.Contains(ways, s.Travels) {
			ways = append(ways, s.Travels)
		}
	}
	slices.Sort(ways)
	for _, w := range ways {
		out = append(out, Choice{Value: "travels:" + w, Label: w, Kind: "transport"})
	}
	if partTime {
		out = append(out, Choice{Value: "part-time:yes", Label: "Part-time students", Kind: "timetable"})
	}
	return out
}

// Leaving returns when a student leaves the school, having gone through all of its years: the calendar year
// in which the last of them ends. ok is false where the years are no numbers, and before the first school year.
func Leaving(v work.Snapshot, d day.Date) func(store.Student) (year int, ok bool) {
	last := 0
	for _, s := range v.School.Students {
		if n, err := strconv.Atoi(s.Year); err == nil && s.EnrolledOn(d) {
			last = max(last, n)
		}
	}
	ends := map[ids.Section]int{}
	for _, y := range v.School.Records().Rows.Years {
		if y.First <= d {
			ends[y.SectionID] = y.Last.Time().Year()
		}
	}
	return func(s store.Student) (int, bool) {
		n, err := strconv.Atoi(s.Year)
		end, known := ends[s.Section]
		if err != nil || !known || n > last {
			return 0, false
		}
		return end + last - n, true
	}
}

// ByNumber orders names as people count: 7 Halyard before 10 Cleat, and what has no number last.
func ByNumber(a, b string) int { return cmp.Or(cmp.Compare(leading(a), leading(b)), cmp.Compare(a, b)) }

func leading(name string) int {
	digits := name[:len(name)-len(strings.TrimLeft(name, "0123456789"))]
	if n, err := strconv.Atoi(digits); err == nil {
		return n
	}
	return math.MaxInt
}
