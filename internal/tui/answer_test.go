package tui

import (
	"context"
	"strings"
	"testing"
	"time"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/keeper"
)

// silent is a keeper that does not answer any more.
type silent struct{ keeper.Access }

func (silent) Do(ctx context.Context, _ desk.Command, _ keeper.Source) (keeper.Outcome, error) {
	<-ctx.Done()
	return keeper.Outcome{}, ctx.Err()
}

func (silent) Ping(ctx context.Context) error { <-ctx.Done(); return ctx.Err() }

// quits tells whether a command ends the screens.
func quits(cmd tea.Cmd) bool {
	if cmd == nil {
		return false
	}
	switch msg := cmd().(type) {
	case tea.QuitMsg:
		return true
	case tea.BatchMsg:
		for _, c := range msg {
			if quits(c) {
				return true
			}
		}
	}
	return false
}

// Of a keeper that does not answer it is told, and what leaves the screens works: also where
// it was typed first of all before that was known.
func TestNoAnswer(t *testing.T) {
	for _, c := range []struct {
		before, after string // keys, typed before it is known that nobody answers and then
		quits         bool
	}{
		{"", "q", true}, {"q", "", true}, {"jjq", "", false}, {"", "jjq", true}, {"/q", "", false}, {"", "xjn", false}, {"\x03", "", false}, {"", "\x03", true}, {"\x1bq", "", true}, {"", "\x1bq", true},
	} {
		b := newBench(t, desk.Settings{})
		b.k = silent{b.k}
		b.busy, b.pulse.asked = true, time.Now().Add(-2*time.Second)
		got := false
		press := func(keys string) {
			for _, r := range keys {
				k := tea.KeyPressMsg{Code: r, Text: string(r)}
				switch r {
				case 3:
					k = tea.KeyPressMsg{Code: 'c', Mod: tea.ModCtrl}
				case 27:
					k = tea.KeyPressMsg{Code: tea.KeyEscape}
				}
				got = quits(b.pressed(k)) || got
			}
		}
		press(c.before)
		b.opt.Simulated = true
		got = quits(b.askPulse()) || got
		if !strings.Contains(b.whole("of no answer"), "No answer for 2 s: this is how the desk was seen last.") || !strings.Contains(b.whole("of no answer"), "last seen") {
			t.Errorf("it shows\n%s", b.whole("of no answer"))
		}
		press(c.after)
		if got != c.quits {
			t.Errorf("%q and then %q: ends them %t", c.before, c.after, got)
		}
		if len(b.ahead) > 0 {
			t.Errorf("%q and then %q: %d keys wait", c.before, c.after, len(b.ahead))
		}
		b.model.Update(answeredMsg{})
		if !strings.Contains(b.whole("of no answer"), "There is an answer again.") || strings.Contains(b.whole("of no answer"), "last seen") {
			t.Errorf("then it shows\n%s", b.whole("of no answer"))
		}
	}
}

// Screens that rest ask the keeper seldom, and draw nothing for it.
func TestPulseRests(t *testing.T) {
	b := newBench(t, desk.Settings{})
	b.opt.Simulated = false
	b.View()
	for _, c := range []struct {
		used time.Duration // ago
		rest bool
	}{{time.Second, false}, {restsAfter + time.Second, true}} {
		b.pulse.used = time.Now().Add(-c.used)
		b.askPulse()
		asked := b.pulse.beat
		b.model.Update(answeredMsg{})
		if b.pulse.beat == asked {
			t.Error("after an answer the next question waits as long as for one")
		}
		if cmd := b.follow(pulseMsg(asked)); cmd != nil {
			t.Error("it is asked at the time that was for looking whether there is an answer")
		}
		if got := b.pulse.wait(); got != map[bool]time.Duration{false: pulseUsed, true: pulseRests}[c.rest] {
			t.Errorf("used %v ago, it is asked again after %v", c.used, got)
		}
		if b.stale {
			t.Error("an answer has the screens be drawn anew")
		}
	}
}
