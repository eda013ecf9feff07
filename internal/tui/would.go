package tui

import (
	"context"
	"fmt"
	"regexp"
	"strings"
	"sync"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
)

// would is what the pending command would lead to. The keeper says it: unlike a screen's copy of
// the desk, it knows the history and the settings. One question is under way at a time; of
// commands that come meanwhile the last is asked about.
type would struct {
	of     string // the command and the snapshot that the answer is about
	desk   *desk.Desk
	words  string
	err    error
	asking string // what is under way, empty for nothing
}

type wouldMsg struct {
	of      string
	outcome keeper.Outcome
	err     error
}

// pending is the command that Enter, or letting go of a window, would carry out.
func (m *model) pending() (desk.Command, bool) {
	if p, ok := m.top().(pending); ok {
		c, ok := p.pending(m)
		return c, ok && !m.windowless(c)
	}
	return desk.Command{}, false
}

// look asks what the pending command would lead to, where that is not known.
func (m *model) look() tea.Cmd {
	c, ok := m.pending()
	if !ok || m.d == nil || m.gone {
		return nil
	}
	of := m.question(c)
	if of == m.would.of || m.would.asking != "" {
		return nil
	}
	m.would.asking = of
	return func() tea.Msg {
		o, err := m.k.Try(m.ctx, c)
		return wouldMsg{of, o, err}
	}
}

// question names a command tried on the present snapshot.
func (m *model) question(c desk.Command) string { return fmt.Sprintf("%d %s", m.serial, lang.Print(c)) }

// gotWould takes an answer.
func (m *model) gotWould(msg wouldMsg) {
	m.would = would{of: msg.of, desk: msg.outcome.Desk, words: msg.outcome.Result.Words, err: msg.outcome.Err}
	if msg.err != nil && m.ctx.Err() != context.Canceled {
		m.would.err = msg.err
	}
	if m.would.desk != nil {
		m.would.desk = m.would.desk.WithOwn(m.own)
	}
	// What cannot be done is not asked about.
	if p, asks := m.top().(*askPrompt); asks && m.would.err != nil && m.would.of == m.question(p.command) {
		m.pop()
		m.say(keeper.Sentence(m.would.err), true)
	}
}

// preview is the desk as the pending command would leave it; nil where that is not
// known yet, or it would fail.
func (m *model) preview() *desk.Desk {
	if c, ok := m.pending(); ok && m.would.of == m.question(c) && m.would.err == nil {
		return m.would.desk
	}
	return nil
}

// previewWords say what the pending command would do.
func (m *model) previewWords() string {
	c, ok := m.pending()
	if _, asks := m.top().(*askPrompt); !ok || asks || m.would.of != m.question(c) {
		return ""
	}
	if m.would.err != nil {
		return "Not possible: " + keeper.Sentence(m.would.err)
	}
	if strings.HasSuffix(m.would.words, "already.") {
		return m.would.words
	}
	if m.grip != 0 {
		return willDo(m.would.words) + " · Release does it, Escape cancels"
	}
	return willDo(m.would.words) + " · Enter does it"
}

// present are the words with which results begin, as a preview says them.
var present = map[string]string{
	"Added": "Adds", "Asked": "Asks", "Brought": "Brings", "Carried": "Carries", "Did": "Does", "Dissolved": "Dissolves", "Ended": "Ends",
	"Grouped": "Groups", "Laid": "Lays", "Lowered": "Lowers", "Minimised": "Minimises", "Moved": "Moves", "Put": "Puts", "Raised": "Raises",
	"Removed": "Removes", "Restored": "Restores", "Saved": "Saves", "Sent": "Sends", "Snapped": "Snaps", "Started": "Starts", "Tiled": "Tiles",
	"Turned": "Turns", "Undid": "Undoes",
}

// later are the other words of results that a preview says otherwise.
var later = strings.NewReplacer(" windows moved", " windows move", " window moved", " window moves", " windows went to", " windows go to",
	" window went to", " window goes to", " windows came home", " windows come home", " window came home", " window comes home")

// willDo is what a command did as what it will do: "Sent Tin Radio to 3." is "Sends Tin Radio
// to 3".
func willDo(words string) string {
	words = later.Replace(strings.TrimSuffix(words, "."))
	if end := strings.IndexAny(words, " :"); end > 0 {
		if now, ok := present[words[:end]]; ok {
			words = now + words[end:]
		}
	}
	if m := unplugged().FindStringSubmatch(words); m != nil {
		words = "Unplugs monitor " + m[1] + m[2]
	}
	return words
}

var unplugged = sync.OnceValue(func() *regexp.Regexp { return regexp.MustCompile(`^Monitor ([A-Z]) was unplugged(.*)$`) })
