package school

import (
	"context"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"meldung/core/day"
	"meldung/core/ids"
	"meldung/core/policy"
	"meldung/files/policyfile"
	"meldung/held"
	"meldung/store"
	"meldung/work"
)

// CodesChoice is a code set to be used, a shipped one or the school's own.
type CodesChoice struct {
	Section ids.Section  `json:"section,omitempty" doc:"The section that uses it; 0 for every one"`
	Set     string       `json:"set" minLength:"1" maxLength:"60" doc:"A shipped set, or the name of an own one"`
	Text    string       `json:"text,omitempty" maxLength:"100000" doc:"The own set as YAML, where it is new"`
	From    string       `json:"from,omitempty" maxLength:"10" doc:"The date from which it is used; empty for the first on which no register is in"`
	Table   []CodeChange `json:"table,omitempty" doc:"Which code takes the place of which; empty for the usual ones"`
	Apply   bool         `json:"apply" doc:"Use it; else only look"`
}

// CodeChange says which code takes the place of another in the school's reasons.
type CodeChange struct {
	Old     string `json:"old"`
	OldWord string `json:"oldWord"`
	New     string `json:"new" doc:"Empty for none"`
	NewWord string `json:"newWord"`
}

// CodesPlan is what choosing a code set means, or has done.
type CodesPlan struct {
	Applied bool            `json:"applied"`
	Set     string          `json:"set"`
	When    string          `json:"when" doc:"From when it is used, in words"`
	From    string          `json:"from" doc:"YYYY-MM-DD; empty for at all times"`
	Table   []CodeChange    `json:"table" doc:"Which code takes the place of which"`
	Choices []CodeChoice    `json:"choices" doc:"The codes of the set"`
	Lacks   []string        `json:"lacks" doc:"What can't be done with it, a sentence each"`
	Reasons []ReasonUnderIt `json:"reasons" doc:"What the school's reasons give under it"`
	Receipt *work.Receipt   `json:"receipt,omitempty"`
}

// CodeChoice is a code that can be chosen.
type CodeChoice struct {
	Code string `json:"code"`
	Word string `json:"word"`
}

// ReasonUnderIt is what a reason gives under a code set.
type ReasonUnderIt struct {
	Word   string `json:"word"`
	Absent string `json:"absent"`
	Late   string `json:"late"`
}

// setName is what an own code set can be called, so that it is told from a file's path.
var setName = regexp.MustCompile(`^[a-z0-9][a-z0-9-]*$`)

// ChooseCodes looks at a code set for a section or all, or has it used: before the first mark at
// all times, later from a date after the last register that is in. What was marked before
// stays as it was marked.
func ChooseCodes(ctx context.Context, o *work.Office, p work.Person, key string, c CodesChoice) (CodesPlan, error) {
	var out CodesPlan
	job := work.Job{By: p, Key: key, Needs: work.MayChooseCodes, Kind: "codes", In: c, Out: &out}
	if !c.Apply {
		return out, o.Look(ctx, job, func(v work.Snapshot) error {
			_, _, err := c.plan(ctx, v, &out)
			return err
		})
	}
	err := o.Write(ctx, job, func(tx *work.Tx, v work.Snapshot) error {
		sections, chosen, err := c.plan(ctx, v, &out)
		if err != nil {
			return err
		}
		if c.Text != "" {
			if err := store.AddCodeSet(ctx, tx.Tx, c.Set, c.Text, tx.Entry); err != nil {
				return err
			}
		}
		receipt := tx.Receipt("The code set " + c.Set + " is used " + out.When)
		out.Applied, out.Receipt = true, &receipt
		for _, s := range sections {
			if err := tx.ChooseCodes(ctx, s, chosen); err != nil {
				return err
			}
		}
		return nil
	})
	return out, err
}

