package remote

import (
	"bufio"
	"errors"
	"slices"
	"strings"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/keeper"
)

func TestParsePlace(t *testing.T) {
	for text, want := range map[string]Place{
		"annexe":           {"annexe", ":0"},
		"annexe:1":         {"annexe", ":1"},
		"annexe:1.0":       {"annexe", ":1.0"},
		"desk@annexe":      {"desk@annexe", ":0"},
		"a.b-c@10.0.0.7:2": {"a.b-c@10.0.0.7", ":2"},
	} {
		if got, err := ParsePlace(text); err != nil || got != want {
			t.Errorf("%q is %+v, %v", text, got, err)
		}
	}
	for _, text := range []string{"", ":0", "-oProxyCommand=x", "-l@annexe", "desk@-annexe", "a b", "annexe;ls", "$(ls)", "annexe:", "annexe:x", "annexe:0;ls", "annexe:0.0.0", "annexe:-1", "a\x1b[31m:0", "a@b@c:0", "annexe:0\n"} {
		if got, err := ParsePlace(text); err == nil || strings.Contains(err.Error(), "\x1b") {
			t.Errorf("%q is %+v, %v", text, got, err)
		}
	}
	p, _ := ParsePlace("desk@annexe:1")
	if want := []string{"ssh", "-o", "BatchMode=yes", "--", "desk@annexe", "zatlas", "relay", ":1"}; !slices.Equal(p.command(), want) {
		t.Errorf("it is reached by %q", p.command())
	}
}

const letters = "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ"

// Whatever is written as a place, what ssh is given begins with no dash and holds no word
// of a shell.
func FuzzParsePlace(f *testing.F) {
	f.Add("desk@annexe:1")
	f.Add("-oProxyCommand=x:0")
	f.Fuzz(func(t *testing.T, text string) {
		p, err := ParsePlace(text)
		if err == nil && (strings.HasPrefix(p.Host, "-") || strings.Trim(p.Host, letters+"0123456789._@-") != "" || strings.Trim(p.Display, "0123456789.:") != "") {
			t.Errorf("%q is %+v", text, p)
		}
	})
}

func TestLastWords(t *testing.T) {
	l := &lastWords{}
	gone := errors.New("gone")
	if err := l.because(gone); err != gone {
		t.Errorf("of nothing said it is %v", err)
	}
	l.Write([]byte(strings.Repeat("x", 3*maxWords)))
	l.Write([]byte("\nzatlas: no keeper \x1b[31mruns.\n"))
	if err := l.because(gone); err.Error() != "no keeper runs" || len(l.text) > maxWords {
		t.Errorf("it is %q, of %d bytes", err, len(l.text))
	}
}

func TestReadLine(t *testing.T) {
	r := bufio.NewReaderSize(strings.NewReader("short\n"+strings.Repeat("y", 5000)+"\nrest"), 16)
	if line, err := readLine(r, 100); err != nil || line != "short\n" {
		t.Errorf("%q, %v", line, err)
	}
	if line, err := readLine(r, 100); !errors.Is(err, errLong) {
		t.Errorf("of a line that is too long %d bytes are read, %v", len(line), err)
	}
}

func TestNotAfar(t *testing.T) {
	a := &Afar{place: Place{"annexe", ":0"}}
	for verb := range notAfar {
		if _, ok := desk.FindVerb(verb); !ok {
			t.Errorf("there is no verb %s", verb)
		}
		o, err := a.Do(t.Context(), desk.Command{Verb: verb}, keeper.Line)
		if keeper.CodeOf(o.Err) != keeper.NotHere || err != nil {
			t.Errorf("%s: %v, %v", verb, o.Err, err)
		}
	}
}
