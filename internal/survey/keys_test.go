package survey

import (
	"reflect"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/testkit/desks"
)

// What takes more keys than it needs to is told with a free chord that rhymes, the most
// first, each chord once.
func TestAdviseKeys(t *testing.T) {
	d := desks.Demo(t)
	k := Keyboard{Atlas: "Super", Chords: map[string]string{
		"Super+S": "send", "Super+Shift+S": "stick", "Super+G": "go", "Super+Space": "atlas", "Super+1": "go 1", "hold Super+B": "bare", "Super+Z e": "even all", "Super+Shift+B": "focus back", "Super+Ctrl+B 3": "go 3", "Super+Ctrl+W": "share +5",
	}}
	tally := func(form string, n int) Tally { return Tally{Kind: Form, Name: form, N: n} }
	got := adviseKeys([]Tally{
		tally("send next", 10), tally("go 1", 500), tally("send next", 90), tally("even all", 30), tally("send B2", 40), tally("turn", 25), tally("focus back", 99), tally("gaps off", 3), tally("share 5", 800),
		{Kind: Done, Name: "send next", N: 1000},
	}, k, d)
	want := []ByKeys{
		{"send next", 100, 2, "Super+N", 100}, {"send B2", 40, 3, "Super+Ctrl+S", 80}, {"even all", 30, 2, "Super+A", 30},
	}
	if !reflect.DeepEqual(got, want) {
		t.Errorf("it advises\n%+v\nand not\n%+v", got, want)
	}
}

// The chords to learn are those whose commands are done most without them.
func TestToLearn(t *testing.T) {
	k := Keyboard{Chords: map[string]string{"Super+S": "send", "Super+1": "go 1", "Super+F": "float", "Super+U": "undo", "Super+Z e": "even all"}}
	got := k.ToLearn([]Tally{
		{Kind: Done, Name: Pair("send", "key"), N: 30}, {Kind: Done, Name: Pair("send", "chord"), N: 10}, {Kind: Form, Name: "go 1", N: 80},
		{Kind: Done, Name: Pair("go", "chord"), N: 50}, {Kind: Done, Name: Pair("go", "pointer"), N: 50}, {Kind: Done, Name: Pair("float", "chord"), N: 9},
	})
	want := []ToLearn{{"Super+1", "go 1", 80, 40}, {"Super+S", "send", 40, 10}}
	if !reflect.DeepEqual(got, want) {
		t.Errorf("to learn are\n%+v\nand not\n%+v", got, want)
	}
}

// Of a command only what is not of the desk is counted by its form.
func TestFormOf(t *testing.T) {
	for line, want := range map[string]string{
		"send next of title:Rota": "send next", "go 3": "go 3", "carry B2": "carry B2", "share +5": "share 5", `rename "Late night"`: "", "focus #11": "", `open "Tin Radio"`: "", "run ls": "", "snap left third": "snap left third", "reorder as 2,1": "",
	} {
		c := desks.Command(t, line)
		if got := FormOf(c); got != want {
			t.Errorf("%s is counted as %q, want %q", line, got, want)
		}
	}
	if got := FormOf(desk.Command{}); got != "" {
		t.Errorf("no command is counted as %q", got)
	}
}