// plan works out what the choice means, and for which sections.
func (c CodesChoice) plan(ctx context.Context, v work.Snapshot, out *CodesPlan) ([]work.Section, held.CodesChosen, error) {
	chosen := held.CodesChosen{Set: c.Set, Table: map[string]string{}}
	sections, err := v.SectionsWith(c.Section)
	if err != nil {
		return nil, chosen, err
	}
	set, err := c.read(ctx, v)
	if err != nil {
		return nil, chosen, err
	}
	if chosen.From, err = c.begin(ctx, v); err != nil {
		return nil, chosen, err
	}
	first := sections[0]
	before := first.CodesOn(max(chosen.From-1, 0))
	for _, s := range sections {
		if s.CodesOn(max(chosen.From-1, 0)).ID != before.ID {
			return nil, chosen, work.Wrongf("%s and %s have codes of their own: choose for one section; nothing was changed", first.Name, s.Name)
		}
	}
	if before.ID == set.ID {
		return nil, chosen, work.Conflictf("the code set %s is in use already; nothing was changed", set.ID)
	}
	*out = CodesPlan{Set: c.Set, When: "at all times", Table: []CodeChange{}, Choices: []CodeChoice{}, Lacks: set.Lacks(), Reasons: []ReasonUnderIt{}}
	if chosen.From > 0 {
		out.From, out.When = chosen.From.String(), "from "+chosen.From.Spoken()+chosen.From.Time().Format(" 2006")+" on"
	}
	for _, code := range set.Codes {
		out.Choices = append(out.Choices, CodeChoice{code.Code, code.Word})
	}
	usual := before.Counterparts(set)
	for _, old := range before.Codes {
		next := usual[old.Code]
		if i := slices.IndexFunc(c.Table, func(x CodeChange) bool { return x.Old == old.Code }); i >= 0 {
			next = c.Table[i].New
		}
		found, known := set.Find(next)
		if next != "" && !known {
			return nil, chosen, work.Wrongf("the set %s has no code %q to take the place of %s; nothing was changed", c.Set, next, old.Code)
		}
		chosen.Table[old.Code] = next
		change := CodeChange{old.Code, old.Word, next, found.Word}
		if next == "" && old.Uses&policy.UsePresent != 0 {
			change.NewWord = byHalves(set, policy.UsePresent)
		}
		out.Table = append(out.Table, change)
	}
	for _, r := range first.Settings.Offered() {
		out.Reasons = append(out.Reasons, ReasonUnderIt{r.Word, chosen.Table[r.Absent], chosen.Table[r.Late]})
	}
	return sections, chosen, nil
}

// byHalves says which codes a set has for a use in each half of the day.
func byHalves(set *policy.CodeSet, u policy.Use) string {
	var out []string
	for _, c := range set.Codes {
		if c.Uses&u != 0 && c.Half != policy.WholeDay {
			out = append(out, c.Code+" in the "+c.Half.String())
		}
	}
	return strings.Join(out, ", ")
}

// read finds the set, or reads the school's own.
func (c CodesChoice) read(ctx context.Context, v work.Snapshot) (*policy.CodeSet, error) {
	own, err := store.CodeSets(ctx, v.Store())
	if err != nil {
		return nil, err
	}
	text, there := own[c.Set]
	shipped := slices.Contains(policyfile.CodeSets(), c.Set)
	var set *policy.CodeSet
	switch {
	case c.Text != "" && (shipped || there):
		return nil, work.Conflictf("there is a code set called %s already; a set is never changed: give yours another name", c.Set)
	case c.Text != "" && !setName.MatchString(c.Set):
		return nil, work.Wrongf("%q can't name a code set: small letters, digits and hyphens do", c.Set)
	case c.Text != "":
		set, err = policyfile.ParseCodes(c.Set, []byte(c.Text))
	case shipped:
		set, err = policyfile.ShippedCodes(c.Set)
	case there:
		set, err = policyfile.ParseCodes(c.Set, []byte(text))
	default:
		return nil, work.NotFoundf("there is no code set %q; there are %v", c.Set, policyfile.CodeSets())
	}
	if err == nil {
		err = set.Usable()
	}
	if err != nil {
		return nil, work.Wrongf("%v; nothing was changed", err)
	}
	return set, nil
}

// begin returns the date from which the set is used; 0 for at all times.
func (c CodesChoice) begin(ctx context.Context, v work.Snapshot) (day.Date, error) {
	last, marked, err := store.LastMark(ctx, v.Store())
	if err != nil {
		return 0, err
	}
	if !marked {
		return 0, nil
	}
	if c.From == "" {
		return max(last+1, v.Now.Date()), nil
	}
	from, err := day.ParseDate(c.From)
	if err != nil {
		return 0, work.Wrongf("%v; nothing was changed", err)
	}
	if from <= last {
		return 0, work.Refusedf("there are marks up to %s, made with the codes of then: others can be used from %s on; nothing was changed", last.Spoken(), (last + 1).Spoken())
	}
	return from, nil
}

