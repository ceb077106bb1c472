package work

import (
	"meldung/files/assess"
	"meldung/files/policyfile"
	"meldung/files/table"
)

// ExportAssess returns the school's year as the files that are measured by
// "meldung assess", and the shipped policies with the school's own codes. Measured
// by them, the files give the figures of the Absence page.
func (o *Office) ExportAssess() (table.Files, error) {
	var files table.Files
	err := o.look(func(v view) error {
		if v.o.ledger == nil {
			return notFound("there is no calendar yet: import a timetable first")
		}
		_, last := v.school.Calendar.Span()
		var people []assess.Person
		for _, s := range v.school.Students { // in the order of the ledger
			people = append(people, assess.Person{Family: s.Family, Given: s.Given, Year: s.Year, Form: v.school.Form(s.ID, last)})
		}
		files = assess.Write(v.o.ledger, people)
		for _, id := range policyfile.Policies() {
			text, err := policyfile.TextWithCodes(id, v.settings.Codes)
			if err != nil {
				return err
			}
			files["policy-"+id+".yaml"] = text
		}
		return nil
	})
	return files, err
}
