// Package ask finds which entries of an index answer a question as somebody types it. It knows nothing of what the
// entries are about.
package ask

import (
	"cmp"
	"math"
	"slices"
	"strings"
	"unicode"
)

// Entry is something that can be asked for.
type Entry struct {
	Title  string
	Answer string   // one sentence
	Asked  []string // questions and words as people put them
}

// Index is entries made ready to be asked.
type Index struct {
	same    map[string]string // words that mean the same, as stems
	entries []ready
	in      map[string]int // in how many entries a stem is
}

type ready struct {
	weight  map[string]float64 // of each stem
	phrases []map[string]bool  // the title and each question, as stems
}

// What a word counts for, by where it stands.
const (
	inAnswer = 0.4
	inTitle  = 1.2
	inAsked  = 1.0
)

// New makes an index. Each line of same lists words that mean the same, apart by spaces.
func New(entries []Entry, same []string) *Index {
	x := &Index{same: map[string]string{}, in: map[string]int{}}
	for _, line := range same {
		words := strings.Fields(line)
		for _, w := range words {
			x.same[stem(w)] = stem(words[0])
		}
	}
	for _, e := range entries {
		r := ready{weight: map[string]float64{}}
		add := func(text string, weight float64) map[string]bool {
			set := map[string]bool{}
			for _, w := range x.stems(text) {
				set[w] = true
				r.weight[w] = max(r.weight[w], weight)
			}
			return set
		}
		add(e.Answer, inAnswer)
		r.phrases = append(r.phrases, add(e.Title, inTitle))
		for _, a := range e.Asked {
			r.phrases = append(r.phrases, add(a, inAsked))
		}
		for w := range r.weight {
			x.in[w]++
		}
		x.entries = append(x.entries, r)
	}
	return x
}

// Found is an entry that answers a question, by its place in the index.
type Found struct {
	Entry int
	Score float64 // above 0
}

// Find returns the entries that share a word of weight with a question, the best first; equal ones in their order.
// Rare words count more than common ones, and an entry that was asked for in nearly the same words most of all. What
// is begun counts too, so that an answer is there before the last letter.
func (x *Index) Find(question string) []Found {
	words := x.stems(question)
	if len(words) == 0 {
		return nil
	}
	asked := map[string]bool{}
	for _, w := range words {
		asked[w] = true
	}
	var out []Found
	for n, e := range x.entries {
		score := 0.0
		for w := range asked {
			score += x.rare(w) * e.of(w)
		}
		if score == 0 {
			continue
		}
		near := 0.0
		for _, p := range e.phrases {
			near = max(near, x.near(asked, p))
		}
		out = append(out, Found{n, score * (1 + 2*near)})
	}
	slices.SortStableFunc(out, func(a, b Found) int { return cmp.Compare(b.Score, a.Score) })
	return out
}

// of is what a word counts for in an entry: as it stands there, or as the beginning of one there.
func (e ready) of(w string) float64 {
	if weight, has := e.weight[w]; has {
		return weight
	}
	const begun = 3 // letters from which on a beginning says something
	best := 0.0
	if len(w) >= begun {
		for other, weight := range e.weight {
			if strings.HasPrefix(other, w) {
				best = max(best, 0.6*weight)
			}
		}
	}
	return best
}

// rare is how much a word tells: less, the more entries have it.
func (x *Index) rare(w string) float64 {
	return math.Log(1 + float64(len(x.entries))/float64(1+x.in[w]))
}

// near is how much of a question and a phrase is the same, by what the words tell: 1 for all of both.
func (x *Index) near(asked, phrase map[string]bool) float64 {
	both, all := 0.0, 0.0
	for w := range asked {
		all += x.rare(w)
		if phrase[w] {
			both += x.rare(w)
		}
	}
	for w := range phrase {
		if !asked[w] {
			all += x.rare(w)
		}
	}
	if all == 0 {
		return 0
	}
	return both / all
}

// empty are words that tell nothing of what is asked for; who, not, out, how many and all do.
var empty = func() map[string]bool {
	out := map[string]bool{}
	for _, w := range strings.Fields("a an the of in on at to for with by is are be was were been has have had do does did can could may i me my we our you your it its this that these those what where when which there their they them and or so as if from into up any some show see find get give need want tell one page please s") {
		out[w] = true
	}
	return out
}()

// stems are the words of a text that tell something, without their endings, each as the first of those that mean the
// same.
func (x *Index) stems(text string) []string {
	var out []string
	for _, w := range strings.FieldsFunc(strings.ToLower(text), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) }) {
		if empty[w] {
			continue
		}
		s := stem(w)
		if one, known := x.same[s]; known {
			s = one
		}
		out = append(out, s)
	}
	return out
}

// stem takes the usual endings off an English word: a common practice, cut down to what questions need.
func stem(w string) string {
	for _, end := range []string{"ings", "ing", "edly", "ies", "ied", "ers", "er", "ed", "ly", "es", "s", "e"} {
		if rest, had := strings.CutSuffix(w, end); had && len(rest) >= 3 {
			if end == "ies" || end == "ied" {
				return rest + "y"
			}
			if n := len(rest); n >= 4 && rest[n-1] == rest[n-2] && !strings.ContainsRune("lsz", rune(rest[n-1])) {
				rest = rest[:n-1] // planning, plan
			}
			return rest
		}
	}
	return w
}
