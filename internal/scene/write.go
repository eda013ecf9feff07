package scene

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"slices"
	"strconv"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/layout"
)

// The parts of a scene as they are written. Keys with their usual value are
// left out.
type (
	rectOut     [4]int
	settingsOut struct {
		Count string `json:"count"`
		Gap   int    `json:"gap"`
		Mode  string `json:"mode"`
		Wrap  bool   `json:"wrap"`
		// Of a desk whose windows another program manages.
		Alongside bool     `json:"alongside,omitempty"`
		Lacks     []string `json:"lacks,omitempty"`
	}
	monitorOut struct {
		Letter    string  `json:"letter"`
		Name      string  `json:"name,omitempty"`
		Key       string  `json:"key,omitempty"`
		Rect      rectOut `json:"rect"`
		Work      rectOut `json:"work"`
		Primary   bool    `json:"primary,omitempty"`
		Header    int     `json:"header,omitempty"`
		Connected *bool   `json:"connected,omitempty"`
	}
	workspaceOut struct {
		Name   string              `json:"name,omitempty"`
		ID     int                 `json:"id"`
		Home   string              `json:"home,omitempty"`
		Pin    string              `json:"pin,omitempty"`
		Sheets map[string]sheetOut `json:"sheets"`
		Away   map[string]sheetOut `json:"away,omitempty"`
	}
	sheetOut struct {
		Layout     string   `json:"layout"`
		Share      int      `json:"share,omitempty"`
		Leads      int      `json:"leads,omitempty"`
		Windows    []int    `json:"windows,omitempty"`
		Places     []int    `json:"places,omitempty"` // of a plate, in the place of windows
		Tree       *treeOut `json:"tree,omitempty"`
		Floating   []int    `json:"floating,omitempty"`
		Stack      []int    `json:"stack,omitempty"`
		Fullscreen int      `json:"fullscreen,omitempty"`
		NoGaps     bool     `json:"gapless,omitempty"`
		Next       string   `json:"next,omitempty"`
		Kept       *treeOut `json:"kept,omitempty"`
		Before     *treeOut `json:"before,omitempty"`
	}
	// treeOut is a group of tiles, or one, as its MarshalJSON writes it.
	treeOut struct {
		*layout.Node
		places bool // of a plate, in the place of windows
	}
	beforeOut struct {
		Monitor string  `json:"monitor"`
		Screen  rectOut `json:"screen"`
		Work    rectOut `json:"work"`
		Place   rectOut `json:"place"`
		Now     rectOut `json:"now"`
	}
	awayOut struct {
		Monitor string   `json:"monitor"`
		Place   *rectOut `json:"place,omitempty"`
		Work    *rectOut `json:"work,omitempty"`
	}
	seatOut struct {
		Workspace int      `json:"workspace,omitempty"` // of the innermost one only
		Monitor   string   `json:"monitor,omitempty"`
		Beside    []int    `json:"beside"`
		Split     string   `json:"split"`
		After     bool     `json:"after,omitempty"`
		Share     int      `json:"share"`
		Pair      bool     `json:"pair,omitempty"`
		Other     int      `json:"other"`
		Outer     *seatOut `json:"outer,omitempty"`
	}
	sizesOut struct {
		Max   *[2]int `json:"max,omitempty"`
		Base  *[2]int `json:"base,omitempty"`
		Step  *[2]int `json:"step,omitempty"`
		Least *[2]int `json:"least,omitempty"`
		Most  *[2]int `json:"most,omitempty"`
		Frame int     `json:"frame,omitempty"`
	}
	windowOut struct {
		ID         int        `json:"id"`
		App        string     `json:"app,omitempty"`
		Class      string     `json:"class,omitempty"`
		Title      string     `json:"title,omitempty"`
		Role       string     `json:"role,omitempty"`
		PID        int        `json:"pid,omitempty"`
		Kind       string     `json:"kind,omitempty"`
		Parent     int        `json:"parent,omitempty"`
		Rect       rectOut    `json:"rect"`
		Place      *rectOut   `json:"place,omitempty"`
		Loose      *rectOut   `json:"loose,omitempty"`
		Bar        int        `json:"bar,omitempty"`
		Min        *[2]int    `json:"min,omitempty"`
		Fixed      bool       `json:"fixed,omitempty"`
		Sizes      *sizesOut  `json:"sizes,omitempty"`
		Workspace  int        `json:"workspace,omitempty"`
		Monitor    string     `json:"monitor,omitempty"`
		Away       []awayOut  `json:"away,omitempty"`
		Before     *beforeOut `json:"before,omitempty"`
		Seat       *seatOut   `json:"seat,omitempty"`
		Floating   bool       `json:"floating,omitempty"`
		Minimised  bool       `json:"minimised,omitempty"`
		Sticky     bool       `json:"sticky,omitempty"`
		Urgent     bool       `json:"urgent,omitempty"`
		NoFocus    bool       `json:"unfocused,omitempty"`
		Fullscreen bool       `json:"fullscreen,omitempty"` // besides the one its sheet names
		Maximised  bool       `json:"maximised,omitempty"`
		Wide       bool       `json:"wide,omitempty"`
		Tall       bool       `json:"high,omitempty"`
		Above      bool       `json:"above,omitempty"`
		Below      bool       `json:"below,omitempty"`
		Modal      bool       `json:"modal,omitempty"`
		Hung       bool       `json:"hung,omitempty"`
		LastSeen   bool       `json:"lastSeen,omitempty"`
		Refused    []string   `json:"refused,omitempty"`
		Pin        string     `json:"pin,omitempty"`
		Used       int        `json:"used,omitempty"`
		Front      int        `json:"front,omitempty"`
		UsedAt     int64      `json:"usedAt,omitempty"`
	}
)

