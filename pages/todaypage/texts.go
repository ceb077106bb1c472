package todaypage

import (
	"context"

	"meldung/work"
	"meldung/work/home"
)

// TextPreview is what a text to homes would be.
type TextPreview struct {
	Text    string   `json:"text" doc:"The words, with {students} for the names"`
	Homes   int      `json:"homes" doc:"How many it goes to"`
	To      string   `json:"to" doc:"Whom the example goes to, with the number; empty for nobody"`
	Example string   `json:"example" doc:"The text as the first home gets it"`
	Without []string `json:"without" doc:"Students whose homes have no number for texts"`
	Tried   int      `json:"tried" doc:"How many of the homes were called or written to today"`
}

// PreviewTexts says what a text to the homes of students would be, and whom it can't reach.
func PreviewTexts(ctx context.Context, o *work.Office, p work.Person, t home.HomeText) (TextPreview, error) {
	out := TextPreview{Without: []string{}}
	err := o.Look(ctx, work.Job{By: p, Needs: work.MayReadTexts, In: t}, func(v work.Snapshot) error {
		x, err := v.Day(ctx, v.Now.Date())
		if err != nil {
			return err
		}
		plan, words, err := home.PlanTexts(v, x, t, work.Moment{Date: x.Date, Minute: v.Now.Minute(), Known: v.Now, Live: true})
		if err != nil {
			return err
		}
		out.Text = words
		for _, one := range plan {
			if one.Number == "" {
				out.Without = append(out.Without, v.School.Names(one.Students))
				continue
			}
			if out.Homes++; out.Homes == 1 {
				out.To, out.Example = v.School.ContactOf(one.Contact).Name()+", "+one.Number, one.Text
			}
			if one.Tried {
				out.Tried++
			}
		}
		return nil
	})
	return out, err
}
