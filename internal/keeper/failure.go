package keeper

import (
	"errors"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
)

// Code says what kind of failure it was, in a word that stays the same where the
// words for people may change. Scripts and screens go by it, in this process as in
// another.
type Code string

// The kinds of failure.
const (
	Done         Code = ""              // none
	Unreadable   Code = "words"         // the command cannot be read
	Refused      Code = "refused"       // it cannot be done with the desk as it is
	NotHere      Code = "not-here"      // it cannot be done by this keeper
	UnknownApp   Code = "unknown-app"   // no app is called so
	RealMonitors Code = "real-monitors" // it would move the cable of a real monitor
	NoAnswer     Code = "no-answer"     // what it needs, such as a disk, does not answer
	Inside       Code = "inside"        // it failed inside, by a mistake of ours
	Gone         Code = "gone"          // the keeper, or its display, has ended
	OtherVersion Code = "version"       // the two ends speak different protocols
)

// Failure is an error with its kind, which it keeps on its way to another process.
type Failure struct {
	Code  Code
	Words string
}

func (f *Failure) Error() string { return f.Words }

// Is tells that two failures are of one kind, so that errors.Is knows one that came
// from another process.
func (f *Failure) Is(target error) bool {
	t, ok := target.(*Failure)
	return ok && t.Code == f.Code
}

// CodeOf is the kind of an error of a command.
func CodeOf(err error) Code {
	var failure *Failure
	var inside *desk.Breakdown
	var words *lang.Error
	switch {
	case err == nil:
		return Done
	case errors.As(err, &failure):
		return failure.Code
	case errors.As(err, &inside):
		return Inside
	case errors.As(err, &words):
		return Unreadable
	}
	return Refused
}
