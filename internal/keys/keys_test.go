package keys

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/lang"
	"zatlas/internal/prompt"
	"zatlas/internal/testkit/desks"
)

// board is a keyboard in memory: which keys are down, whose it is, and what was done.
type board struct {
	t       *testing.T
	m       Machine
	d       *desk.Desk
	now     time.Time
	down    map[string]bool
	ours    bool // all keys come here
	frozen  bool // by the press of a chord
	refuses bool // another program has the keyboard
	screens bool // screens have keys wait for them
	card    *Card
	frame   geom.Rect
	did     []string
	wakes   time.Time
	chords  map[string]*Start
}

// codes are keys by their names.
func code(name string) byte {
	if name == "Super" {
		return 200
	}
	n := byte(10)
	for _, r := range strings.ToLower(name) {
		n = n*31 + byte(r)
	}
	return n
}

func (b *board) Take() bool {
	b.ours = !b.refuses
	return b.ours
}
func (b *board) Give()                      { b.ours, b.frozen = false, false }
func (b *board) Thaw()                      { b.frozen = false }
func (b *board) Wait()                      { b.did = append(b.did, "waits") }
func (b *board) Next()                      {}
func (b *board) KeysOf(ms Modifiers) []byte { return []byte{code("Super")} }
func (b *board) Down(codes ...byte) bool {
	for name, down := range b.down {
		if down && slices.Contains(codes, code(name)) {
			return true
		}
	}
	return false
}
func (b *board) Do(c desk.Command) { b.did = append(b.did, lang.Print(c)) }
func (b *board) Bring(screen string) bool {
	b.did = append(b.did, "screen "+screen)
	return b.screens
}
func (b *board) Say(words string)  { b.did = append(b.did, "says "+words) }
func (b *board) Show(c Card)       { b.card = &c }
func (b *board) Hide()             { b.card = nil }
func (b *board) Frame(r geom.Rect) { b.frame = r }
func (b *board) Wake(at time.Time) { b.wakes = at }

// newBoard has some chords, all of them with Super: "s send", "hold t recent", "q r rescue".
func newBoard(t *testing.T, chords ...string) *board {
	t.Helper()
	d := desks.Demo(t)
	b := &board{t: t, d: d, now: time.Unix(1, 0), down: map[string]bool{}, chords: map[string]*Start{}}
	b.m.Side, b.m.Delay = b, 400*time.Millisecond
	b.m.See(d)
	for _, text := range chords {
		c := Chord{Modifiers: Modifiers{Super: true}}
		text, c.Hold = strings.CutPrefix(text, "hold ")
		c.Name, c.Command, _ = strings.Cut(text, ": ")
		press, after, _ := strings.Cut(c.Name, " ")
		c.After = strings.Fields(after)
		key := strings.TrimPrefix(press, "Super+")
		if b.chords[key] == nil {
			b.chords[key] = &Start{}
		}
		b.chords[key].Take(c)
	}
	return b
}

// types does all that is typed, one word after the other.
func (b *board) types(words string) {
	for word := range strings.FieldsSeq(words) {
		b.type1(word)
	}
}

// type1 does one word of what is typed: +Super holds it down, -Super lets go, !Super
// does so unseen, s types a key, =s is held down and repeats, ~400 lets so many milliseconds
// pass, and closed#5 has a window be gone.
func (b *board) type1(word string) {
	b.now = b.now.Add(time.Millisecond)
	if ms, is := strings.CutPrefix(word, "~"); is {
		n, _ := strconv.Atoi(ms)
		b.now = b.now.Add(time.Duration(n) * time.Millisecond)
		b.m.Tick(b.now)
		return
	}
	if id, is := strings.CutPrefix(word, "closed#"); is {
		n, _ := strconv.Atoi(id)
		b.d, _ = b.d.With(desk.Closed{ID: n})
		b.m.See(b.d)
		return
	}
	if key, is := strings.CutPrefix(word, "!"); is { // let go of, and nobody is told
		b.down[key] = false
		return
	}
	lifts := strings.HasPrefix(word, "-")
	stays := strings.HasPrefix(word, "+")
	again := strings.HasPrefix(word, "=")
	key := strings.TrimLeft(word, "+-=")
	if key == "" {
		key, again = word, false
	}
	if !lifts {
		b.down[key] = true
		b.press(key, again)
	}
	if !stays {
		b.down[key] = false
		b.m.Release(code(key), b.now)
	}
}

