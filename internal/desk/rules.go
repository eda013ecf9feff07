package desk

import (
	"fmt"
	"slices"
	"sync"

	"zatlas/internal/layout"
)

// Rule says what becomes of a window that opens and matches.
type Rule struct {
	Query    Query
	To       *Arg // a workspace, a sheet or a monitor; nil for where it would open
	Position string
	Layout   string // of the sheet it opens on, where it is the first there
	Float    bool
	Sticky   bool
	NoFocus  bool // it does not take the focus
	Above    bool
	NoBorder bool // the host draws no border around it
	Leave    bool // it is not managed at all
	Stray    bool // it may open out of reach
	Private  bool // its windows are never pictured; any rule that matches counts
	Also     bool // the rules after this one count too
}

// Places are the words of a rule's Place: where in the order of its sheet a
// window opens.
func Places() []string { return []string{"first", "last"} }

// Ruling is what the rules make of a window that opens: the first that matches,
// and those after it as long as they have "also".
type Ruling struct {
	Rule
	Matched []int  // the rules that match, as indexes
	Used    []int  // those of them that count
	Fault   string // why its place does not count, in a sentence; empty where it does
}

// Rule works out what the rules say of a window, which need not be on the desk.
func (d *Desk) Rule(w *Window) Ruling {
	var r Ruling
	over, book := false, d.book
	if !book.of(d.Settings.Rules) {
		book = newRulebook(d.Settings.Rules)
	}
	for _, i := range book.candidates(w) {
		rule := d.Settings.Rules[i]
		if !rule.Query.match(d, w) {
			continue
		}
		r.Matched = append(r.Matched, i)
		r.Private = r.Private || rule.Private // whatever counts: better once too often
		if over {
			continue
		}
		r.Used = append(r.Used, i)
		if rule.To != nil && r.To == nil {
			r.To = rule.To
		}
		if r.Position == "" {
			r.Position = rule.Position
		}
		if r.Layout == "" {
			r.Layout = rule.Layout
		}
		r.Float, r.Sticky, r.NoFocus = r.Float || rule.Float, r.Sticky || rule.Sticky, r.NoFocus || rule.NoFocus
		r.Above, r.Leave, r.Stray = r.Above || rule.Above, r.Leave || rule.Leave, r.Stray || rule.Stray
		r.NoBorder = r.NoBorder || rule.NoBorder
		over = !rule.Also
	}
	return r
}

// rulebook finds the rules that can match the windows of an app. What it has found it keeps.
type rulebook struct {
	rules []Rule
	mu    sync.Mutex
	by    map[[2]string][]int // indexes of rules, by app and class
}

// maxBook bounds the apps it keeps that for.
const maxBook = 100

func newRulebook(rules []Rule) *rulebook { return &rulebook{rules: rules, by: map[[2]string][]int{}} }

// of tells whether the book is that of these rules.
func (b *rulebook) of(rules []Rule) bool {
	return b != nil && len(b.rules) == len(rules) && (len(rules) == 0 || &b.rules[0] == &rules[0])
}

// candidates are the indexes of the rules that can match a window, by its app and class alone.
func (b *rulebook) candidates(w *Window) []int {
	key := [2]string{w.App, w.Class}
	b.mu.Lock()
	defer b.mu.Unlock()
	found, known := b.by[key]
	if !known {
		for i, rule := range b.rules {
			if can(rule.Query, w) {
				found = append(found, i)
			}
		}
		if len(b.by) >= maxBook {
			clear(b.by)
		}
		b.by[key] = found
	}
	return found
}

// can tells whether a query can match a window of this app and class.
func can(q Query, w *Window) bool {
	switch q := q.(type) {
	case ByApp:
		return q.match(nil, w)
	case Not:
		app, is := q.Q.(ByApp)
		return !is || !app.match(nil, w)
	case And:
		return !slices.ContainsFunc(q.Qs, func(q Query) bool { return !can(q, w) })
	case Or:
		return slices.ContainsFunc(q.Qs, func(q Query) bool { return can(q, w) })
	}
	return true
}

// RuleFault tells why the place that a rule names does not count on this desk;
// nil where it does, or the rule names none.
func (d *Desk) RuleFault(r Rule) error {
	if r.To == nil {
		return nil
	}
	e := d.edit()
	p, err := e.resolve(*r.To, e.Current())
	if err != nil {
		return err
	}
	return e.atHome(p)
}

// obey gives a window that opens what the rules say, before it is laid. A place
// that is not there does not count, and one that is placed stays there.
func (e *edit) obey(w *Window, placed bool) Ruling {
	r := e.Rule(w)
	w.Floating, w.Sticky, w.Above = w.Floating || r.Float, w.Sticky || r.Sticky, w.Above || r.Above
	if r.To == nil || placed {
		return r
	}
	p, err := e.resolve(*r.To, e.Current())
	if err == nil {
		err = e.atHome(p)
	}
	if err != nil {
		r.Fault = fmt.Sprintf("The rule for it cannot be followed: %s.", err)
		return r
	}
	if p.workspace < 0 && e.Settings.Separate {
		p.workspace = e.shownOn(p.letter)
	}
	if p.workspace >= 0 {
		w.Workspace = e.Workspaces[p.workspace].ID
	}
	if p.letter != 0 {
		w.Monitor = p.letter
	}
	return r
}

// layBy gives a sheet the layout that a rule names for a window that is the first
// one tiled there.
func (e *edit) layBy(w *Window, name string) {
	i := e.Index(w.Workspace)
	k, ok := layout.ParseKind(name)
	if s := e.Sheet(i, w.Monitor); ok && !w.floats() && !w.Minimised && (s == nil || s.Tiles == nil) {
		s := e.sheet(i, w.Monitor)
		s.Layout, s.Kept = k, nil
	}
}

// placeInOrder puts a tile that was just laid where a rule says in its sheet.
func (e *edit) placeInOrder(w *Window, place string) {
	i := e.Index(w.Workspace)
	s := e.Sheet(i, w.Monitor)
	ids := s.Tiles.Windows()
	if place == "" || !slices.Contains(ids, w.ID) {
		return
	}
	ids = without(ids, w.ID)
	if place == "first" {
		ids = append([]int{w.ID}, ids...)
	} else {
		ids = append(ids, w.ID)
	}
	n := 0
	e.sheet(i, w.Monitor).setTiles(layout.Map(s.Tiles, func(int) int { n++; return ids[n-1] }))
}
