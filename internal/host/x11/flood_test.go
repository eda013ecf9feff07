package x11_test

import (
	"context"
	"encoding/binary"
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/host/x11"
	"zatlas/internal/keeper"
	"zatlas/internal/testkit"
)

// No goroutine outlives the tests.
func TestMain(m *testing.M) { testkit.Main(m) }

// made is an event of some code with a random body, in which windows are often
// real ones.
func made(r *rand.Rand, code byte, real []xproto.Window) []byte {
	b := make([]byte, 32)
	for i := range b {
		b[i] = byte(r.Uint32())
	}
	b[0] = code
	if r.IntN(2) == 0 {
		b[1] = []byte{8, 16, 32, 0, 1}[r.IntN(5)]
	}
	for _, at := range []int{4, 8, 12} {
		if r.IntN(3) > 0 {
			binary.LittleEndian.PutUint32(b[at:], uint32(real[r.IntN(len(real))]))
		}
	}
	return b
}

// flood sends made-up events of every code, to the root, the window the keeper
// is known by and windows it manages.
func flood(d *kept, seed uint64, n int, wins []xproto.Window) {
	r := rand.New(rand.NewPCG(seed, 3))
	check := d.cards(d.Root, "_NET_SUPPORTING_WM_CHECK")
	to := append([]xproto.Window{d.Root, xproto.Window(check[0])}, wins...)
	masks := []uint32{0, xproto.EventMaskSubstructureRedirect, xproto.EventMaskSubstructureNotify, xproto.EventMaskStructureNotify, xproto.EventMaskPropertyChange, 0x1ffffff}
	closing := uint32(d.Atom("_NET_CLOSE_WINDOW"))
	for i := range n {
		// Codes of the core, and those that extensions have here.
		code := byte(2 + i%126)
		b := made(r, code, to)
		if binary.LittleEndian.Uint32(b[8:]) == closing {
			continue // which is to be obeyed
		}
		xproto.SendEvent(d.Conn, r.IntN(2) == 0, to[r.IntN(len(to))], masks[r.IntN(len(masks))], string(b))
		if i%500 == 499 {
			d.Conn.Sync() // and refusals are read
		}
	}
	d.Conn.Sync()
}

// cards are the 32-bit numbers of a property.
func (d *kept) cards(win xproto.Window, name string) []uint32 {
	r, err := xproto.GetProperty(d.Conn, false, win, d.Atom(name), xproto.GetPropertyTypeAny, 0, 4096).Reply()
	if err != nil || r.Format != 32 {
		return nil
	}
	var v []uint32
	for b := r.Value; len(b) >= 4; b = b[4:] {
		v = append(v, binary.LittleEndian.Uint32(b))
	}
	return v
}

// Whatever events other clients make up, the keeper lives, knows every window and
// does what it is asked.
func TestMadeUpEvents(t *testing.T) {
	t.Parallel()
	n := 100_000
	if testing.Short() {
		n = 10_000
	}
	d := keep(t)
	d.Follow(func(xgb.Event) {}) // refusals of the server are many, and are read by somebody
	wins := []xproto.Window{d.open("one"), d.open("two"), d.open("three")}
	flood(d, testkit.Seed(t, 1), n, wins)
	d.until("every window is listed", func() bool {
		list := d.cards(d.Root, "_NET_CLIENT_LIST")
		for _, w := range wins {
			if !strings.Contains(fmt.Sprint(list), fmt.Sprint(uint32(w))) {
				return false
			}
		}
		return len(list) == len(wins)
	})
	d.do("add", "go 1")
	d.Press(testkit.Super, '2')
	d.until("a chord works", func() bool { return d.snapshot().Current() == 1 })
	if strings.Contains(d.log.String(), "level=ERROR") {
		t.Errorf("the log has faults:\n%s", d.log)
	}
}

