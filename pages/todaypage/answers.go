package todaypage

import (
	"meldung/core/followup"
	"meldung/core/ids"
	"meldung/pages"
	"meldung/work"
)

// AnswerView is what a home answered to a text, until it is dealt with.
type AnswerView struct {
	Message  ids.Message        `json:"message"`
	At       string             `json:"at"`
	Contact  string             `json:"contact"`
	Phone    string             `json:"phone"`
	Text     string             `json:"text"`
	Students []pages.StudentRef `json:"students"`
	Reason   string             `json:"reason" doc:"The reason that stands in it; empty for none"`
	Until    string             `json:"until" doc:"The time that stands in it"`
}

// answers lists what homes have answered and nobody has dealt with, oldest first.
func answers(v work.Snapshot, x *work.Day, m work.Moment) []AnswerView {
	out := []AnswerView{}
	for _, msg := range x.Messages {
		if msg.Kind != work.ToHome || msg.ContactID == nil || msg.Known > m.Known || x.DealtWith(msg.ID, m.Known) {
			continue
		}
		reply, ok := x.ReplyTo(msg.ID, m.Known)
		if !ok {
			continue
		}
		var words []string
		if len(msg.Students) == 0 {
			continue
		}
		for _, r := range v.Of(msg.Students[0]).Settings.Offered() {
			if r.Home {
				words = append(words, r.Word)
			}
		}
		read := followup.ReadReply(reply.Text, words)
		row := AnswerView{Message: msg.ID, At: reply.Minute.String(), Contact: v.School.ContactOf(*msg.ContactID).Name(), Phone: msg.Address, Text: reply.Text, Reason: read.Reason, Until: read.By.String()}
		for _, id := range msg.Students {
			row.Students = append(row.Students, pages.Student(v, v.School.StudentOf(id), m.Date))
		}
		out = append(out, row)
	}
	return out
}