func (b *board) press(key string, again bool) {
	p := Press{Code: code(key), Names: []string{key}, Written: key, Shift: strings.ToUpper(key) == key && len(key) == 1 && key[0] > '9', Again: again, Time: b.now}
	if key == "Super" {
		p.Names, p.Written = nil, ""
	}
	if b.m.Press(p) {
		return
	}
	if at := b.chords[strings.ToLower(key)]; at != nil && b.down["Super"] {
		b.frozen = true
		b.m.Chord(*at, p)
	}
}

// What is typed comes to what it should, and the keyboard is everybody's afterwards.
func TestTyped(t *testing.T) {
	chords := []string{
		"Super+s: send", "Super+g: go 2", "Super+f: focus left", "Super+r: remove", "Super+a: atlas", "Super+n: rename", "Super+z: fly",
		"Super+o: around", "Super+d: split", "Super+q s 3: send 3", "Super+q s p: send", "Super+q l: layout", "Super+q c: close of all", "hold Super+t: recent", "hold Super+w: workspaces", "hold Super+p: app", "hold Super+b: bare", "hold Super+v: go 3", "hold Super+y: focus next", "hold Super+k: go B",
	}
	for _, c := range []struct{ name, typed, want string }{
		{"a command", "+Super g -Super", "go 2; waits"},
		{"one that repeats", "+Super +f =f =f -f -Super", "focus left; waits; focus left; waits; focus left; waits"},
		{"one that does not", "+Super +g =g =g -g -Super", "go 2; waits"},
		{"a question", "+Super s -Super 3", "send 3 of #11"},
		{"Super still held", "+Super s 3 -Super", "send 3 of #11"},
		{"the last key held", "+Super s -Super +3 -3", "send 3 of #11"},
		{"another key before it is let go of", "+Super s -Super +3 x -3", "send 3 of #11"},
		{"left", "+Super s -Super Escape", ""},
		{"back out", "+Super s -Super BackSpace", ""},
		{"what means nothing", "+Super s -Super %", "says % means nothing after send #11 Reel Ledger · Running o… to. Everything is as it was."},
		{"the same place as last time", "+Super s -Super 3 +Super s -Super Return", "send 3 of #11; send 3 of #11"},
		{"a monitor and a digit", "+Super s -Super B 2", "send B2 of #11"},
		{"back from there", "+Super s -Super B BackSpace 2", "send 2 of #11"},
		{"all of an app, asked for", "+Super s -Super * 2 2", "send 2 of app:=\"Reel Ledger\""},
		{"all of an app, left", "+Super s -Super * 2 x", "says Left as it was."},
		{"a sequence", "+Super q -Super s 3", "send 3 of #11"},
		{"a sequence to a question", "+Super q -Super s p 4", "send 4 of #11"},
		{"a layout", "+Super q -Super l c", "layout columns"},
		{"with Super held", "+Super q l c -Super", "layout columns"},
		{"the wrong key", "+Super q -Super z", "says z means nothing after Super+q. Everything is as it was."},
		{"back one", "+Super q -Super s BackSpace l c", "layout columns"},
		{"sure, again", "+Super q -Super c c", "close of all"},
		{"sure, not", "+Super q -Super c x", "says Left as it was."},
		{"a screen", "+Super a -Super", "screen atlas"},
		{"words", "+Super s -Super /", "screen command send "},
		{"a name", "+Super n -Super", "screen command rename "},
		{"no command", "+Super z -Super", "says The chord stands for \"fly\", which is no command."},
		{"no key for ten seconds", "+Super s -Super ~9000 ~2000 3", ""},
		{"a key in time", "+Super s -Super ~9000 B ~9000 3", "send B3 of #11"},
		{"a list let go of", "+Super t -Super", "focus #21"},
		{"two on", "+Super t t -Super", "focus #22"},
		{"and back", "+Super t t T -Super", "focus #21"},
		{"by an arrow", "+Super t Down -Super", "focus #22"},
		{"by a digit", "+Super t 1 -Super", "focus #11"},
		{"Enter", "+Super t Return -Super", "focus #21"},
		{"stays", "+Super t Escape -Super", ""},
		{"closes", "+Super t x -Super", "close of #21; focus #21"},
		{"one goes meanwhile", "+Super t closed#21 -Super", "focus #22"},
		{"workspaces", "+Super w -Super", "go 2"},
		{"no x on them", "+Super w x -Super", "go 2"},
		{"a release that was missed", "+Super t !Super ~1100", "focus #21"},
		{"a group", "+Super o -Super t b", "layout tabs of #11 or #12"},
		{"a peek", "+Super +v -v -Super", "go 3; waits; go 1"},
		{"a peek at a window", "+Super +y -y -Super", "focus next; waits; go 1; focus #11"},
		{"a peek at a monitor", "+Super +k -k -Super", "go B; waits; go 1; focus #11"},
		{"what cannot be here", "+Super d -Super", "says Sheet A1 is laid out as lead, which splits by itself. layout tree splits by choice."},
		{"a bare peek", "+Super +b =b -b -Super", "bare; waits; bare"},
	} {
		t.Run(c.name, func(t *testing.T) {
			b := newBoard(t, chords...)
			for word := range strings.FieldsSeq(c.typed) {
				b.type1(word)
			}
			if got := strings.Join(b.did, "; "); got != c.want {
				t.Errorf("%s comes to\n%s\nand not\n%s", c.typed, got, c.want)
			}
			b.free(c.typed)
		})
	}
}

