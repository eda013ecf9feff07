package survey

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"zatlas/internal/desk"
)

// Advice is what could be ordered better on a desk, by what the work was like. It is
// never followed by itself.
type Advice struct {
	Spans    int        `json:"spans"`    // that it is made from
	LeftOut  int        `json:"left_out"` // of those, on workspaces that are no more
	ByWay    Way        `json:"by_way"`
	ByUse    Use        `json:"by_use"`
	Together []Together `json:"together"`
	Apart    []Apart    `json:"apart"`
	Idle     Idle       `json:"idle"`
	ByKeys   []ByKeys   `json:"by_keys"`

	switches int // between workspaces of the desk
}

// Way is the order by which next and previous take the fewest steps. Orders are
// today's numbers from first to last.
type Way struct {
	Order []int `json:"order"`
	Now   int   `json:"now"`  // steps in today's order
	Best  int   `json:"best"` // steps in this one
	Exact bool  `json:"exact"`
}

// Use is the order by time, the most first.
type Use struct {
	Order   []int `json:"order"`
	Seconds []int `json:"seconds"` // in today's order

	steps int
}

// Together is two apps used in turn that lie on different workspaces: the first app
// on the first of them.
type Together struct {
	Apps       [2]string `json:"apps"`
	Turns      int       `json:"turns"`
	Workspaces [2]int    `json:"workspaces"`
}

// Apart is two apps on one workspace that were both used there, and never in turn.
type Apart struct {
	Apps      [2]string `json:"apps"`
	Workspace int       `json:"workspace"`
}

// Idle is what is hardly used: windows by id, workspaces by number.
type Idle struct {
	Windows    []int `json:"windows"`
	Workspaces []int `json:"workspaces"`
}

// What is worth saying.
const (
	maxPairs  = 5
	IdleDays  = 7  // a window without the focus for so long is idle
	hardly    = 2  // per cent of the time
	usedAtAll = 60 // seconds that an app had somewhere, at least
)

// spot is an app on a workspace, by its index.
type spot struct {
	app   string
	index int
}

// Advise works out what could be ordered better on a desk, and which chords would save the
// most keys. The spans are in order.
func Advise(data Data, k Keyboard, d *desk.Desk) *Advice {
	spans := data.Spans
	a := &Advice{Spans: len(spans), Together: []Together{}, Apart: []Apart{}, Idle: Idle{[]int{}, []int{}}, ByKeys: adviseKeys(data.Tallies, k, d)}
	byName := map[string]int{}
	for i, ws := range d.Workspaces {
		if ws.Name != "" {
			byName[ws.Name] = i
		}
	}
	// The workspaces of spans are those of the desk by name, nameless ones by number.
	index := func(s Span) int {
		if i, ok := byName[s.Workspace]; ok && s.Workspace != "" {
			return i
		}
		if s.Workspace == "" && s.Number <= len(d.Workspaces) {
			return s.Number - 1
		}
		return -1
	}
	seconds := make([]int, len(d.Workspaces))
	used := map[spot]int{}
	for _, s := range spans {
		i := index(s)
		if i < 0 {
			a.LeftOut++
			continue
		}
		seconds[i] += s.Seconds
		used[spot{s.App, i}] += s.Seconds
	}
	c := newCounts(len(d.Workspaces))
	inTurn := map[[2]spot]int{}
	for _, t := range turns(spans) {
		from, to := spot{t.from.App, index(t.from)}, spot{t.to.App, index(t.to)}
		if from.index < 0 || to.index < 0 {
			continue
		}
		if from.index != to.index {
			c[from.index][to.index]++
			a.switches++
		}
		if from.app != to.app {
			inTurn[pairOf(from, to)]++
		}
	}
	a.orders(c, seconds)
	a.pairs(d, inTurn, used)
	a.idle(d, seconds)
	return a
}

// pairOf is two spots in the order of their workspaces.
func pairOf(p, q spot) [2]spot {
	if cmp.Or(cmp.Compare(p.index, q.index), strings.Compare(p.app, q.app)) > 0 {
		p, q = q, p
	}
	return [2]spot{p, q}
}

