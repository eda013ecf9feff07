package display

import (
	"bytes"
	"strings"

	"golang.org/x/text/encoding"
	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/japanese"
	"golang.org/x/text/encoding/korean"
	"golang.org/x/text/encoding/simplifiedchinese"
)

// charset is a set of letters that a COMPOUND_TEXT switches to, by the bytes after ESC.
// Of the sets of 96 letters the upper half is used, of the others the lower one.
type charset struct {
	escape string
	from   encoding.Encoding // nil for ASCII
	upper  bool              // it is for bytes with the high bit
	wide   bool              // two bytes a letter
}

var charsets = []charset{
	{"(B", nil, false, false}, {"(J", nil, false, false}, {")I", japanese.ShiftJIS, true, false},
	{"-A", charmap.ISO8859_1, true, false}, {"-B", charmap.ISO8859_2, true, false}, {"-C", charmap.ISO8859_3, true, false}, {"-D", charmap.ISO8859_4, true, false},
	{"-L", charmap.ISO8859_5, true, false}, {"-G", charmap.ISO8859_6, true, false}, {"-F", charmap.ISO8859_7, true, false}, {"-H", charmap.ISO8859_8, true, false},
	{"-M", charmap.ISO8859_9, true, false},
	{"$(A", simplifiedchinese.GBK, false, true}, {"$)A", simplifiedchinese.GBK, true, true}, {"$(B", japanese.EUCJP, false, true}, {"$)B", japanese.EUCJP, true, true},
	{"$(C", korean.EUCKR, false, true}, {"$)C", korean.EUCKR, true, true},
}

// CompoundText reads the encoding COMPOUND_TEXT (X Consortium standard of that name,
// version 1.1) as far as its sets are known; of others each byte is a sign of one that
// is not. UTF-8 between ESC % G and ESC % @ is read too.
func CompoundText(data []byte) string {
	var b strings.Builder
	lower, upper := charset{}, charsets[3]
	for len(data) > 0 {
		if data[0] == 0x1b {
			rest := data[1:]
			if text, after, ok := utf8Segment(rest); ok {
				b.WriteString(strings.ToValidUTF8(text, "\ufffd"))
				data = after
				continue
			}
			set, n := escaped(rest)
			if set != nil && set.upper {
				upper = *set
			} else if set != nil {
				lower = *set
			}
			data = rest[n:]
			continue
		}
		set := lower
		if data[0] >= 0x80 {
			set = upper
		}
		// All bytes of one set that stand together.
		n := 1
		for n < len(data) && data[n] != 0x1b && data[n]&0x80 == data[0]&0x80 {
			n++
		}
		b.WriteString(set.decode(data[:n]))
		data = data[n:]
	}
	return b.String()
}

// decode reads bytes of the set.
func (s charset) decode(data []byte) string {
	if s.from == nil {
		return string(data)
	}
	data = bytes.Clone(data)
	for i, c := range data {
		if s.wide && c > 0x20 {
			data[i] = c | 0x80
		}
	}
	text, err := s.from.NewDecoder().Bytes(data)
	if err != nil {
		return strings.Repeat("\ufffd", len(data))
	}
	return string(text)
}

// utf8Segment is the text of a segment in UTF-8 that begins here, and what comes after.
func utf8Segment(data []byte) (text string, after []byte, ok bool) {
	if !bytes.HasPrefix(data, []byte("%G")) {
		return "", nil, false
	}
	segment, after, _ := bytes.Cut(data[2:], []byte("\x1b%@"))
	return string(segment), after, true
}

// escaped finds the set of an escape sequence, and the length of that; nil for one
// that is not known.
func escaped(data []byte) (*charset, int) {
	for i := range charsets {
		if bytes.HasPrefix(data, []byte(charsets[i].escape)) {
			return &charsets[i], len(charsets[i].escape)
		}
	}
	n := 0
	for n < len(data) && data[n] >= 0x20 && data[n] <= 0x2f {
		n++
	}
	return nil, min(n+1, len(data))
}
