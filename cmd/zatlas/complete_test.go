package main

import (
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"zatlas/internal/apps"
	"zatlas/internal/testkit"
)

func TestShellWords(t *testing.T) {
	t.Parallel()
	for _, c := range []struct {
		line  string
		words []string
		begun apps.Begun
	}{
		{"", nil, apps.Begun{}},
		{"zatlas do ", []string{"zatlas", "do"}, apps.Begun{}},
		{`zatlas do "send 3" 'go "Box`, []string{"zatlas", "do", "send 3"}, apps.Begun{Text: `go "Box`, Quote: '\''}},
		{`zatlas do "go \"Box \x`, []string{"zatlas", "do"}, apps.Begun{Text: `go "Box \x`, Quote: '"'}},
		{`zatlas do send\ 3`, []string{"zatlas", "do"}, apps.Begun{Text: "send 3", Quote: 0}},
		{`zatlas do ""`, []string{"zatlas", "do"}, apps.Begun{}},
		{`zatlas do "" x`, []string{"zatlas", "do", ""}, apps.Begun{Text: "x", Quote: 0}},
		{`zatlas a\`, []string{"zatlas"}, apps.Begun{Text: `a\`, Quote: 0}},
	} {
		words, begun := apps.Parted(c.line)
		if !slices.Equal(words, c.words) || begun != c.begun {
			t.Errorf("%s is %q and %q", c.line, words, begun)
		}
	}
	for _, c := range []struct {
		begun apps.Begun
		of    []string
		want  []string
	}{
		{apps.Begun{Text: "la", Quote: 0}, []string{"layout tree", "layout rows"}, []string{"'layout tree", "'layout rows"}},
		{apps.Begun{Text: "ju", Quote: 0}, []string{"jump r"}, []string{"'jump r'"}},
		{apps.Begun{Text: "is:s", Quote: 0}, []string{"is:stray", "is:sticky"}, []string{"stray", "sticky"}},
		{apps.Begun{Text: "app:re", Quote: 0}, []string{`app:"Reel Ledger"`}, []string{`'"Reel Ledger"'`}},
		{apps.Begun{Text: "x", Quote: '"'}, []string{`go "a$b"`}, []string{`go \"a\$b\""`}},
		{apps.Begun{Text: "x", Quote: '\''}, []string{"go \"it's\""}, []string{`go "it'\''s"`}},
	} {
		if got := replacements(c.begun, c.of); !slices.Equal(got, c.want) {
			t.Errorf("of %q %q become %q, want %q", c.begun.Text, c.of, got, c.want)
		}
	}
}

// Tab in real shells goes on with commands, targets, queries, flags and their values, in
// quotes of both kinds and without.
func TestShells(t *testing.T) {
	t.Parallel()
	s, _ := sixWindows(t)
	bin := testkit.Binary(t)
	s.Do(t, "rename 1 Programme", `add "Box office"`, "pin x of #1", `plate save "Hall day"`)
	home := t.TempDir()
	folder := filepath.Join(home, "bin")
	if err := os.Mkdir(folder, 0o700); err != nil {
		t.Fatal(err)
	}
	if err := os.Symlink(bin, filepath.Join(folder, "zatlas")); err != nil {
		t.Fatal(err)
	}
	type typed struct{ line, becomes string }
	common := []typed{
		{`zatlas wat`, "zatlas watch"},
		{`zatlas keys --wa`, "zatlas keys --watch"},
		{`zatlas demo --theme d`, "zatlas demo --theme day"},
		{`zatlas survey --period we`, "zatlas survey --period week"},
		{`zatlas draw at`, "zatlas draw atlas"},
		{`zatlas list is:stra`, "zatlas list is:stray"},
		{`zatlas do "layout ro`, `zatlas do "layout rows`},
		{`zatlas do 'plate lay "Hall`, `zatlas do 'plate lay "Hall day"`},
		{`zatlas do 'send "Bo`, `zatlas do 'send "Box office"`},
		{`zatlas do 'jump `, `zatlas do 'jump x`},
		{`zatlas do 'close of app:XC`, `zatlas do 'close of app:XClock`},
		{`zatlas do 'close of title:lo`, `zatlas do 'close of title:logo`},
		{`zatlas do 'close of is:mini`, `zatlas do 'close of is:minimised`},
		{`zatlas completion zs`, "zatlas completion zsh"},
	}
	for _, shell := range []struct {
		name, start string
		own         []typed
		command     []string
	}{
		{"bash", `. <(zatlas completion bash)`, []typed{
			{`zatlas do lay`, `zatlas do 'layout`}, {`zatlas do "send Bo`, `zatlas do "send \"Box office\"`}, {`zatlas list app:XCl`, `zatlas list app:XClock`},
		}, []string{"bash", "--norc", "--noprofile", "-i"}},
		{"zsh", `autoload -U compinit; compinit -u -D; . <(zatlas completion zsh)`, []typed{
			{`zatlas do lay`, `zatlas do layout\`}, {`zatlas do "send Bo`, `zatlas do "send \"Box office\"`},
		}, []string{"zsh", "-f", "-i"}},
		{"fish", `set -g fish_autosuggestion_enabled 0; zatlas completion fish | source`, []typed{
			{`zatlas do lay`, `zatlas do layout\`},
		}, []string{"fish", "--no-config", "-i"}},
	} {
		t.Run(shell.name, func(t *testing.T) {
			env := append(slices.Clone(s.Env), "HOME="+home, "PATH="+folder+":"+os.Getenv("PATH"), "PS1=> ", "XDG_DATA_HOME="+home)
			term := testkit.NewTerminal(t, 150, 40, env, shell.command...)
			term.Type(shell.start + "; echo started | tr a-z A-Z").Keys("Enter").Wait("STARTED")
			for _, c := range slices.Concat(common, shell.own) {
				term.Keys("C-l").Type(c.line).Wait(strings.TrimSpace(c.line))
				term.Keys("Tab").Wait(c.becomes)
				term.Keys("C-u")
			}
		})
	}
}