func (a *Advice) orders(c counts, seconds []int) {
	today := make([]int, len(c))
	for i := range today {
		today[i] = i
	}
	best, exact := c.best()
	a.ByWay = Way{numbers(best), c.cost(today), c.cost(best), exact}
	slices.SortStableFunc(today, func(i, j int) int { return cmp.Compare(seconds[j], seconds[i]) })
	a.ByUse = Use{numbers(today), seconds, c.cost(today)}
}

// numbers are the numbers of indexes.
func numbers(order []int) []int {
	ns := make([]int, len(order))
	for place, i := range order {
		ns[place] = i + 1
	}
	return ns
}

// pairs finds the apps that belong together, and those that do not.
func (a *Advice) pairs(d *desk.Desk, inTurn map[[2]spot]int, used map[spot]int) {
	byTurns := func(p, q [2]spot) int {
		return cmp.Or(cmp.Compare(inTurn[q], inTurn[p]), comparePairs(p, q))
	}
	for _, p := range slices.SortedFunc(maps.Keys(inTurn), byTurns) {
		if p[0].index != p[1].index && len(a.Together) < maxPairs && inTurn[p] > 1 {
			a.Together = append(a.Together, Together{[2]string{p[0].app, p[1].app}, inTurn[p], [2]int{p[0].index + 1, p[1].index + 1}})
		}
	}
	open := map[spot]bool{}
	for _, w := range d.Windows {
		open[spot{w.App, d.Index(w.Workspace)}] = true
	}
	var apart [][2]spot
	for p, n := range used {
		for q := range used {
			pair := pairOf(p, q)
			if p.index == q.index && pair == [2]spot{p, q} && p != q && open[p] && open[q] && min(n, used[q]) >= usedAtAll && inTurn[pair] == 0 {
				apart = append(apart, pair)
			}
		}
	}
	slices.SortFunc(apart, func(p, q [2]spot) int {
		return cmp.Or(cmp.Compare(min(used[q[0]], used[q[1]]), min(used[p[0]], used[p[1]])), comparePairs(p, q))
	})
	for _, p := range apart[:min(len(apart), maxPairs)] {
		a.Apart = append(a.Apart, Apart{[2]string{p[0].app, p[1].app}, p[0].index + 1})
	}
}

func comparePairs(p, q [2]spot) int {
	return cmp.Or(cmp.Compare(p[0].index, q[0].index), cmp.Compare(p[1].index, q[1].index), strings.Compare(p[0].app, q[0].app), strings.Compare(p[1].app, q[1].app))
}

func (a *Advice) idle(d *desk.Desk, seconds []int) {
	for _, w := range d.Windows {
		if n, known := d.Idle(w); known && n >= IdleDays*24*60*60 {
			a.Idle.Windows = append(a.Idle.Windows, w.ID)
		}
	}
	all := sum(seconds)
	for i, n := range seconds {
		if all > 0 && n*100 < all*hardly && !(d.Settings.Growing && i == len(d.Workspaces)-1 && d.Count(i) == 0) {
			a.Idle.Workspaces = append(a.Idle.Workspaces, i+1)
		}
	}
}

// Item is one piece of advice: what it says, and the command that follows it; its
// verb is empty where there is none.
type Item struct {
	Head    string // of its group; empty for the next of one
	Words   string
	Worth   string // what it would be worth, in a sentence
	Command desk.Command
	Chord   string // that would stand for Form, in its place; empty for none
	Form    string
}

// Does tells whether there is something to be done by itself.
func (i Item) Does() bool { return i.Command.Verb != "" || i.Chord != "" }

