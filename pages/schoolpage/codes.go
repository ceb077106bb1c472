package schoolpage

import (
	"context"
	"errors"
	"slices"

	"meldung/core/policy"
	"meldung/files/policyfile"
	"meldung/store"
	"meldung/work"
)

// CodesDraft is a code set that is being written: a copy of one that there is, a file, or filled in.
type CodesDraft struct {
	Copy  string                `json:"copy,omitempty" maxLength:"60" doc:"The name of a set to begin with"`
	Text  string                `json:"text,omitempty" maxLength:"100000"`
	Codes []policyfile.CodeForm `json:"codes,omitempty" maxItems:"300" doc:"In place of the text"`
}

// CodesDrafted is what a draft of a code set holds, or what is wrong in it.
type CodesDrafted struct {
	Text    string                `json:"text" doc:"As a file"`
	Codes   []policyfile.CodeForm `json:"codes" doc:"Filled in; none while something is wrong in the text"`
	Line    int                   `json:"line" doc:"In which line something is wrong; 0 for the whole, or for nothing"`
	Problem string                `json:"problem" doc:"Empty where nothing is wrong"`
	Lacks   []string              `json:"lacks" doc:"What can't be done with it, a sentence each"`
	Taken   []string              `json:"taken" doc:"Names that other sets have"`
	Uses    []string              `json:"uses" doc:"What a code can be used for"`
}

// DraftCodes says what a draft of a code set holds, or what is wrong in which line.
func DraftCodes(ctx context.Context, o *work.Office, d CodesDraft) (CodesDrafted, error) {
	out := CodesDrafted{Text: d.Text, Codes: []policyfile.CodeForm{}, Lacks: []string{}, Uses: policy.UseWords()}
	own, err := store.CodeSets(ctx, o.Store().Read())
	if err != nil {
		return out, err
	}
	out.Taken = policyfile.CodeSets()
	for name := range own {
		out.Taken = append(out.Taken, name)
	}
	slices.Sort(out.Taken)
	switch {
	case d.Copy != "" && own[d.Copy] != "":
		out.Text = own[d.Copy]
	case d.Copy != "":
		text, err := policyfile.CodesText(d.Copy)
		if err != nil {
			return out, work.NotFoundf("there is no code set %q", d.Copy)
		}
		out.Text = string(text)
	case len(d.Codes) > 0:
		out.Text = string(policyfile.CodesOf(d.Codes))
	}
	set, err := policyfile.ParseCodes("draft", []byte(out.Text))
	if err == nil {
		err = set.Usable()
	}
	if set != nil {
		out.Codes, out.Lacks = policyfile.CodeForms(set), set.Lacks()
	}
	var wrong *policyfile.Problem
	switch {
	case errors.As(err, &wrong):
		out.Line, out.Problem = wrong.Line, wrong.Text
	case err != nil:
		out.Problem = err.Error()
	}
	return out, nil
}
