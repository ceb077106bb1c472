package policyfile

import (
	"strings"

	"meldung/core/policy"
)

// CodeForm is a code as it is filled in: what is wrong in it is told by ParseCodes of its text.
type CodeForm struct {
	Code        string   `json:"code" maxLength:"20"`
	Word        string   `json:"word" maxLength:"100"`
	Counts      string   `json:"counts" maxLength:"20" doc:"attended, activity, excused, unexcused or void"`
	Late        bool     `json:"late"`
	Medical     bool     `json:"medical"`
	OnSite      bool     `json:"onSite" doc:"Who has it is on the premises"`
	Unexplained bool     `json:"unexplained" doc:"Nobody has said why yet"`
	MinutesAs   string   `json:"minutesAs" maxLength:"20" doc:"To which side the minutes go that are missed where the code counts as attended: excused, or unexcused where empty"`
	Uses        []string `json:"uses" maxItems:"20" doc:"What the program uses it for"`
	Half        string   `json:"half" maxLength:"20" doc:"morning or afternoon; empty for the whole day"`
}

// CodeForms returns the codes of a set filled in.
func CodeForms(set *policy.CodeSet) []CodeForm {
	out := []CodeForm{}
	for _, c := range set.Codes {
		f := CodeForm{Code: c.Code, Word: c.Word, Counts: c.Counts.String(), Late: c.Late, Medical: c.Medical, OnSite: c.OnSite, Unexplained: c.Unexplained, Uses: c.Uses.Words(), Half: c.Half.String()}
		if c.MinutesAsExcused {
			f.MinutesAs = "excused"
		}
		out = append(out, f)
	}
	return out
}

// CodesOf writes codes that are filled in as a file.
func CodesOf(forms []CodeForm) []byte {
	var b strings.Builder
	b.WriteString("codes:\n")
	for _, f := range forms {
		b.WriteString("  - " + flow(f.fields()) + "\n")
	}
	return []byte(b.String())
}

func (f CodeForm) fields() []string {
	out := []string{"code: " + Quoted(f.Code)}
	if f.Word != "" {
		out = append(out, "word: "+Quoted(f.Word))
	}
	out = append(out, "counts: "+Quoted(f.Counts))
	for _, flag := range []struct {
		key string
		on  bool
	}{{"late", f.Late}, {"medical", f.Medical}, {"on_site", f.OnSite}, {"unexplained", f.Unexplained}} {
		if flag.on {
			out = append(out, flag.key+": true")
		}
	}
	if f.MinutesAs != "" {
		out = append(out, "minutes_as: "+Quoted(f.MinutesAs))
	}
	if len(f.Uses) > 0 {
		var uses []string
		for _, u := range f.Uses {
			uses = append(uses, Quoted(u))
		}
		out = append(out, "used_for: ["+strings.Join(uses, ", ")+"]")
	}
	if f.Half != "" {
		out = append(out, "half: "+Quoted(f.Half))
	}
	return out
}
