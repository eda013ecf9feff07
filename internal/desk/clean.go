package desk

import (
	"strings"
	"unicode"

	"golang.org/x/text/unicode/norm"
)

// The longest texts kept of what comes from outside, in letters.
const (
	MaxTitle = 512
	MaxApp   = 128
	MaxName  = 64
	MaxWords = 2000 // of what is said of a command, or of a fault
)

// CleanText makes a string from outside safe to show, write and log. The result is valid
// UTF-8 in one line of at most n letters. It has no control characters, escape sequences, bidi
// overrides or other invisible letters, and at most two marks on a letter. Its width is the
// same in every terminal.
func CleanText(s string, n int) string {
	if plain(s) && len(s) <= n {
		return s
	}
	// Nothing past this many bytes can matter, however many are invisible.
	if limit := 16*n + 64; len(s) > limit {
		s = s[:limit]
	}
	s = strings.ToValidUTF8(s, "\uFFFD")
	var b strings.Builder
	marks, escape := 0, escapeNone
	for _, r := range s {
		if escape = escape.after(r); escape != escapeNone {
			continue
		}
		switch {
		case unicode.IsSpace(r):
			r = ' '
		case unicode.In(r, unicode.Mn, unicode.Me):
			if marks++; marks > 2 || unicode.Is(unicode.Variation_Selector, r) {
				continue
			}
			b.WriteRune(r)
			continue
		case r >= 0x1F1E6 && r <= 0x1F1FF: // halves of flags, each of no certain width
			r = 'A' + (r - 0x1F1E6)
		case r >= 0x1F3FB && r <= 0x1F3FF: // skin tones, which join the one before
			continue
		case r >= 0xE000 && r <= 0xF8FF, r >= 0xF0000:
			r = unicode.ReplacementChar
		case !unicode.IsPrint(r) && r != unicode.ReplacementChar:
			continue
		}
		marks = 0
		b.WriteRune(r)
	}
	return Cut(strings.Join(strings.Fields(norm.NFC.String(b.String())), " "), n)
}

// plain tells whether a text has nothing to clean: letters of ASCII, with single spaces
// between them.
func plain(s string) bool {
	space := true
	for i := range len(s) {
		if s[i] < ' ' || s[i] > '~' || s[i] == ' ' && space {
			return false
		}
		space = s[i] == ' '
	}
	return !space || s == ""
}

// escapeState follows an escape sequence (ECMA-48), so that its parameters are
// not left behind as letters when its control character is dropped.
type escapeState uint8

const (
	escapeNone   escapeState = iota
	escapeEnd                // this letter is the last of a sequence
	escapeStart              // after ESC
	escapeCSI                // after ESC [
	escapeString             // after ESC ] and its like, to BEL or ESC \
)

func (s escapeState) after(r rune) escapeState {
	if s == escapeEnd {
		s = escapeNone
	}
	switch {
	case r == 0x1b:
		return escapeStart
	case r == 0x9b:
		return escapeCSI
	case s == escapeStart && r == '[':
		return escapeCSI
	case s == escapeStart && strings.ContainsRune("]PX^_", r), r == 0x9d, r == 0x90:
		return escapeString
	case s == escapeStart:
		return escapeEnd
	case s == escapeCSI && r >= 0x40 && r <= 0x7e, s == escapeString && r == 0x07:
		return escapeEnd
	}
	return s
}

// CleanName is a name for a workspace as it may be shown and written.
func CleanName(s string) string { return CleanText(s, MaxName) }