// One event after the other that another client makes up.
func FuzzMadeUpEvents(f *testing.F) {
	d := keep(f)
	d.Follow(func(xgb.Event) {})
	wins := []xproto.Window{d.Root, d.open("one"), d.open("two")}
	closing := uint32(d.Atom("_NET_CLOSE_WINDOW"))
	f.Add(byte(xproto.ConfigureRequest), byte(0), byte(1), []byte(strings.Repeat("\xff", 31)))
	f.Add(byte(xproto.ClientMessage), byte(1), byte(0), []byte("\x20\x00\x00"))
	f.Add(byte(xproto.UnmapNotify), byte(0), byte(1), []byte{})
	f.Fuzz(func(t *testing.T, code, to, about byte, body []byte) {
		b := make([]byte, 32)
		copy(b[1:], body)
		b[0] = code
		for _, at := range []int{4, 8} {
			binary.LittleEndian.PutUint32(b[at:], uint32(wins[(int(about)+at/8)%len(wins)]))
		}
		if code == xproto.ClientMessage && binary.LittleEndian.Uint32(b[8:]) == closing {
			return
		}
		xproto.SendEvent(d.Conn, false, wins[int(to)%len(wins)], 0x1ffffff, string(b))
		d.Conn.Sync()
		if _, err := d.k.Do(t.Context(), desk.Command{Verb: "go", Args: []desk.Arg{{Kind: desk.Number, N: 1}}}, keeper.Line); err != nil {
			t.Fatal(err)
		}
		if n := len(d.snapshot().Windows); n != 2 || strings.Contains(d.log.String(), "level=ERROR") {
			t.Fatalf("%d windows are left, and the log says\n%s", n, d.log)
		}
	})
}

// answers measures how long commands take, again and again until done.
func (d *kept) answers(until <-chan struct{}) (longest time.Duration, n int) {
	for {
		began := time.Now()
		if _, err := d.k.Do(context.Background(), desk.Command{Verb: "go", Args: []desk.Arg{{Kind: desk.Number, N: 1}}}, keeper.Line); err != nil {
			d.t.Fatal(err)
		}
		longest, n = max(longest, time.Since(began)), n+1
		select {
		case <-until:
			return longest, n
		case <-time.After(time.Millisecond):
		}
	}
}

// Bursts of changes that cost much to follow hold nobody up, and are followed.
func TestBursts(t *testing.T) {
	t.Parallel()
	d := keep(t)
	d.open("one")
	dock := d.X.Window("dock", 0, 0, 1920, 30)
	d.Cards(dock, "_NET_WM_WINDOW_TYPE", xproto.AtomAtom, uint32(d.Atom("_NET_WM_WINDOW_TYPE_DOCK")))
	d.Cards(dock, "_NET_WM_STRUT", xproto.AtomCardinal, 0, 0, 30, 0)
	d.Map(dock)
	setup := xproto.Setup(d.Conn)
	keys, err := xproto.GetKeyboardMapping(d.Conn, setup.MaxKeycode, 1).Reply()
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		name string
		one  func(i int)
	}{
		{"keyboard", func(i int) {
			syms := make([]xproto.Keysym, keys.KeysymsPerKeycode)
			syms[0] = xproto.Keysym(0x1000000 + 0x2500 + i%64)
			xproto.ChangeKeyboardMapping(d.Conn, 1, setup.MaxKeycode, keys.KeysymsPerKeycode, syms)
		}},
		{"struts", func(i int) { d.Cards(dock, "_NET_WM_STRUT", xproto.AtomCardinal, 0, 0, uint32(30+i%20), 0) }},
		{"root properties", func(i int) {
			d.Cards(d.Root, "_NET_CURRENT_DESKTOP", xproto.AtomCardinal, uint32(i))
			d.Cards(d.Root, fmt.Sprint("_OTHER_", i%50), xproto.AtomCardinal, uint32(i))
		}},
		{"messages", func(i int) { d.Message(d.Root, "_NET_CURRENT_DESKTOP", uint32(i%2)) }},
	} {
		t.Run(c.name, func(t *testing.T) {
			done := make(chan struct{})
			go func() {
				defer close(done)
				for i := range 1000 {
					c.one(i)
				}
				d.Conn.Sync()
			}()
			longest, n := d.answers(done)
			t.Logf("%d commands in the burst, the slowest took %v", n, longest)
			if longest > 2*time.Second {
				t.Errorf("a command in a burst took %v", longest)
			}
		})
	}
	d.until("the strut of the last one counts", func() bool { return d.snapshot().Monitor('A').Work.Y == 30+999%20 })
	d.do("add", "go 1")
	d.Press(testkit.Super, '2')
	d.until("a chord works after it", func() bool { return d.snapshot().Current() == 1 })
}

