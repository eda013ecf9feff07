package survey

import (
	"bufio"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"zatlas/internal/desk"
)

// header is the first row of a file of spans.
var header = []string{"start", "seconds", "number", "workspace", "monitor", "app"}

// The bounds of what a file may hold.
const (
	maxSpans   = 2_000_000
	maxSeconds = 366 * 24 * 60 * 60
	maxField   = 4096 // bytes
)

// WriteCSV writes spans as RFC 4180 has it: a header, rows that end with CR and LF,
// and starts in RFC 3339 with the zone.
func WriteCSV(w io.Writer, spans []Span) error {
	out := csv.NewWriter(w)
	out.UseCRLF = true
	out.Write(header) // an error stays until Flush
	for _, s := range spans {
		out.Write([]string{s.Start.Format(time.RFC3339), strconv.Itoa(s.Seconds), strconv.Itoa(s.Number), s.Workspace, string(rune(s.Monitor)), s.App})
	}
	out.Flush()
	return out.Error()
}

// ReadCSV reads spans, and puts them in order. Reading is strict: the error names
// the line and what is wrong there, and nothing is taken of a file that has one.
// Rows may end with LF alone, and the file may begin with a byte order mark.
func ReadCSV(r io.Reader) ([]Span, error) {
	b := bufio.NewReader(r)
	if mark, _ := b.Peek(3); string(mark) == "\ufeff" {
		b.Discard(3)
	}
	in := csv.NewReader(b)
	in.FieldsPerRecord, in.ReuseRecord = -1, true
	var d Data
	for n := 0; ; n++ {
		row, err := in.Read()
		switch {
		case err == io.EOF && n == 0:
			return nil, fmt.Errorf("line 1: the header %s is missing", strings.Join(header, ","))
		case err == io.EOF:
			d.Sort()
			return d.Spans, nil
		case err != nil:
			return nil, plain(err)
		}
		line, _ := in.FieldPos(0)
		if n == 0 {
			if !slices.Equal(row, header) {
				return nil, fmt.Errorf("line %d: the header must be %s", line, strings.Join(header, ","))
			}
			continue
		}
		s, err := readRow(row)
		if err == nil && n > maxSpans {
			err = fmt.Errorf("more than %d spans", maxSpans)
		}
		if err != nil {
			return nil, fmt.Errorf("line %d: %w", line, err)
		}
		d.Spans = append(d.Spans, s)
	}
}

// plain is an error of the CSV reader in our words.
func plain(err error) error {
	var fault *csv.ParseError
	if !errors.As(err, &fault) {
		return err
	}
	what := map[error]string{csv.ErrQuote: "a quote that is not closed, or text after one", csv.ErrBareQuote: "a quote within a field that does not begin with one"}[fault.Err]
	if what == "" {
		return fmt.Errorf("line %d: %w", fault.Line, fault.Err)
	}
	return fmt.Errorf("line %d: %s", fault.StartLine, what)
}

// readRow reads one row. Names are cleaned, as those of windows are.
func readRow(row []string) (s Span, err error) {
	if len(row) != len(header) {
		return s, fmt.Errorf("%d fields, and %d are wanted: %s", len(row), len(header), strings.Join(header, ","))
	}
	for i, field := range row {
		if len(field) > maxField || !utf8.ValidString(field) {
			return s, fmt.Errorf("%s is too long, or no UTF-8", header[i])
		}
	}
	if s.Start, err = time.Parse(time.RFC3339, row[0]); err != nil || s.Start.Year() < 1970 {
		return s, fmt.Errorf("start %q is no time such as 2026-11-27T09:30:00+01:00", row[0])
	}
	s.Start = s.Start.Truncate(time.Second)
	for _, f := range []struct {
		name, text string
		least, max int
		to         *int
	}{{"seconds", row[1], 0, maxSeconds, &s.Seconds}, {"number", row[2], 1, desk.MaxWorkspaces, &s.Number}} {
		n, err := strconv.Atoi(f.text)
		if err != nil || n < f.least || n > f.max {
			return s, fmt.Errorf("%s %q is no whole number from %d to %d", f.name, f.text, f.least, f.max)
		}
		*f.to = n
	}
	if len(row[4]) != 1 || row[4][0] < 'A' || row[4][0] > 'Z' {
		return s, fmt.Errorf("monitor %q is no letter A to Z", row[4])
	}
	s.Monitor = row[4][0]
	s.Workspace, s.App = desk.CleanName(row[3]), desk.CleanText(row[5], desk.MaxName)
	if s.App == "" {
		return s, errors.New("app is empty")
	}
	return s, nil
}