// Write writes the desk as a scene, one monitor, workspace and window a line.
func Write(out io.Writer, d *desk.Desk) error { return new(Writer).Write(out, d) }

func settingsFrom(s desk.Settings) settingsOut {
	o := settingsOut{Count: "fixed", Gap: s.Gap, Mode: "spanning", Wrap: s.Wrap, Alongside: s.Alongside, Lacks: s.Lacks}
	if s.Growing {
		o.Count = "growing"
	}
	if s.Separate {
		o.Mode = "separate"
	}
	return o
}

// shownFrom is which workspace each monitor shows, by its number.
func shownFrom(d *desk.Desk) map[string]int {
	shown := map[string]int{}
	for _, m := range d.Monitors {
		if m.Connected && d.Index(d.Shown[m.Letter-'A']) >= 0 {
			shown[string(rune(m.Letter))] = d.Index(d.Shown[m.Letter-'A']) + 1
		}
	}
	return shown
}

// recentFrom is the numbers of the workspaces shown last.
func recentFrom(d *desk.Desk) []int {
	recent := []int{}
	for _, id := range d.Recent {
		recent = append(recent, d.Index(id)+1)
	}
	return recent
}

// Writer writes desks one after the other, and keeps the lines of windows that are the
// same in the next. The zero value has none.
type Writer struct {
	lines map[*desk.Window][]byte // never written again, as the windows
}

// Write writes the desk as the function does.
func (k *Writer) Write(out io.Writer, d *desk.Desk) error {
	var b bytes.Buffer
	w := &writer{b: &b}
	w.line("{", "")
	w.key("format", Format, ",")
	w.key("settings", settingsFrom(d.Settings), ",")
	w.list("monitors", len(d.Monitors), func(i int) { w.json(monitorFrom(d.Monitors[i])) })
	w.list("workspaces", len(d.Workspaces), func(i int) { w.json(workspaceFrom(d, i)) })
	k.windows(w, d)
	w.key("shown", shownFrom(d), ",")
	w.key("at", string(rune(d.At)), ",")
	if focus := max(d.Focus, d.BareFocus); focus != 0 { // one of them is 0
		w.key("focus", focus, ",")
	}
	if d.Bare {
		w.key("bare", true, ",")
		w.key("bareClock", d.BareClock, ",")
	}
	w.key("recent", recentFrom(d), ",")
	w.key("lastWorkspace", d.LastID(), ",")
	w.key("clock", d.Clock, "")
	w.line("}", "")
	if w.err != nil {
		return fmt.Errorf("writing a scene: %w", w.err)
	}
	_, err := out.Write(b.Bytes())
	return err
}

// windows writes the list of windows.
func (k *Writer) windows(w *writer, d *desk.Desk) {
	was := k.lines
	k.lines = make(map[*desk.Window][]byte, len(d.Windows))
	w.list("windows", len(d.Windows), func(i int) {
		win := d.Windows[i]
		if line, kept := was[win]; kept {
			w.b.Write(line)
			k.lines[win] = line
			return
		}
		from := w.b.Len()
		w.json(windowFrom(d, win))
		// What is said of these depends on the rest of the desk.
		if !win.Fullscreen && !win.Minimised && win.Seat == nil {
			k.lines[win] = bytes.Clone(w.b.Bytes()[from:])
		}
	})
}

// Equal tells whether two desks are written alike.
func Equal(a, b *desk.Desk) bool {
	var x, y bytes.Buffer
	return Write(&x, a) == nil && Write(&y, b) == nil && bytes.Equal(x.Bytes(), y.Bytes())
}