// free holds that the keyboard is everybody's, and nothing shows.
func (b *board) free(after string) {
	b.t.Helper()
	if b.ours || b.frozen && !b.screens && !slices.Contains(b.did, "waits") || b.card != nil || !b.frame.Empty() || b.m.On() {
		b.t.Errorf("after %s: the keyboard is ours %t, frozen %t, a card %+v", after, b.ours, b.frozen, b.card)
	}
}

// A card shows what may follow, after its time; at once where one shows already.
func TestCards(t *testing.T) {
	b := newBoard(t, "Super+q s 3: send 3", "Super+q l: layout", "hold Super+t: recent")
	type1 := func(words string) {
		for word := range strings.FieldsSeq(words) {
			b.type1(word)
		}
	}
	shows := func(when string, want ...string) {
		t.Helper()
		got := fmt.Sprintf("%+v", b.card)
		for _, w := range want {
			if b.card == nil || !strings.Contains(got, w) {
				t.Errorf("%s the card is %s, without %s", when, got, w)
			}
		}
		if len(want) == 0 && b.card != nil {
			t.Errorf("%s the card is %s", when, got)
		}
	}
	type1("+Super q -Super")
	shows("at once")
	type1("~399")
	type1("~1")
	shows("after 400 ms", "Super+q", "{Keys:l Does:Lay out the sheet", "{Keys:s Does:more: send}", "Escape leaves")
	type1("l")
	shows("one on", "columns", "Backspace goes back one")
	type1("Escape")
	shows("left")
	type1("+Super +t")
	shows("a list", "Recent windows", "Chosen:1", "x close ")
	type1("-t -Super")
	shows("let go of")
}

// What the card of a group offers can be done with it.
func TestGroupCard(t *testing.T) {
	b := newBoard(t, "Super+o: around")
	b.m.Delay = 0
	b.types("+Super o -Super")
	offers := b.m.ours.levels[0].Choices
	if len(offers) < 8 || slices.ContainsFunc(offers, func(c prompt.Choice) bool { return slices.Contains([]string{"nudge", "resize", "raise"}, c.Does) }) {
		t.Errorf("the card offers %d: %+v", len(offers), b.card)
	}
	b.type1("Escape")
	for _, c := range offers {
		b.did = nil
		b.types("+Super o -Super " + c.Key)
		switch l := b.m.ours; {
		case l.question != nil:
			b.type1(c.Key)
		case len(l.levels) > 0 && c.Key != "Z":
			b.type1(l.levels[len(l.levels)-1].Choices[0].Key)
		case c.Key == "Z":
			if len(l.group) <= 2 {
				t.Errorf("Z chooses %v", l.group)
			}
			b.did = append(b.did, "wider")
		}
		if len(b.did) == 0 || strings.HasPrefix(b.did[0], "says") {
			t.Errorf("%s, which is offered as %s, comes to %q", c.Key, c.Does, b.did)
		}
		b.types("Escape ~11000")
	}
}