// What another client makes of our properties on the root does not stay.
func TestRootPropertiesArePutBack(t *testing.T) {
	d := keep(t)
	d.open("one")
	for _, name := range []string{"_NET_SUPPORTED", "_NET_SUPPORTING_WM_CHECK", "_NET_CLIENT_LIST", "_NET_CLIENT_LIST_STACKING", "_NET_NUMBER_OF_DESKTOPS", "_NET_DESKTOP_NAMES",
		"_NET_DESKTOP_GEOMETRY", "_NET_DESKTOP_VIEWPORT", "_NET_CURRENT_DESKTOP", "_NET_ACTIVE_WINDOW", "_NET_WORKAREA", "_NET_SHOWING_DESKTOP", "_ZEALOUS_ATLAS_DESK"} {
		want := ""
		d.until(name+" is there", func() bool { want = d.prop("root", name); return want != "" })
		xproto.DeleteProperty(d.Conn, d.Root, d.Atom(name))
		d.Conn.Sync()
		d.wantProp("root", name, want)
		if name != "_NET_DESKTOP_NAMES" { // which others may change
			d.Cards(d.Root, name, xproto.AtomCardinal, 77, 78)
			d.wantProp("root", name, want)
		}
	}
	check := xproto.Window(d.cards(d.Root, "_NET_SUPPORTING_WM_CHECK")[0])
	xproto.DeleteProperty(d.Conn, check, d.Atom("_NET_WM_NAME"))
	d.wantProp(check, "_NET_WM_NAME", `"Zealous Atlas"`)
	d.Text(d.Root, "_NET_DESKTOP_NAMES", "Foyer\x00")
	d.until("a name that another program gives is taken up", func() bool { return d.snapshot().Workspaces[0].Name == "Foyer" })
}

// Two who put a property back do not go on for ever.
func TestTwoWhoPutBack(t *testing.T) {
	d := keep(t)
	d.open("one")
	other := d.Server.NewX(t)
	xproto.ChangeWindowAttributes(other.Conn, d.Root, xproto.CwEventMask, []uint32{xproto.EventMaskPropertyChange})
	atom := other.Atom("_NET_SHOWING_DESKTOP")
	turns := make(chan int, 1)
	turns <- 0
	other.Follow(func(e xgb.Event) {
		if p, ok := e.(xproto.PropertyNotifyEvent); ok && p.Atom == atom {
			r, err := xproto.GetProperty(other.Conn, false, d.Root, atom, xproto.GetPropertyTypeAny, 0, 1).Reply()
			if err == nil && len(r.Value) == 4 && r.Value[0] != 9 {
				turns <- <-turns + 1
				other.Cards(d.Root, "_NET_SHOWING_DESKTOP", xproto.AtomCardinal, 9)
			}
		}
	})
	other.Cards(d.Root, "_NET_SHOWING_DESKTOP", xproto.AtomCardinal, 9)
	d.until("the log tells of it", func() bool { return strings.Contains(d.log.String(), "_NET_SHOWING_DESKTOP") })
	n := <-turns
	if turns <- n; n > 20 {
		t.Errorf("%d times both wrote the property", n)
	}
	d.do("add", "go 2", "go 1") // and everything else goes on
}

// A program that counts in its title has the desk change ten times a second, not with every
// count, and the last one is told.
func TestTitlesThatCount(t *testing.T) {
	t.Parallel()
	d := keepOn(t, testkit.NewServer(t), x11.Options{})
	win := d.open("step 0")
	titles, began := map[string]bool{}, time.Now()
	const steps = 300
	for i := 1; i <= steps; i++ {
		d.Text(win, "_NET_WM_NAME", fmt.Sprint("step ", i))
		d.Conn.Sync()
		titles[d.snapshot().Windows[0].Title] = true
		time.Sleep(2 * time.Millisecond)
	}
	d.until("the last title is on the desk", func() bool { return d.find(fmt.Sprint("step ", steps)) != nil })
	if most := int(time.Since(began)/(100*time.Millisecond)) + 3; len(titles) > most {
		t.Errorf("%d of %d titles were on the desk in %v, want %d at most", len(titles), steps, time.Since(began), most)
	}
}
