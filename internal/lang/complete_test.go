package lang_test

import (
	"slices"
	"strings"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
	"zatlas/internal/testkit/desks"
)

// What a desk has is offered where it fits, whatever quotes and brackets stand before it.
func TestCompleteOnADesk(t *testing.T) {
	d := desks.Demo(t)
	d = d.WithOwn(desk.Settings{Pins: map[byte]desk.Query{'r': desk.ByApp{Text: "Reel Ledger", Whole: true}}})
	for _, c := range []struct {
		line     string
		words    string // some of them, or all of few
		extended string // what stands in place of the word begun
	}{
		{"send bo", `"Box office"`, `"Box office" `},
		{`send "Box of`, `"Box office"`, `"Box office" `},
		{`rename "Box office" `, `Programme Subtitles "Box office" Guests Press "Late night" ""`, ""},
		{"home 2 ", "A B", ""},
		{"jump ", "r", "r "},
		{"pin ", "", ""},
		{"close of app:re", `app:"Reel Ledger"`, `app:"Reel Ledger" `},
		{`close of app:="hall`, `app:="Hall Plan"`, `app:="Hall Plan" `},
		{`close of not (title:"Seats, s`, `title:"Seats, screening room"`, `title:"Seats, screening room" `},
		{"close of title:foy", "title:Foyer", "title:Foyer "},
		{"close of (is:s", "is:stray is:sticky", "is:st"},
		{"close of on:", `on:1 on:2 on:3 on:4 on:5 on:6 on:Programme on:Subtitles on:"Box office" on:Guests on:Press on:"Late night"`, "on:"},
		{`close of on:"la`, `on:"Late night"`, `on:"Late night" `},
		{"close of at:", "at:A at:B", "at:"},
		{"close of ti", "title:", "title:"},
		{"close of #6", "#61", "#61 "},
		{"close of ", "all # app: title: on: at: is: not (", ""},
		{"share ", "", ""},
		{"zz ", "", ""},
	} {
		got := lang.Complete(c.line, d)
		if !slices.Equal(got.Words, strings.Fields(c.words)) && strings.Join(got.Words, " ") != c.words {
			t.Errorf("%s: %q, want %s", c.line, got.Words, c.words)
		}
		if got.Extended() != c.extended {
			t.Errorf("%s goes on as %q, want %q", c.line, got.Extended(), c.extended)
		}
		if !strings.HasSuffix(c.line, got.Begun) {
			t.Errorf("%s: %q is begun", c.line, got.Begun)
		}
	}
	// Whatever is offered can be read, with what the grammar wants after it.
	for _, v := range desk.Verbs() {
		for _, w := range lang.Complete(v.Name+" ", d).Words {
			if got := lang.Complete(v.Name+" "+w+" ", d); len(got.All()) == 0 {
				if _, err := lang.ParseCommand(v.Name + " " + w); err != nil && lang.Whole(w) {
					t.Errorf("%s %s leads nowhere: %v", v.Name, w, err)
				}
			}
		}
	}
}
