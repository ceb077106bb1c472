package work

import "fmt"

// ErrorKind says what sort of mistake an Error is.
type ErrorKind uint8

// The kinds of mistake.
const (
	Wrong    ErrorKind = iota // what was asked makes no sense
	NotFound                  // it names something that is not there
	Refused                   // it may not be done, by this person or now
	Conflict                  // somebody else did it, or something else, before
	Busy                      // too many ask at once: it can be tried again
)

// Error is a mistake that the person who made it can understand and put right.
type Error struct {
	Kind    ErrorKind
	Message string
}

func (e *Error) Error() string { return e.Message }

// Wrongf returns the error of something that makes no sense.
func Wrongf(format string, args ...any) error { return &Error{Wrong, fmt.Sprintf(format, args...)} }

// NotFoundf returns the error of something that is not there.
func NotFoundf(format string, args ...any) error {
	return &Error{NotFound, fmt.Sprintf(format, args...)}
}

// Refusedf returns the error of something that may not be done.
func Refusedf(format string, args ...any) error {
	return &Error{Refused, fmt.Sprintf(format, args...)}
}

// Busyf returns the error of something for which too many ask at once.
func Busyf(format string, args ...any) error { return &Error{Busy, fmt.Sprintf(format, args...)} }

// Conflictf returns the error of something that was done before, or otherwise.
func Conflictf(format string, args ...any) error {
	return &Error{Conflict, fmt.Sprintf(format, args...)}
}
