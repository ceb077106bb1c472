package coursework

import (
	"context"
	"slices"

	"meldung/core/ids"
	"meldung/core/results"
	"meldung/store"
	"meldung/work"
)

// GradeCorrection is a grade as it is put right.
type GradeCorrection struct {
	Student ids.Student `json:"student"`
	Course  int         `json:"course" doc:"Its place in the book"`
	Period  string      `json:"period" maxLength:"100" doc:"A grading period of the half-year"`
	Part    int         `json:"part" minimum:"0" maximum:"2" doc:"0 and 1 are the quarters of that half-year, 2 its examination"`
	Grade   string      `json:"grade" maxLength:"20" doc:"Of the scale, a mark of who has withdrawn, or empty for none yet"`
	Seen    string      `json:"seen" maxLength:"20" doc:"The grade that is put right; where it is another by now, nothing is saved"`
}

// SetGrade puts a grade right. What it was stays on record with its date.
func SetGrade(ctx context.Context, o *work.Office, p work.Person, key string, in GradeCorrection) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySetGrade, Kind: "grade corrected", In: in, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		st, err := v.Student(in.Student)
		if err != nil {
			return err
		}
		shelf, err := read(ctx, v, tx.Now.Date())
		if err != nil {
			return err
		}
		q := slices.IndexFunc(shelf.Periods, func(x results.Period) bool { return x.Name == in.Period })
		if q < 0 || in.Course < 0 || in.Course >= len(shelf.Courses) {
			return work.NotFoundf("there is no such grading period or course; nothing was saved")
		}
		half := results.Quarter(q).Half()
		rec := shelf.Find(shelf.Place(in.Student), in.Course, half)
		if rec == nil {
			return work.NotFoundf("%s does not take that course in %s; nothing was saved", st.Name(), shelf.Periods[q].Half)
		}
		row, was := rowOf(shelf, rec, in)
		mark, err := shelf.Rule.Read(in.Grade)
		exam := in.Part == int(results.Examination)
		switch {
		case err != nil:
			return work.Wrongf("%v; nothing was saved", err)
		case exam && (!shelf.Courses[in.Course].HasExam() || mark.Withdrawn):
			return work.Wrongf("the course has no examination that could have that; nothing was saved")
		case was != in.Seen:
			return work.Conflictf("it is %q by now; nothing was saved. Look at it as it is now", was)
		case was == in.Grade:
			return work.Wrongf("it is %q already; nothing was saved", was)
		}
		row.StudentID, row.CourseID, row.Value, row.Date, row.Journal = in.Student, shelf.Graded[in.Course].ID, in.Grade, tx.Now.Date(), tx.Entry
		if err := store.AddResults(ctx, tx.Tx, []store.Result{row}, []store.ResultKey{row.Key()}, tx.Entry); err != nil {
			return err
		}
		out = tx.Receipt(st.Name() + ", " + shelf.Courses[in.Course].Title + ", " + row.Period + ": " + work.Join(", ", in.Grade) + " saved")
		return nil
	})
	return out, err
}

// rowOf is what is kept of a part of a half-year, and the grade that it has.
func rowOf(shelf *Shelf, rec *results.Record, in GradeCorrection) (row store.Result, was string) {
	if in.Part == int(results.Examination) {
		return store.Result{Kind: store.ExamResult, Period: shelf.Periods[rec.Half.Quarter(0)].Half}, rec.Exam.Written
	}
	row = store.Result{Kind: store.GradeResult, Period: shelf.Periods[rec.Half.Quarter(in.Part)].Name, Class: rec.Class[in.Part]}
	return row, rec.Quarters[in.Part].Written
}
