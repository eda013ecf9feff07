package tui

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/prompt"
	"zatlas/internal/tui/cells"
)

// sizes is a screen of the sizes of all windows: what it takes to add one.
type sizes struct {
	still
	at int
}

func (s *sizes) key(m *model, k tea.KeyPressMsg, name string) tea.Cmd {
	by := map[string]int{"up": -1, "down": 1}[name]
	if by == 0 {
		return m.common(k, name)
	}
	s.at = max(0, min(s.at+by, len(m.d.Windows)-1))
	m.sel = cells.Selection{Window: m.d.Windows[s.at].ID}
	return nil
}

func (s *sizes) draw(m *model, c *cells.Canvas) *tea.Cursor {
	m.head(c)
	for i, w := range m.d.Windows {
		c.Text(2, 2+i, c.W-4, fmt.Sprintf("%d×%d  %s", w.Rect.W, w.Rect.H, w.Label()), m.opt.Theme.Style(m.opt.Theme.Paper))
	}
	return m.foot(c, m.parts())
}

func (*sizes) hints(m *model) legend {
	return legend{lead: m.subjectWords() + ":", first: m.verbHints(), second: []hint{{"up, down", "choose"}}}
}

// A screen is added by its room and a line of the list: it has its keys, the verbs'
// keys, its hints, and its place in the list of screens and on the page of keys.
func TestScreenIsAdded(t *testing.T) {
	b := newBench(t, desk.Settings{})
	b.list = append(slices.Clip(b.list), listed{prompt.Screen{Name: "sizes", After: "z", Help: "how large every window is"}, func(m *model, _ string) tea.Cmd { m.goTo(&sizes{}); return nil }})
	shows := func(key string, wants ...string) {
		b.press(key)
		for _, want := range wants {
			if text := b.whole(key); !strings.Contains(text, want) {
				t.Fatalf("after %s it shows no %q:\n%s", key, want, text)
			}
		}
	}
	shows(";", "z sizes")
	shows("z", "1152×1168  Reel Ledger · Running order", "up, down choose", "s send")
	shows("down", "#12 Screening Times:")
	shows("s", "send #12 Screening Times to", "1152×1168  Reel Ledger · Running order")
	shows("3", "Sent Screening Times · Friday to 3 Box office. u undoes.")
	b.Update(tea.WindowSizeMsg{Width: 160, Height: 200})
	shows("?", "Sizes: how large every window is")
}

// Every prompt says all that it takes, on the smallest usual terminal too, and also while
// it says what would come of what was typed.
func TestPromptsSayAll(t *testing.T) {
	for _, size := range []tea.WindowSizeMsg{{Width: 80, Height: 24}, {Width: 160, Height: 40}} {
		for _, keys := range []string{"s", "s B", "c", "c B", "t", "p", "w", "t t d", "N", ";", "&", "P", "g", "X", "v", "V", "@", "a", "e", "r"} {
			b := newBench(t, desk.Settings{})
			b.give(size)
			for _, key := range strings.Fields(keys) {
				b.press(key)
			}
			if !b.asking() {
				t.Fatalf("%s asks nothing", keys)
			}
			l := b.top().hints(b.model)
			text := strings.Join(strings.Fields(b.whole(keys)), " ")
			for _, h := range append(slices.Clip(l.first), l.second...) {
				if words := strings.Join(strings.Fields(h.key+" "+h.does), " "); !strings.Contains(text, words) {
					t.Errorf("%d×%d, after %s: %q is not said:\n%s", size.Width, size.Height, keys, words, b.whole(keys))
				}
			}
		}
	}
}

// On a small screen too the chosen setting is explained at the foot, beside what is said.
func TestSettingsHelpOnASmallScreen(t *testing.T) {
	b := newBench(t, desk.Settings{})
	b.Update(tea.WindowSizeMsg{Width: 80, Height: 24})
	for _, key := range []string{";", "e", "down", "down", "down", "down"} {
		b.press(key)
	}
	const help = `"spanning": one workspace covers all monitors.`
	if screen := b.whole("down"); !strings.Contains(screen, help) {
		t.Errorf("the help is cut off:\n%s", screen)
	}
	b.press("right")
	b.catchUp()
	if screen := b.whole("right"); !strings.Contains(screen, "desk.mode is separate now.") || !strings.Contains(screen, help) {
		t.Errorf("what was done is not said:\n%s", screen)
	}
}
