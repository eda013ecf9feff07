package cells

import (
	"unicode/utf8"

	"golang.org/x/text/unicode/norm"
	eaw "golang.org/x/text/width"
)

// The second set of marks replaces each by a letter that every terminal has. It is for terminals
// that draw marks of ambiguous width (Unicode Standard Annex 11) two columns wide, and for
// consoles, whose fonts have few.
var plainMarks = map[rune]string{
	'─': "-", '│': "|", '┌': "+", '┐': "+", '┘': "+", '└': "+", '├': "+", '┤': "+", '┬': "+", '┴': "+", '┼': "+",
	'╭': ".", '╮': ".", '╯': "'", '╰': "'",
	'━': "=", '┃': "#", '┏': "#", '┓': "#", '┛': "#", '┗': "#",
	'═': "=", '║': "|", '╔': "*", '╗': "*", '╝': "*", '╚': "*",
	'┄': ".", '┆': ":", '╌': ".", '╎': ":",
	'█': "#", '▏': "|", '▕': "|", '▔': "-", '▁': "_", '░': ":", '▄': "=",
	'●': "*", '○': "o", '■': "#", '□': "o", '▲': "^", '▼': "v", '◆': "+", '►': ">", '√': "x", '•': "o", '·': "-",
	'←': "<", '→': ">", '↑': "^", '↓': "v", '‹': "<", '›': ">",
	'×': "x", '≈': "~", '…': ">", '—': "-", '–': "-", '‘': "'", '’': "'", '“': `"`, '”': `"`,
}

// unknownMark stands for a letter of ambiguous width that no plain one stands for.
const unknownMark = "?"

// plain is what stands for the content of a cell in the second set.
func plain(content string) string {
	r, size := utf8.DecodeRuneInString(content)
	if r < utf8.RuneSelf || size == 0 {
		return content
	}
	if mark, ok := plainMarks[r]; ok {
		return mark
	}
	if eaw.LookupRune(r).Kind() != eaw.EastAsianAmbiguous {
		return content
	}
	// A letter with an accent is left without what makes its width ambiguous.
	base, _ := utf8.DecodeRuneInString(norm.NFD.String(content[:size]))
	if base >= utf8.RuneSelf {
		return unknownMark
	}
	return string(base)
}
