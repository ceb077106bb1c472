package gradebook_test

import (
	"fmt"
	"math/big"
	"sort"
	"strings"
)

// This is the calculation a second time, from the rules alone and on the texts of the files: by name,
// row by row, with nothing of the core.

type naiveGrade struct {
	name            string
	points          string
	from            string
	failing, nearly bool
}

type naiveRule struct {
	scale     []naiveGrade
	line      string
	withdrawn []string
	expected  [][3]string // year, two figures
}

func naiveDefault() naiveRule {
	r := naiveRule{line: "0.5", withdrawn: []string{"W"}}
	for _, g := range strings.Fields("A:4.0 A-:3.7 B+:3.3 B:3.0 B-:2.7 C+:2.3 C:2.0 C-:1.7 D+:1.3 D:1.0 D-:0.7 F:0") {
		name, points, _ := strings.Cut(g, ":")
		r.scale = append(r.scale, naiveGrade{name: name, points: points, failing: name == "F", nearly: name == "D-"})
	}
	return r
}

func rat(s string) *big.Rat {
	r, ok := new(big.Rat).SetString(s)
	if !ok {
		panic("no number: " + s)
	}
	return r
}

// grade finds a grade's place; -1 for none.
func (r naiveRule) grade(text string) int {
	for i, g := range r.scale {
		if g.from == "" && g.name == text || g.from != "" && text != "" && rat(text).Cmp(rat(g.from)) >= 0 {
			return i
		}
	}
	return -1
}

func (r naiveRule) isWithdrawn(text string) bool {
	for _, w := range r.withdrawn {
		if w == text {
			return true
		}
	}
	return false
}

// world is the folder, each file as rows of texts without a header.
type world struct {
	rule                                               naiveRule
	periods, courses, students, grades, exams, recover [][]string
}

func (w world) results(asAt string) (students, courses [][]string) {
	when := map[string]int{}
	halves := []string{}
	for i, p := range w.periods {
		when[p[0]] = i
		if i%2 == 0 {
			halves = append(halves, p[1])
		}
	}
	now := when[asAt]
	for _, s := range w.students {
		var rows [][]string
		taken, away, lost, failing, nearly := 0, 0, 0, 0, 0
		earned := new(big.Rat)
		times := map[string]int{}
		for h, half := range halves {
			for _, c := range w.courses {
				row, ok := w.half(s[0], c, h, half, now)
				if !ok {
					continue
				}
				rows = append(rows, row)
				state := row[7]
				if state == "earned" || state == "recovered" {
					times[c[0]]++
				}
				if state == "lost" {
					lost++
				}
				if h == now/2 {
					taken++
					if state == "lost" || state == "stands_lost" {
						away++
					}
					if g := w.rule.grade(row[3+now%2]); row[3+now%2] != "" && g >= 0 {
						if w.rule.scale[g].failing {
							failing++
						}
						if w.rule.scale[g].nearly {
							nearly++
						}
					}
				}
			}
		}
		for _, c := range w.courses {
			sum := new(big.Rat).Mul(rat(c[3]), new(big.Rat).SetInt64(int64(times[c[0]])))
			if c[6] != "" && sum.Cmp(rat(c[6])) > 0 {
				sum = rat(c[6])
			}
			earned.Add(earned, sum)
		}
		expected, behind := "", ""
		flat, at := []string{"0"}, -1
		for i, e := range w.rule.expected {
			flat = append(flat, e[1], e[2])
			if e[0] == s[1] {
				at = 1 + 2*i
			}
		}
		if at >= 0 {
			if now%4 >= 2 {
				at++
			}
			if now%2 == 0 {
				at--
			}
			expected = plain(rat(flat[at]))
			diff := new(big.Rat).Sub(rat(flat[at]), earned)
			if diff.Sign() < 0 {
				diff = new(big.Rat)
			}
			behind = plain(diff)
		}
		students = append(students, []string{s[0], fmt.Sprint(taken), fmt.Sprint(failing), fmt.Sprint(nearly), fmt.Sprint(lost), fmt.Sprint(away), plain(earned), expected, behind})
		courses = append(courses, rows...)
	}
	return students, courses
}

