package lang

import (
	"errors"
	"strings"
	"testing"
)

func TestNear(t *testing.T) {
	for line, want := range map[string]string{
		"snd 3":                                "send 3",
		"sned 3 of app:x":                      "send 3 of app:x",
		"Send 3":                               "send 3",
		"layuot columns":                       "layout columns",
		"layout culumns":                       "layout columns",
		"lay columns":                          "layout columns",
		"focus lft":                            "focus left",
		"minimize":                             "minimise",
		"maximise of aap:ledger":               "maximise of app:ledger",
		"send 3 of is:minimized":               "send 3 of is:minimised",
		"frobnicate":                           "",
		"x":                                    "",
		"go 3 4":                               "",
		"send 3 of size:3":                     "",
		"undo twice":                           "",
		"focus app:ledger":                     "focus of app:ledger",
		"focus left of app:ledger":             "",
		"close #11":                            "close of #11",
		"float app:ledger on:2":                "float of app:ledger on:2",
		"send 3 all":                           "send 3 of all",
		"go Box office":                        `go "Box office"`,
		"send Box office of #11":               `send "Box office" of #11`,
		"add New hall at 2":                    `add "New hall" at 2`,
		"rename 3 The grand hall":              `rename 3 "The grand hall"`,
		"go next 3":                            "",
		`go "Box" office`:                      "",
		"layout " + strings.Repeat("c", 1<<20): "",
		"":                                     "",
		"foucs next  of app:\"a\"":             "focus next of app:\"a\"",
	} {
		_, err := ParseCommand(line)
		var e *Error
		if !errors.As(err, &e) {
			t.Fatalf("%s: %v", line, err)
		}
		near, _ := e.Near()
		if near != want {
			t.Errorf("%q: %q is near, want %q; of %v", line, near, want, e.Want)
		}
		if want != "" && !strings.HasSuffix(e.Error(), "did you mean "+want+"?") {
			t.Errorf("%q: %v", line, e)
		}
		if len(e.Error()) > 400 {
			t.Errorf("%q is answered in %d letters: %v", line, len(e.Error()), e)
		}
	}
}

// A word that is no verb is answered with what does what it means.
func TestMeant(t *testing.T) {
	for word, want := range map[string]string{
		"hide": "try minimise or bare", "Delete": "try remove or close", "center": "try snap", "find": "/ finds windows on the screens", "frobnicate": "",
	} {
		if got := meant(word); !strings.HasPrefix(got, want) || (got == "") != (want == "") {
			t.Errorf("%s is answered with %q, want %q", word, got, want)
		}
	}
}
