package tui

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/host/sim"
	"zatlas/internal/keeper"

	"github.com/charmbracelet/x/ansi"

	"zatlas/internal/testkit/desks"
	"zatlas/internal/tui/cells"
)

var words = strings.Fields(`ticket hall plan poster rota guest press list reel ledger radio late lamp coat check seat foyer
	stage choir brass trail cutter print traffic arrival depart train hotel room menu supper draft final notes budget order
	index cover letter review sound light dimmer queue desk store ladder rope curtain usher badge stamp crate label proof panel
	galley ink folio quarto margin seam gusset valve piston gear rudder keel mast galley tide harbour pilot beacon ferry quay`)

// crowded is a desk of n windows of 40 apps on six workspaces.
func crowded(t testing.TB, n int, seed uint64) *desk.Desk {
	t.Helper()
	r := rand.New(rand.NewPCG(seed, 3))
	name := func(k int) string {
		var ws []string
		for range k {
			ws = append(ws, words[r.IntN(len(words))])
		}
		s := strings.Join(ws, " ")
		return strings.ToUpper(s[:1]) + s[1:]
	}
	apps := make([]string, 40)
	for i := range apps {
		apps[i] = name(2)
	}
	d := desks.Demo(t)
	for _, w := range d.Windows {
		d, _ = d.With(desk.Closed{ID: w.ID, Quiet: true})
	}
	var facts []desk.Fact
	for i := range n {
		facts = append(facts, desk.Opened{Keep: true, Window: desk.Window{
			ID: i + 1, App: apps[r.IntN(len(apps))], Title: name(3), Workspace: d.Workspaces[r.IntN(6)].ID, Rect: geom.R(10*(i%90), 5*(i%90), 640, 480), Floating: true}})
	}
	d, _ = d.With(facts...)
	return d
}

// Of 500 windows in 40 apps any one is reached in at most six keys in the
// median: / and the first letters of the words that somebody remembers, as
// many as it takes until the window is among the first rows, and Enter twice.
func TestSixKeys(t *testing.T) {
	t.Parallel()
	d := crowded(t, 500, 1)
	r := rand.New(rand.NewPCG(2, 2))
	var counts []int
	for range 120 {
		target := d.Windows[r.IntN(len(d.Windows))]
		best := 1 << 20
		for _, remembered := range []string{target.Title, target.App + " " + target.Title} {
			b := benchOf(t.Context(), t, d) // one that has not been there yet
			best = min(best, b.reach(target.ID, initials(remembered)))
		}
		counts = append(counts, best)
	}
	slices.Sort(counts)
	median := counts[len(counts)/2]
	t.Logf("of 500 windows: %d keys in the median, %d at the 90th of 100, %d at most", median, counts[len(counts)*9/10], counts[len(counts)-1])
	if median > 6 {
		t.Errorf("it takes %d keys in the median, and at most 6 are wanted", median)
	}
}

// initials are the first letters of the words.
func initials(s string) []string {
	var first []string
	for w := range strings.FieldsSeq(strings.ToLower(s)) {
		first = append(first, w[:1])
	}
	return first
}

// reach types until the window has the focus, and gives the number of keys.
func (b *bench) reach(id int, letters []string) int {
	b.t.Helper()
	keys := 0
	press := func(key string) {
		keys++
		b.press(key)
	}
	press("/")
	g, _ := on[*gazetteer](b.model)
	row := func() int {
		return slices.IndexFunc(g.rows, func(r gazRow) bool { return r.window != nil && r.window.ID == id })
	}
	for _, l := range letters {
		if i := row(); i >= 0 && i <= 1 {
			break
		}
		press(l)
	}
	if row() < 0 {
		b.press("esc")
		b.model.home()
		return 1 << 20
	}
	if row() == g.at {
		press("enter")
	}
	for n := 0; g.search || row() != g.at; n++ {
		if press("down"); n > 600 {
			b.t.Fatal("the window is never reached")
		}
	}
	press("enter")
	if b.d.Focus != id {
		b.t.Fatalf("#%d has the focus and not #%d", b.d.Focus, id)
	}
	return keys
}

// What the cursor is on stays under it, on its row of the screen, whatever
// opens and closes around it.
func TestCursorStays(t *testing.T) {
	b := newBench(t, desk.Settings{})
	b.Update(tea.WindowSizeMsg{Width: 80, Height: 24})
	b.press(";")
	b.press("g")
	for range 9 {
		b.press("down")
	}
	b.View()
	g, _ := on[*gazetteer](b.model)
	under, line := g.row().window.ID, g.at-g.top
	for i := range 40 {
		d, _ := b.d.With(desk.Opened{Keep: true, Window: desk.Window{ID: 900 + i, App: "Aardwolf", Title: fmt.Sprint(i), Workspace: b.d.Workspaces[0].ID, Rect: geom.R(0, 0, 200, 200), Floating: true}})
		if i%3 == 0 {
			d, _ = d.With(desk.Closed{ID: d.Windows[0].ID}, desk.Changed{ID: under, Change: func(w *desk.Window) { w.Title = fmt.Sprint("title ", i) }})
		}
		if d.Window(under) == nil {
			break
		}
		b.Update(updateMsg{Update: keeper.Update{Serial: b.serial + 1, Desk: d}, ok: true})
		b.View()
		if r := g.row(); r.window == nil || r.window.ID != under || b.sel.Window != under {
			t.Fatalf("after %d changes the cursor is on %+v", i+1, r)
		}
		if now := g.at - g.top; now != line && g.top > 0 {
			t.Fatalf("after %d changes it is on line %d, was on %d", i+1, now, line)
		}
		line = g.at - g.top
	}
}

// FuzzTitles draws every screen with what a program may call its window: no
// escape sequence of it may reach the terminal.
func FuzzTitles(f *testing.F) {
	f.Add("\x1b]0;x\x07\x1b[2J", "e\u0301\u202e日本\U0001F600")
	f.Add(strings.Repeat("w", 5000), "\xff\xfe\x00")
	d := crowded(f, 12, 1)
	f.Fuzz(func(t *testing.T, title, app string) {
		d, _ := d.With(desk.Changed{ID: 3, Change: func(w *desk.Window) {
			w.Title, w.App = desk.CleanText(title, desk.MaxTitle), desk.CleanText(app, desk.MaxApp)
		}})
		k := keeper.New(d, sim.New(), keeper.Options{})
		go k.Run(t.Context())
		m := newModel(t.Context(), k, Options{Theme: cells.Night})
		m.d, m.sel = d, cells.Selection{Window: 3}
		for _, size := range [][2]int{{160, 40}, {80, 24}} {
			m.w, m.h = size[0], size[1]
			for _, open := range []func(){m.home, func() { m.openGazetteer(false) }, func() { m.openSwitcher() }, func() { m.push(&rulesScreen{}) }} {
				m.home()
				open()
				m.stale = true
				text := fmt.Sprint(m.View().Content)
				for _, line := range strings.Split(text, "\n") {
					if plain := ansi.Strip(line); strings.ContainsFunc(plain, func(r rune) bool { return r < ' ' || r == 0x7f || r >= 0x80 && r < 0xa0 }) {
						t.Fatalf("a control character is on the screen: %q", plain)
					}
				}
			}
		}
	})
}