// Where another program has the keyboard, that is said, and nothing stays frozen.
func TestRefused(t *testing.T) {
	b := newBoard(t, "Super+s: send", "hold Super+t: recent")
	b.refuses = true
	b.types("+Super s t -Super 3")
	if len(b.did) != 0 {
		t.Errorf("it did %q", b.did)
	}
	b.free("chords of a keyboard that another has")
}

// Keys wait for a screen that says so.
func TestScreensWait(t *testing.T) {
	b := newBoard(t, "Super+a: atlas", "Super+s: send")
	b.screens = true
	b.types("+Super a -Super")
	if !b.frozen {
		t.Error("keys typed go elsewhere")
	}
	b.types("+Super s -Super /")
	if !b.ours {
		t.Error("after a question the keyboard was given back before the screen is there")
	}
}

// A key that is recorded does nothing else, and is waited for ten seconds.
func TestRecorded(t *testing.T) {
	b := newBoard(t, "Super+s: send")
	type end struct {
		chord string
		why   Why
	}
	var got []end
	told := func(chord string, why Why) { got = append(got, end{chord, why}) }
	b.m.Record(b.now, told)
	b.types("+Super s -Super")
	b.m.Record(b.now, told)
	b.types("~9000 ~1100")
	b.m.Record(b.now, told)
	b.m.EndRecording(PutAway)
	b.m.Record(b.now, told)
	b.m.Over()
	if want := []end{{"s", Pressed}, {"", NoKey}, {"", PutAway}, {"", Stalled}}; !slices.Equal(got, want) || len(b.did) != 0 {
		t.Errorf("it told %v, and not %v; it did %q", got, want, b.did)
	}
}

// Whatever is typed, in whatever order keys are let go of, the keyboard is everybody's when
// all are up and ten seconds have passed, and a window that has gone is not acted on.
func FuzzKeys(f *testing.F) {
	f.Add([]byte("\x00\x01\x02\x03\x10\x11\x12\x13"))
	words := strings.Fields("+Super -Super +s -s s +q -q q t +t -t w v +v -v 3 +3 -3 x Escape Return B * / BackSpace Down ~30 ~500 ~11000 closed#11 closed#21 =t =s b +b -b l c n")
	f.Fuzz(func(t *testing.T, typed []byte) {
		b := newBoard(t, "Super+s: send", "Super+q s 3: send 3", "Super+q l: layout", "Super+q c: close of all", "hold Super+t: recent", "hold Super+w: workspaces", "hold Super+v: go 3", "hold Super+b: bare", "Super+n: rename")
		for _, n := range typed[:min(len(typed), 200)] {
			b.type1(words[int(n)%len(words)])
		}
		for key := range b.down {
			b.type1("-" + key)
		}
		b.types("~1100 ~11000")
		b.free(fmt.Sprint(typed))
	})
}

// The choice in a held list stays with its row, whatever closes.
func TestListLeft(t *testing.T) {
	for _, c := range []struct {
		at    int
		gone  []int // ids, which are 10, 20, 30 and 40
		id    int   // of the row chosen then, 0 for none
		count int
	}{
		{2, []int{10}, 30, 3}, {2, []int{40}, 30, 3}, {2, []int{10, 20}, 30, 2}, {2, []int{30}, 40, 3}, {3, []int{40}, 30, 3},
		{3, []int{10, 40}, 30, 2}, {0, []int{10, 20, 30, 40}, 0, 0},
	} {
		rows := []prompt.ListRow{{ID: 10}, {ID: 20}, {ID: 30}, {ID: 40}}
		rows, at := left(rows, c.at, func(r prompt.ListRow) bool { return slices.Contains(c.gone, r.ID) })
		id := 0
		if at >= 0 && at < len(rows) {
			id = rows[at].ID
		}
		if id != c.id || len(rows) != c.count {
			t.Errorf("of row %d without %v: %d rows, #%d chosen, want #%d", c.at, c.gone, len(rows), id, c.id)
		}
	}
}