// Items are the pieces of advice on a desk, in words.
func (a *Advice) Items(d *desk.Desk) (items []Item) {
	way, near := "Order by way", ""
	if !a.ByWay.Exact {
		near = "near best: "
	}
	switch {
	case a.switches == 0:
		items = append(items, Item{Head: way, Words: "No switches are kept to go by."})
	case a.ByWay.Best == a.ByWay.Now:
		items = append(items, Item{Head: way, Words: "Today's order is " + map[bool]string{true: "the best", false: "near best"}[a.ByWay.Exact] + " for how you switch.", Worth: a.stepsNow()})
	default:
		items = append(items, Item{Head: way, Words: near + orderWords(d, a.ByWay.Order), Worth: a.steps(a.ByWay.Best), Command: orderCommand(a.ByWay.Order)})
	}
	if slices.IsSorted(a.ByUse.Order) {
		items = append(items, Item{Head: "Order by use", Words: "Today's order has what is used most first."})
	} else {
		items = append(items, Item{Head: "Order by use", Words: orderWords(d, a.ByUse.Order), Worth: a.steps(a.ByUse.steps), Command: orderCommand(a.ByUse.Order)})
	}
	head := "Belong together"
	for _, t := range a.Together {
		it := Item{Head: head, Words: fmt.Sprintf("%s on %s and %s on %s", t.Apps[0], d.Title(t.Workspaces[0]-1), t.Apps[1], d.Title(t.Workspaces[1]-1))}
		it.Command = gather(d, t)
		it.Worth = fmt.Sprintf("Used in turn %d times, over a switch each time.", t.Turns)
		items, head = append(items, it), ""
	}
	head = "Never used in turn"
	for _, p := range a.Apart {
		items, head = append(items, Item{Head: head, Words: fmt.Sprintf("%s and %s, both on %s", p.Apps[0], p.Apps[1], d.Title(p.Workspace-1))}), ""
	}
	head = "Hardly used"
	for _, n := range a.Idle.Workspaces {
		it := Item{Head: head, Words: "Workspace " + d.Title(n-1), Worth: fmt.Sprintf("%s of %s in all.", Duration(a.ByUse.Seconds[n-1]), Duration(sum(a.ByUse.Seconds)))}
		if n < len(d.Workspaces) {
			it.Command = desk.Command{Verb: "reorder", Args: []desk.Arg{{Kind: desk.Number, N: n}, {Kind: desk.Keyword, Word: "to"}, {Kind: desk.Number, N: len(d.Workspaces)}}}
		}
		items, head = append(items, it), ""
	}
	if n := len(a.Idle.Windows); n > 0 {
		var names []string
		for _, id := range a.Idle.Windows[:min(n, maxPairs)] {
			names = append(names, fmt.Sprintf("#%d %s", id, d.Window(id).App))
		}
		if n > maxPairs {
			names = append(names, fmt.Sprintf("and %d more", n-maxPairs))
		}
		items = append(items, Item{Head: fmt.Sprintf("Not touched for %d days", IdleDays), Words: strings.Join(names, ", ")})
	}
	head = "Keys that could be saved"
	for _, b := range a.ByKeys {
		items, head = append(items, Item{Head: head, Words: b.words(), Worth: b.worth(), Chord: b.Chord, Form: b.Form}), ""
	}
	return items
}

// steps say what an order is worth.
func (a *Advice) steps(n int) string {
	return fmt.Sprintf("Next and previous would be %d steps for these %s instead of %d.", n, counted(a.switches, "switch", "switches"), a.ByWay.Now)
}

func (a *Advice) stepsNow() string {
	return fmt.Sprintf("Next and previous are %d steps for these %s.", a.ByWay.Now, counted(a.switches, "switch", "switches"))
}

// orderWords are the titles of workspaces in an order.
func orderWords(d *desk.Desk, order []int) string {
	var names []string
	for _, n := range order {
		names = append(names, d.Title(n-1))
	}
	return strings.Join(names, ", ")
}

// orderCommand is the command that puts the workspaces in an order.
func orderCommand(order []int) desk.Command {
	var words []string
	for _, n := range order {
		words = append(words, strconv.Itoa(n))
	}
	return desk.Command{Verb: "reorder", Args: []desk.Arg{{Kind: desk.Keyword, Word: "as"}, {Kind: desk.Order, Word: strings.Join(words, ",")}}}
}

// gather is the command that brings two apps on to one workspace: the one with fewer
// windows goes to the other. It has no verb where one of them is not there.
func gather(d *desk.Desk, t Together) desk.Command {
	of := func(k int) desk.Query {
		return desk.And{Qs: []desk.Query{desk.ByApp{Text: t.Apps[k], Whole: true}, desk.On{Number: t.Workspaces[k]}}}
	}
	first, second := len(d.Select(of(0))), len(d.Select(of(1)))
	goes, to := 1, t.Workspaces[0]
	if first < second {
		goes, to = 0, t.Workspaces[1]
	}
	if first == 0 || second == 0 {
		return desk.Command{}
	}
	return desk.Command{Verb: "send", Args: []desk.Arg{{Kind: desk.Number, N: to}}, Of: of(goes)}
}
