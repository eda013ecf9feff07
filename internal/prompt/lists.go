package prompt

import (
	"slices"
	"strings"

	"zatlas/internal/desk"
)

// List is what a chord that is held shows as long as its modifiers are down; the chosen
// one is gone to.
type List struct {
	Name, Help string
	Spaces     bool // of workspaces, else of windows
	head       string
	has        func(d *desk.Desk, w *desk.Window) bool
}

// ListRow is a row of a list: a window or a workspace, by its id.
type ListRow struct {
	ID   int
	Text string
}

// lists are those there are.
var lists = []List{
	{Name: "recent", Help: "Recent windows; letting go goes to the chosen one.", head: "Recent windows",
		has: func(*desk.Desk, *desk.Window) bool { return true }},
	{Name: "workspaces", Help: "The workspaces; letting go goes to the chosen one.", head: "Workspaces", Spaces: true},
	{Name: "app", Help: "The windows of this app; letting go goes to the chosen one.", head: "Windows of ",
		has: func(d *desk.Desk, w *desk.Window) bool { f := d.Window(d.Focus); return f != nil && w.App == f.App }},
	{Name: "here", Help: "The windows of this workspace; letting go goes to the chosen one.", head: "Windows here",
		has: func(d *desk.Desk, w *desk.Window) bool { return d.IsShown(w.Workspace) }},
}

// Lists are the names of the lists.
func Lists() (names []string) {
	for _, l := range lists {
		names = append(names, l.Name)
	}
	return names
}

// FindList finds a list by its name.
func FindList(name string) (l List, ok bool) {
	i := slices.IndexFunc(lists, func(l List) bool { return l.Name == name })
	if i < 0 {
		return List{}, false
	}
	return lists[i], true
}

// Rows are what is on the list, and which is chosen first: the one before. Workspaces
// stand in their order, which is known by heart.
func (l List) Rows(d *desk.Desk) (rows []ListRow, at int) {
	if l.Spaces {
		for i, ws := range d.Workspaces {
			count := "empty"
			if n := d.Count(i); n > 0 {
				count = desk.Counted(n, "window")
			}
			rows = append(rows, ListRow{ws.ID, dotted(ws.Name, count)})
			if len(d.Recent) > 1 && ws.ID == d.Recent[1] {
				at = i
			}
		}
		return rows, at
	}
	for _, w := range d.Latest() {
		if !l.has(d, w) {
			continue
		}
		state := ""
		if w.Minimised {
			state = "minimised"
		}
		rows = append(rows, ListRow{w.ID, dotted(d.Ref(w), w.Label(), state)})
	}
	if len(rows) > 1 && rows[0].ID == d.Focus {
		at = 1
	}
	return rows, at
}

// Head is what stands over some rows.
func (l List) Head(d *desk.Desk, rows []ListRow) string {
	if w := d.Window(rows[0].ID); strings.HasSuffix(l.head, " ") && w != nil {
		return l.head + w.App
	}
	return l.head
}

// Foot is what keys do while it is held.
func (l List) Foot() string {
	if l.Spaces {
		return "Release to switch · Shift back · Escape cancel"
	}
	return "Release to switch · Shift back · x close · Escape cancel"
}

// There tells whether a row is still of something.
func (l List) There(d *desk.Desk, r ListRow) bool {
	if l.Spaces {
		return d.Index(r.ID) >= 0
	}
	return d.Window(r.ID) != nil
}

// Verb is the verb that goes to a row.
func (l List) Verb() string {
	if l.Spaces {
		return "go"
	}
	return "focus"
}

// Go is the command that goes to a row.
func (l List) Go(d *desk.Desk, r ListRow) desk.Command {
	if l.Spaces {
		return desk.Command{Verb: l.Verb(), Args: []desk.Arg{{Kind: desk.Number, N: d.Index(r.ID) + 1}}}
	}
	return desk.Command{Verb: l.Verb(), Args: []desk.Arg{{Kind: desk.Item, N: r.ID}}}
}

// dotted is what is not empty, with dots between.
func dotted(words ...string) string {
	return strings.Join(slices.DeleteFunc(words, func(w string) bool { return w == "" }), " · ")
}
