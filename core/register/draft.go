package register

// Draft is a mark on a register that is not sent yet, as all who have the register
// open share it. Version counts its changes; 0 is a row that nobody has touched.
type Draft struct {
	Code, Time, Note string
	Version          int
}

// same reports whether two drafts say the same of the student.
func (d Draft) same(other Draft) bool {
	return d.Code == other.Code && d.Time == other.Time && d.Note == other.Note
}

// Put returns the shared draft after someone marks a row who had seen it at the
// version seen. A mark that says what is there already changes nothing, however
// late it comes. A mark made without knowing a later one that says something else
// is in conflict with it: nothing changes, and the two have to be looked at.
func Put(current, mark Draft, seen int) (after Draft, conflict bool) {
	switch {
	case current.same(mark):
		return current, false
	case current.Version != seen:
		return current, true
	default:
		mark.Version = current.Version + 1
		return mark, false
	}
}
