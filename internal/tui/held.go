package tui

import (
	"fmt"
	"strings"
	"time"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
)

// held keeps a key that is held from doing again what is to be done once. Where
// the terminal tells a key that repeats, that is ignored. Elsewhere nothing tells
// a held key from one typed again but time.
type held struct {
	now  func() time.Time
	key  string    // the last one
	last time.Time // when it came last, ignored or not
}

// A key that does what cannot be undone must have been quiet for so long before it counts as
// typed again. A held key repeats first after 660 ms. Other keys that are done once repeat 25
// times a second or faster.
const (
	quietForGood = 700 * time.Millisecond
	quietForOnce = 100 * time.Millisecond
)

// ignores tells whether a key is one that is still held, and not to be followed.
func (h *held) ignores(m *model, k tea.KeyPressMsg) bool {
	name, now := k.String(), h.now()
	since, same := now.Sub(h.last), name == h.key
	h.key, h.last = name, now
	if m.asking() || m.typing() || !k.IsRepeat && !same {
		return false
	}
	once, words := m.onceOnly(k, name)
	switch {
	case !once:
		return false
	case k.IsRepeat || words != "" && since < quietForGood || since < quietForOnce:
		if words != "" {
			m.say(fmt.Sprintf("%s is still held; %s.", named(k), words), false)
		}
		return true
	}
	return false
}

// finals are the effects that nothing takes back, and what a held key did not do.
var finals = map[desk.Effect]string{
	desk.CloseWindows: "nothing more was closed", desk.KillWindows: "nothing more was ended",
	desk.EndKeeper: "nothing more was done", desk.RestartKeeper: "nothing more was done",
}

// onceOnly tells whether a key acts once here while it is held, and what it did not do again
// where that could not be undone.
func (m *model) onceOnly(k tea.KeyPressMsg, name string) (once bool, final string) {
	line, _, v := meaning(k, name)
	switch {
	case v != nil:
		return v.Repeats != desk.Held && v.Asks == desk.AskNothing, finals[v.Effect]
	case line != "":
		verb, _ := desk.FindVerb(strings.Fields(line)[0])
		return !repeats(line), finals[verb.Effect]
	}
	return false, ""
}

// burst gathers keys that come faster than anybody types, as in a paste that the
// terminal does not mark: they are typed in one go, and drawn once.
type burst struct {
	// last is when the last key had been followed and drawn: on a slow machine that may take
	// longer than the next key.
	last  time.Time
	drawn bool // it had been, too
	keys  strings.Builder
	due   bool // a flush is under way
}

type flushMsg struct{}

// Keys less than burstGap apart are a burst, which is followed burstWait later.
const (
	burstGap  = 4 * time.Millisecond
	burstWait = 12 * time.Millisecond
)

// done notes that a key was followed, or that what it did was drawn.
func (b *burst) done(drawn bool) {
	if !drawn || !b.drawn {
		b.last, b.drawn = time.Now(), drawn
	}
}

// takes tells whether a key was put aside, to be followed with others.
func (b *burst) takes(m *model, k tea.KeyPressMsg) bool {
	quick := time.Since(b.last) < burstGap
	text := k.Text
	if k.Code == tea.KeyEnter || k.Code == tea.KeyTab || text == "" || !m.typing() || m.busy || !quick && !b.due {
		return false
	}
	b.keys.WriteString(text)
	b.done(false)
	return true
}

// flushLater has the keys put aside followed, once.
func (b *burst) flushLater() tea.Cmd {
	if b.due {
		return nil
	}
	b.due = true
	return tea.Tick(burstWait, func(time.Time) tea.Msg { return flushMsg{} })
}

// flush types what was put aside.
func (b *burst) flush(m *model) tea.Cmd {
	b.due = false
	text := b.keys.String()
	b.keys.Reset()
	if text == "" || !m.typing() {
		return nil
	}
	return m.write(tea.PasteMsg{Content: text})
}