type writer struct {
	b   *bytes.Buffer
	err error
}

func (w *writer) line(s, end string) { w.b.WriteString(s + end + "\n") }

func (w *writer) json(v any) {
	var b bytes.Buffer
	enc := json.NewEncoder(&b)
	enc.SetEscapeHTML(false)
	if err := enc.Encode(v); err != nil && w.err == nil {
		w.err = err
	}
	w.b.Write(bytes.TrimRight(b.Bytes(), "\n"))
}

func (w *writer) key(name string, v any, end string) {
	fmt.Fprintf(w.b, " %q: ", name)
	w.json(v)
	w.line("", end)
}

// list writes a list of n, each in a line that item writes.
func (w *writer) list(name string, n int, item func(i int)) {
	fmt.Fprintf(w.b, " %q: [", name)
	for i := range n {
		if i > 0 {
			w.b.WriteByte(',')
		}
		w.b.WriteString("\n  ")
		item(i)
	}
	w.line("]", ",")
}

func rectFrom(r geom.Rect) rectOut { return rectOut{r.X, r.Y, r.W, r.H} }

func letterFrom(l byte) string {
	if l == 0 {
		return ""
	}
	return string(rune(l))
}

func monitorFrom(m desk.Monitor) monitorOut {
	o := monitorOut{Letter: letterFrom(m.Letter), Name: m.Name, Rect: rectFrom(m.Rect), Work: rectFrom(m.Work), Primary: m.Primary, Header: m.Header}
	if m.Key != "scene-"+o.Letter {
		o.Key = m.Key
	}
	if !m.Connected && m.Mirrors == 0 {
		o.Connected = new(bool)
	}
	return o
}

func workspaceFrom(d *desk.Desk, i int) workspaceOut {
	ws := d.Workspaces[i]
	o := workspaceOut{Name: ws.Name, ID: ws.ID, Home: letterFrom(ws.Home), Pin: letterFrom(ws.Pin), Sheets: map[string]sheetOut{}}
	for _, m := range d.Monitors {
		if s := d.Sheet(i, m.Letter); s != nil {
			o.Sheets[letterFrom(m.Letter)] = sheetFrom(d, s, true)
		}
		if s := d.AwaySheet(i, m.Letter); s != nil {
			if o.Away == nil {
				o.Away = map[string]sheetOut{}
			}
			o.Away[letterFrom(m.Letter)] = sheetFrom(d, s, false)
		}
	}
	return o
}

func sheetFrom(d *desk.Desk, s *desk.Sheet, here bool) sheetOut {
	o := sheetOut{Layout: s.Layout.String(), Floating: s.Floating}
	if s.Layout == layout.Lead || s.Share != layout.DefaultShare {
		o.Share = s.Share
	}
	if s.Leads != 1 {
		o.Leads = s.Leads
	}
	o.NoGaps = s.NoGaps
	if s.Next != layout.Leaf {
		o.Next = s.Next.String()
	}
	if s.Layout == layout.Tree || s.Layout == layout.Free && !flat(s.Tiles) {
		o.Tree = treeFrom(s.Tiles)
	} else {
		o.Windows = s.Tiles.Windows()
	}
	if s.Layout == layout.Free {
		tiles := s.Tiles.Windows()
		o.Floating = slices.DeleteFunc(slices.Clone(s.Floating), func(id int) bool { return slices.Contains(tiles, id) })
		o.Stack = s.Floating
	}
	o.Kept, o.Before = treeFrom(d.Memory(s.Kept)), treeFrom(d.Memory(s.Before))
	if !here {
		return o
	}
	o.Fullscreen = fullOf(d, s)
	return o
}

// fullOf is the fullscreen window that a sheet names: the last of its lists, 0
// for none.
func fullOf(d *desk.Desk, s *desk.Sheet) int {
	full := 0
	for _, id := range slices.Concat(s.Tiles.Windows(), s.Floating) {
		if d.Window(id).Fullscreen {
			full = id
		}
	}
	return full
}

// sheetFull is the fullscreen window that the sheet of a window names.
func sheetFull(d *desk.Desk, w *desk.Window) int {
	if s := d.Sheet(d.Index(w.Workspace), w.Monitor); s != nil {
		return fullOf(d, s)
	}
	return 0
}

// flat tells whether a list of windows says all about the tree.
func flat(n *layout.Node) bool {
	if n == nil || n.Split == layout.Leaf {
		return true
	}
	return n.Split == layout.Across && !slices.ContainsFunc(n.Kids, func(k *layout.Node) bool {
		return k.Split != layout.Leaf || k.Share != 1
	})
}

