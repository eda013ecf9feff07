package x11

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/host/x11/paint"
	"zatlas/internal/keeper"
)

// listCheck is how often the server is asked whether what holds a list is still down, in
// case its release was missed.
const listCheck = time.Second

// listWait is how long the release of modifiers is waited for that are up as the server has
// it: where they were never down, none comes.
const listWait = 20 * time.Millisecond

// heldList is a list that shows as long as the modifiers of its chord are down.
type heldList struct {
	kind  string // of prompt.Lists
	mods  []xproto.Keycode
	items []heldItem
	at    int
	check time.Time
}

// heldItem is a row of a list: a window or a workspace, by its id.
type heldItem struct {
	id   int
	text string
}

// startList shows a list with the one before chosen. The keyboard stands still.
func (h *Host) startList(c Chord, e xproto.KeyPressEvent) {
	mods, _ := h.keys.Of(c.Modifiers)
	l := &heldList{kind: c.Command, mods: h.keys.codesOf(mods &^ xproto.ModMaskShift)}
	l.items, l.at = h.listed(l.kind)
	if len(l.items) == 0 {
		h.say("Nothing is open.")
		return
	}
	if !h.takeKeyboard(e.Time) {
		return
	}
	h.ours.list = l
	h.stay()
	if h.down(l.mods...) {
		l.check = time.Now().Add(listCheck)
		h.showList()
	} else { // let go of already: its release, and what came before it, is on the way
		l.check = time.Now().Add(listWait)
	}
	h.wakeAt(l.check)
}

// codesOf are the keys of modifiers.
func (k *keyboard) codesOf(mods uint16) (codes []xproto.Keycode) {
	per := len(k.board.Mods) / 8
	for i, code := range k.board.Mods {
		if mods&(1<<(i/max(per, 1))) != 0 && code != 0 {
			codes = append(codes, code)
		}
	}
	return codes
}

// listed are the rows of a list, and which is chosen first: that of the one before.
func (h *Host) listed(kind string) (items []heldItem, at int) {
	d := h.desk
	if kind == "workspaces" { // in their order, which is known by heart
		for i, w := range d.Workspaces {
			items = append(items, heldItem{w.ID, joined(w.Name, windowCount(d.Count(i)))})
			if len(d.Recent) > 1 && w.ID == d.Recent[1] {
				at = i
			}
		}
		return items, at
	}
	focus := d.Window(d.Focus)
	for _, w := range d.Latest() {
		if kind == "here" && !d.IsShown(w.Workspace) || kind == "app" && (focus == nil || w.App != focus.App) {
			continue
		}
		state := ""
		if w.Minimised {
			state = "minimised"
		}
		items = append(items, heldItem{w.ID, joined(d.Ref(w), w.Label(), state)})
	}
	if len(items) > 1 && items[0].id == d.Focus {
		at = 1
	}
	return items, at
}

// joined is what is not empty, with dots between.
func joined(words ...string) string {
	return strings.Join(slices.DeleteFunc(words, func(w string) bool { return w == "" }), " · ")
}

var listHeads = map[string]string{"recent": "Recent windows", "workspaces": "Workspaces", "app": "Windows of ", "here": "Windows here"}

// showList draws the list.
func (h *Host) showList() {
	l := h.ours.list
	rows := make([]paint.CardRow, len(l.items))
	for i, it := range l.items {
		if i < 9 {
			rows[i].Key = fmt.Sprint(i + 1)
		}
		rows[i].Text = it.text
	}
	head := listHeads[l.kind]
	if w := h.desk.Window(l.items[0].id); l.kind == "app" && w != nil {
		head += w.App
	}
	foot := "Letting go goes there, Shift back, x closes, Escape stays"
	if l.kind == "workspaces" {
		foot = "Letting go goes there, Shift back, Escape stays"
	}
	h.drawn.Strip.Hide()
	h.ours.shows = true
	h.drawn.Card.Show(head, rows, foot, l.at, h.desk.Monitor(h.desk.At).Work)
}

// listKey follows a key while a list is held.
func (h *Host) listKey(names []string, code xproto.Keycode, shift bool) {
	l := h.ours.list
	step := map[string]int{"Up": -1, "Left": -1, "Down": 1, "Right": 1}[names[0]]
	if code == h.ours.code {
		step = 1
		if shift {
			step = -1
		}
	}
	digit := slices.IndexFunc(names, func(n string) bool { return len(n) == 1 && n[0] >= '1' && n[0] <= '9' })
	switch {
	case step != 0:
		l.at = (l.at + step + len(l.items)) % len(l.items)
		h.showList()
	case names[0] == "Escape":
		h.ours.code = code
		h.end("")
	case names[0] == "Return" || names[0] == "Space":
		h.ours.code = code
		h.acceptList()
	case digit >= 0 && int(names[digit][0]-'1') < len(l.items):
		l.at = int(names[digit][0] - '1')
		h.showList()
	case slices.Contains(names, "x") && l.kind != "workspaces":
		h.events = append(h.events, keeper.Event{Command: &desk.Command{Verb: "close", Of: desk.ByID{ID: l.items[l.at].id}}, Source: keeper.Chord})
	}
}

// listReleased goes to the chosen one when the last modifier of the list is let go of.
func (h *Host) listReleased(code xproto.Keycode) {
	if l := h.ours.list; slices.Contains(l.mods, code) && !h.down(l.mods...) {
		h.acceptList()
	}
}

// listTick notices a release that was missed.
func (h *Host) listTick(now time.Time) {
	l := h.ours.list
	if l == nil {
		return
	}
	if !now.Before(l.check) {
		l.check = now.Add(listCheck)
		if !h.down(l.mods...) {
			h.acceptList()
			return
		}
	}
	h.wakeAt(l.check)
}

// acceptList goes to what is chosen.
func (h *Host) acceptList() {
	l := h.ours.list
	it := l.items[l.at]
	c := desk.Command{Verb: "focus", Args: []desk.Arg{{Kind: desk.Item, N: it.id}}}
	if i := h.desk.Index(it.id); l.kind == "workspaces" {
		c = desk.Command{Verb: "go", Args: []desk.Arg{{Kind: desk.Number, N: i + 1}}}
	}
	h.end("")
	h.events = append(h.events, keeper.Event{Command: &c, Source: keeper.Chord})
}

// renewList takes in what has become of the windows of a list.
func (h *Host) renewList() {
	l := h.ours.list
	if l == nil {
		return
	}
	gone := func(it heldItem) bool {
		if l.kind == "workspaces" {
			return h.desk.Index(it.id) < 0
		}
		return h.desk.Window(it.id) == nil
	}
	if !slices.ContainsFunc(l.items, gone) {
		return
	}
	if l.items, l.at = left(l.items, l.at, gone); len(l.items) == 0 {
		h.end("")
		return
	}
	h.showList()
}

// left is what is left of a list, and where the choice is: on its row, or on the one that
// has come to its place.
func left(items []heldItem, at int, gone func(heldItem) bool) ([]heldItem, int) {
	chosen := at
	for _, it := range items[:at] {
		if gone(it) {
			chosen--
		}
	}
	items = slices.DeleteFunc(items, gone)
	return items, min(chosen, len(items)-1)
}

func windowCount(n int) string {
	if n == 0 {
		return "empty"
	}
	return desk.Counted(n, "window")
}