func plain(r *big.Rat) string {
	s := r.FloatString(20)
	return strings.TrimSuffix(strings.TrimRight(s, "0"), ".")
}

// half is one row of courses.csv; ok is false where there is none.
func (w world) half(student string, c []string, h int, half string, now int) (row []string, ok bool) {
	parts := []string{"", "", ""}
	for _, g := range w.grades {
		for n := range 2 {
			if i := 2*h + n; g[0] == student && g[2] == c[0] && i <= now && i < len(w.periods) && g[3] == w.periods[i][0] {
				ok = true
				parts[n] = g[4]
				if w.rule.isWithdrawn(g[4]) {
					return nil, false
				}
			}
		}
	}
	if !ok {
		return nil, false
	}
	weight := new(big.Rat)
	if c[5] != "" {
		weight = rat(c[5])
	}
	exam := weight.Sign() > 0
	for _, x := range w.exams {
		if exam && x[0] == student && x[1] == c[0] && x[2] == half && 2*h+1 <= now {
			parts[2] = x[3]
		}
	}
	recovered := false
	for _, x := range w.recover {
		if x[0] == student && x[1] == c[0] && x[2] == half && x[4] == "true" {
			for i, p := range w.periods {
				recovered = recovered || p[0] == x[3] && i <= now
			}
		}
	}
	points := func(text string) *big.Rat { return rat(w.rule.scale[w.rule.grade(text)].points) }
	var have []*big.Rat
	missing := false
	for n, p := range parts {
		if n == 2 && !exam {
			continue
		}
		if p == "" {
			missing = true
		} else {
			have = append(have, points(p))
		}
	}
	// with puts a number of points in the place of each missing part
	with := func(other *big.Rat) *big.Rat {
		v := make([]*big.Rat, 3)
		for n, p := range parts {
			v[n] = other
			if p != "" {
				v[n] = points(p)
			}
		}
		sum := new(big.Rat).Add(v[0], v[1])
		sum.Quo(sum, rat("2"))
		if !exam {
			return sum
		}
		left := new(big.Rat).Mul(new(big.Rat).Sub(rat("1"), weight), sum)
		return left.Add(left, new(big.Rat).Mul(weight, v[2]))
	}
	line := rat(w.rule.line)
	state, value, needed := "open", "", ""
	if !missing {
		v := with(nil)
		value = v.FloatString(3)
		state = "lost"
		if v.Cmp(line) >= 0 {
			state = "earned"
		}
	} else if h < now/2 {
		state = "lost"
	}
	if state != "earned" && recovered {
		state = "recovered"
	}
	if state == "open" {
		if len(have) > 0 {
			mean := new(big.Rat)
			for _, p := range have {
				mean.Add(mean, p)
			}
			if with(mean.Quo(mean, new(big.Rat).SetInt64(int64(len(have))))).Cmp(line) < 0 {
				state = "stands_lost"
			}
		}
		needed = "none"
		for i := len(w.rule.scale) - 1; i >= 0; i-- {
			if g := w.rule.scale[i]; with(rat(g.points)).Cmp(line) >= 0 {
				needed = g.name
				if g.from != "" {
					needed = g.from
				}
				break
			}
		}
	}
	return []string{student, c[0], half, parts[0], parts[1], parts[2], value, state, needed}, true
}

// yaml is the rule as a file.
func (r naiveRule) yaml() string {
	var b strings.Builder
	b.WriteString("scale:\n")
	for _, g := range r.scale {
		fmt.Fprintf(&b, "  - {grade: %q, points: %s", g.name, g.points)
		if g.from != "" {
			b.WriteString(", from: " + g.from)
		}
		if g.failing {
			b.WriteString(", failing: true")
		}
		if g.nearly {
			b.WriteString(", nearly: true")
		}
		b.WriteString("}\n")
	}
	marks := append([]string(nil), r.withdrawn...)
	sort.Strings(marks)
	fmt.Fprintf(&b, "line: %s\nwithdrawn: [%s]\nexpected:\n", r.line, strings.Join(marks, ", "))
	for _, e := range r.expected {
		fmt.Fprintf(&b, "  - {year: %s, credits: [%s, %s]}\n", e[0], e[1], e[2])
	}
	return b.String()
}
