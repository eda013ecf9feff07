package alongside

import (
	"errors"
	"slices"
	"strings"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/host/display"
	"zatlas/internal/keeper"
)

// top is what the root window says of the desk.
type top struct {
	check     xproto.Window // the manager's window; 0 where nobody manages
	name      string        // what the manager calls itself
	ours      bool          // it is that of a keeper of this program
	supported map[xproto.Atom]bool
	list      []xproto.Window
	stacking  []xproto.Window
	count     int
	names     []string // as they are written
	current   int
	active    xproto.Window
	bare      bool
}

// The most that is read of a property, in units of 4 bytes.
const (
	maxList = 1 << 16
	maxText = 1024
	maxSome = 256
)

// allOfTop are the properties of the root that are followed.
var allOfTop = []string{
	"_NET_SUPPORTED", "_NET_CLIENT_LIST", "_NET_CLIENT_LIST_STACKING", "_NET_NUMBER_OF_DESKTOPS", "_NET_DESKTOP_NAMES", "_NET_CURRENT_DESKTOP",
	"_NET_ACTIVE_WINDOW", "_NET_SHOWING_DESKTOP",
}

func (h *Host) ask(win xproto.Window, name string, units uint32) xproto.GetPropertyCookie {
	return xproto.GetProperty(h.conn, false, win, h.reader.Property(name), xproto.GetPropertyTypeAny, 0, units)
}

// errNoProperties is the error of a manager that keeps to ICCCM alone.
var errNoProperties = errors.New("the manager of this display keeps none of the properties by which others see its windows (EWMH)")

// readManager finds out who manages the display: a window that the root and it itself
// name (EWMH, _NET_SUPPORTING_WM_CHECK).
func (h *Host) readManager() error {
	owner := xproto.GetSelectionOwner(h.conn, h.owned)
	named := display.Cards(h.ask(h.root, "_NET_SUPPORTING_WM_CHECK", 1))
	o, err := owner.Reply()
	h.top.check, h.top.ours = 0, false
	if len(named) == 0 {
		if err == nil && o.Owner != 0 {
			return errNoProperties
		}
		return ErrNoManager
	}
	win := xproto.Window(named[0])
	xproto.ChangeWindowAttributes(h.conn, win, xproto.CwEventMask, []uint32{xproto.EventMaskStructureNotify})
	name := h.ask(win, "_NET_WM_NAME", maxText)
	if itself := display.Cards(h.ask(win, "_NET_SUPPORTING_WM_CHECK", 1)); len(itself) == 0 || itself[0] != named[0] {
		if err == nil && o.Owner != 0 {
			return errNoProperties
		}
		return ErrNoManager
	}
	h.top.check = win
	h.top.name = desk.CleanText(display.Text(name, h.atoms["COMPOUND_TEXT"]), desk.MaxName)
	h.top.ours = h.top.name == keeper.ManagerName
	return nil
}

// readTop reads properties of the root, all at once.
func (h *Host) readTop(names []string) {
	cookies := map[string]xproto.GetPropertyCookie{}
	for _, name := range names {
		cookies[name] = h.ask(h.root, name, maxList)
	}
	one := func(name string, into *int) {
		if v := display.Cards(cookies[name]); len(v) > 0 {
			*into = int(v[0])
		}
	}
	for _, name := range names {
		switch name {
		case "_NET_SUPPORTED":
			h.top.supported = map[xproto.Atom]bool{}
			for _, a := range display.Cards(cookies[name]) {
				h.top.supported[xproto.Atom(a)] = true
			}
		case "_NET_CLIENT_LIST":
			h.top.list = windowsOf(display.Cards(cookies[name]))
		case "_NET_CLIENT_LIST_STACKING":
			h.top.stacking = windowsOf(display.Cards(cookies[name]))
		case "_NET_NUMBER_OF_DESKTOPS":
			one(name, &h.top.count)
		case "_NET_CURRENT_DESKTOP":
			one(name, &h.top.current)
		case "_NET_DESKTOP_NAMES":
			h.top.names = nil
			if text := display.Text(cookies[name], h.atoms["COMPOUND_TEXT"]); text != "" {
				h.top.names = strings.Split(strings.TrimSuffix(text, "\x00"), "\x00")
			}
		case "_NET_ACTIVE_WINDOW":
			n := 0
			one(name, &n)
			h.top.active = xproto.Window(n)
			h.atlas.seen(h.top.active)
		case "_NET_SHOWING_DESKTOP":
			n := 0
			one(name, &n)
			h.top.bare = n == 1
		}
	}
}

func windowsOf(v []uint32) []xproto.Window {
	wins := make([]xproto.Window, 0, len(v))
	for _, n := range v {
		wins = append(wins, xproto.Window(n))
	}
	return wins
}

// supports tells whether the manager says that it follows all of some requests.
func (h *Host) supports(names ...string) bool {
	return !slices.ContainsFunc(names, func(name string) bool { return !h.top.supported[h.atoms[name]] })
}

// lacks are the verbs for which the manager takes no request.
func (h *Host) lacks() (verbs []string) {
	for _, v := range []struct {
		verb  string
		needs []string
	}{
		{"go", []string{"_NET_CURRENT_DESKTOP"}},
		{"focus", []string{"_NET_ACTIVE_WINDOW"}},
		{"jump", []string{"_NET_ACTIVE_WINDOW"}},
		{"carry", []string{"_NET_WM_DESKTOP", "_NET_ACTIVE_WINDOW"}},
		{"stick", []string{"_NET_WM_DESKTOP"}},
		{"add", []string{"_NET_NUMBER_OF_DESKTOPS"}},
		{"remove", []string{"_NET_NUMBER_OF_DESKTOPS", "_NET_WM_DESKTOP"}},
		{"reorder", []string{"_NET_WM_DESKTOP"}},
		{"maximise", []string{"_NET_WM_STATE", "_NET_WM_STATE_MAXIMIZED_HORZ", "_NET_WM_STATE_MAXIMIZED_VERT"}},
		{"fullscreen", []string{"_NET_WM_STATE", "_NET_WM_STATE_FULLSCREEN"}},
		{"above", []string{"_NET_WM_STATE", "_NET_WM_STATE_ABOVE"}},
		{"below", []string{"_NET_WM_STATE", "_NET_WM_STATE_BELOW"}},
		{"bare", []string{"_NET_SHOWING_DESKTOP"}},
	} {
		if !h.supports(v.needs...) {
			verbs = append(verbs, v.verb)
		}
	}
	return verbs
}

// workspaces are the names of the workspaces, as many as there are.
func (h *Host) workspaces() []string {
	names := make([]string, min(max(h.top.count, 1), desk.MaxWorkspaces))
	copy(names, h.top.names)
	return names
}