func treeFrom(n *layout.Node) *treeOut {
	if n == nil {
		return nil
	}
	return &treeOut{Node: n}
}

// MarshalJSON writes a tree by hand: by reflection, a group of hundreds of windows takes
// most of the time that it takes to write a change.
func (o *treeOut) MarshalJSON() ([]byte, error) {
	key := `"window":`
	if o.places {
		key = `"place":`
	}
	return appendTree(nil, o.Node, key), nil
}

// groupKeys are the keys of groups.
var groupKeys = map[layout.Split]string{layout.Across: `"across":[`, layout.Down: `"down":[`, layout.Pile: `"pile":[`, layout.Tabs: `"tabs":[`}

func appendTree(b []byte, n *layout.Node, key string) []byte {
	b = append(b, '{')
	if n.Window != 0 {
		b = append(strconv.AppendInt(append(b, key...), int64(n.Window), 10), ',')
	}
	if n.Share > 1 {
		b = append(strconv.AppendInt(append(b, `"share":`...), int64(n.Share), 10), ',')
	}
	if n.Split != layout.Leaf {
		b = append(b, groupKeys[n.Split]...)
		for _, k := range n.Kids {
			b = append(appendTree(b, k, key), ',')
		}
		b = append(bytes.TrimSuffix(b, []byte{','}), ']', ',')
	}
	return append(bytes.TrimSuffix(b, []byte{','}), '}')
}

func windowFrom(d *desk.Desk, w *desk.Window) windowOut {
	o := windowOut{
		ID: w.ID, App: w.App, Class: w.Class, Title: w.Title, Role: w.Role, PID: w.PID, Parent: w.Parent,
		Rect: rectFrom(w.Rect), Bar: w.Bar, Fixed: w.Fixed,
		Minimised: w.Minimised, Sticky: w.Sticky, Urgent: w.Urgent, NoFocus: w.NoFocus, Fullscreen: w.Fullscreen && sheetFull(d, w) != w.ID, Maximised: w.Maximised, Wide: w.Wide, Tall: w.Tall, Above: w.Above, Below: w.Below, Modal: w.Modal, Hung: w.Hung, LastSeen: w.LastSeen, Refused: w.Refused, Pin: letterFrom(w.Pin), Used: w.Used, Front: max(w.Front, 0), UsedAt: w.UsedAt,
	}
	if w.Kind != desk.Normal {
		o.Kind = w.Kind.String()
	}
	if !w.Floated.Empty() {
		place := rectFrom(w.Floated)
		o.Place = &place
	}
	if w.Sizes != (desk.Sizes{}) {
		o.Sizes = sizesFrom(w.Sizes)
	}
	if !w.Loose.Empty() {
		loose := rectFrom(w.Loose)
		o.Loose = &loose
	}
	for _, a := range w.Away {
		out := awayOut{Monitor: letterFrom(a.Letter)}
		if !a.Floated.Empty() {
			place, work := rectFrom(a.Floated), rectFrom(a.Work)
			out.Place, out.Work = &place, &work
		}
		o.Away = append(o.Away, out)
	}
	if f := w.Before; f.Monitor != 0 {
		o.Before = &beforeOut{letterFrom(f.Monitor), rectFrom(f.Screen), rectFrom(f.Work), rectFrom(f.Place), rectFrom(f.Now)}
	}
	if s := w.Seat; s != nil && d.Index(s.Workspace) >= 0 {
		o.Seat = seatFrom(&s.Seat)
		o.Seat.Workspace, o.Seat.Monitor = d.Index(s.Workspace)+1, letterFrom(s.Monitor)
	}
	if w.MinW != 0 || w.MinH != 0 {
		o.Min = &[2]int{w.MinW, w.MinH}
	}
	if w.Minimised { // on no list, so it says itself where it is
		o.Workspace, o.Monitor, o.Floating = d.Index(w.Workspace)+1, letterFrom(w.Monitor), w.Floating
	}
	return o
}

func seatFrom(s *layout.Seat) *seatOut {
	if s == nil {
		return nil
	}
	return &seatOut{Beside: s.Beside, Split: s.Split.String(), After: s.After, Share: s.Share, Pair: s.Pair, Other: s.Other, Outer: seatFrom(s.Outer)}
}

func sizesFrom(z desk.Sizes) *sizesOut {
	pair := func(a, b int) *[2]int {
		if a == 0 && b == 0 {
			return nil
		}
		return &[2]int{a, b}
	}
	return &sizesOut{pair(z.MaxW, z.MaxH), pair(z.BaseW, z.BaseH), pair(z.IncW, z.IncH), pair(z.Least[0], z.Least[1]), pair(z.Most[0], z.Most[1]), z.Frame}
}