// SetReasons replaces the school's reasons: renamed, in another order, some retired and some
// new. A reason with which something was said is never taken away, but retired: what it said
// stands. r.Seen are those that its maker saw, so that two who change them at once lose
// nothing.
func SetReasons(ctx context.Context, o *work.Office, p work.Person, key string, r Reasons) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySetReasons, Kind: "reasons", In: r, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		sections, err := v.SectionsWith(r.Section)
		if err != nil {
			return err
		}
		out = tx.Receipt("The reasons are kept, and hold from now on")
		for _, s := range sections {
			if !slices.Equal(s.Settings.Reasons, r.Seen) && len(sections) > 1 && !slices.Equal(s.Settings.Reasons, sections[0].Settings.Reasons) {
				return work.Wrongf("%s has reasons of its own: change those of one section; nothing was changed", s.Name)
			}
			if err := r.set(ctx, tx, s); err != nil {
				return err
			}
		}
		return nil
	})
	return out, err
}

// set replaces the reasons of a section.
func (r Reasons) set(ctx context.Context, tx *work.Tx, s work.Section) error {
	if !slices.Equal(s.Settings.Reasons, r.Seen) {
		return work.Conflictf("somebody else has changed the reasons in between; nothing was changed, look at them again")
	}
	next := slices.Clone(r.Reasons)
	if err := checkReasons(s, next); err != nil {
		return err
	}
	for _, old := range s.Settings.Reasons {
		if !slices.ContainsFunc(next, func(n held.Reason) bool { return n.Word == old.Word }) {
			old.Retired = true
			next = append(next, old)
		}
	}
	settings := s.Settings
	settings.Reasons = next
	return tx.ChangeSettings(ctx, s.ID, settings)
}

// Reasons are the school's reasons as they are to be.
type Reasons struct {
	Section ids.Section   `json:"section,omitempty" doc:"The section whose reasons they are; 0 for every one"`
	Seen    []held.Reason `json:"seen" maxItems:"200" doc:"As they were when the change was begun, in their order"`
	Reasons []held.Reason `json:"reasons" maxItems:"200" doc:"As they are to be, in their order; those left out are retired"`
}

// needed are the reasons that the program itself gives.
var needed = []string{held.NoReason, held.OnTheWay}

// checkReasons refuses reasons without a word, twice, with a code that is none, with one key
// for two, and without those that the program itself gives.
func checkReasons(s work.Section, list []held.Reason) error {
	words, keys := map[string]bool{}, map[string]string{}
	for _, r := range list {
		switch {
		case r.Word == "":
			return work.Wrongf("a reason needs a word; nothing was changed")
		case words[r.Word]:
			return work.Wrongf("%q is there twice; nothing was changed", r.Word)
		case !r.Retired && r.Key != "" && keys[r.Key] != "":
			return work.Wrongf("the key %s picks both %q and %q; nothing was changed", r.Key, keys[r.Key], r.Word)
		}
		words[r.Word] = true
		if !r.Retired {
			keys[r.Key] = r.Word
		}
		for _, code := range []string{r.Absent, r.Late} {
			if _, known := s.Codes.Find(code); code != "" && !known {
				return work.Wrongf("%q names the code %q, which is none; nothing was changed", r.Word, code)
			}
		}
	}
	for _, word := range needed {
		if !slices.ContainsFunc(list, func(r held.Reason) bool { return r.Word == word && !r.Retired }) {
			return work.Wrongf("%q is a reason that the program itself gives: it stays; nothing was changed", word)
		}
	}
	return nil
}

// Codes says which sets there are to choose from.
func Codes(ctx context.Context, q store.Queryer) ([]string, error) {
	own, err := store.CodeSets(ctx, q)
	if err != nil {
		return nil, fmt.Errorf("reading the code sets: %w", err)
	}
	out := policyfile.CodeSets()
	for name := range own {
		out = append(out, name)
	}
	slices.Sort(out)
	return out, nil
}
