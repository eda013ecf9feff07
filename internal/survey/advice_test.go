package survey

import (
	"encoding/json"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
	"time"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
	"zatlas/internal/testkit/desks"
)

// eachOrder calls f with every order of n workspaces, the smaller numbers first.
func eachOrder(n int, f func(order []int)) {
	var order []int
	var put func()
	put = func() {
		if len(order) == n {
			f(order)
		}
		for i := range n {
			if !slices.Contains(order, i) {
				order = append(order, i)
				put()
				order = order[:len(order)-1]
			}
		}
	}
	put()
}

func TestBestOrderIsThatOfAllOrders(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 8))
	for try := range 120 {
		n := 1 + try%8
		c := newCounts(n)
		for i := range c {
			for j := range c {
				if i != j && r.IntN(3) > 0 {
					c[i][j] = r.IntN(4) // few values, and so many ties
				}
			}
		}
		var want []int
		eachOrder(n, func(order []int) {
			if want == nil || c.worth(order) < c.worth(want) {
				want = slices.Clone(order)
			}
		})
		if got, exact := c.best(); !exact || !slices.Equal(got, want) {
			t.Fatalf("for %v it is %v, want %v", c, got, want)
		}
		near := c.near()
		if cost := c.cost(near); cost < c.cost(want) || c.worth(near) > c.worth(identity(n)) {
			t.Fatalf("near the best is %v at %d, the best %d", near, cost, c.cost(want))
		}
	}
}

func identity(n int) []int {
	order := make([]int, n)
	for i := range order {
		order[i] = i
	}
	return order
}

// Two that are switched between are brought together, with as few others turned
// round as can be, and of two such orders it is the one of smaller numbers first.
func TestTies(t *testing.T) {
	for _, c := range []struct {
		n, from, to int
		want        []int
	}{{3, 0, 2, []int{0, 2, 1}}, {4, 0, 3, []int{0, 3, 1, 2}}, {4, 1, 3, []int{0, 1, 3, 2}}, {5, 0, 1, []int{0, 1, 2, 3, 4}}, {1, 0, 0, []int{0}}} {
		k := newCounts(c.n)
		k[c.from][c.to] = 9
		if got, _ := k.best(); !slices.Equal(got, c.want) {
			t.Errorf("%d to %d of %d: %v, want %v", c.from, c.to, c.n, got, c.want)
		}
	}
}

func TestSwapped(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 9))
	c := newCounts(25)
	for i := range c {
		for j := range c {
			c[i][j] = r.IntN(50) * min(1, max(i-j, j-i))
		}
	}
	order := r.Perm(25)
	for place := range 24 {
		was, by := c.worth(order), c.swapped(order, place)
		order[place], order[place+1] = order[place+1], order[place]
		if got := c.worth(order); got != was+by {
			t.Fatalf("at %d it says %d, and is %d", place, by, got-was)
		}
	}
	if got, exact := c.best(); exact || c.cost(got) > c.cost(identity(25)) {
		t.Errorf("of 25 workspaces: exact %v, cost %d of %d", exact, c.cost(got), c.cost(identity(25)))
	}
}

func TestAdvise(t *testing.T) {
	// Reel Ledger on 1 and Guest Rota on 4 in turn, with a minute at Gone, and one
	// of a workspace without a name, 6.
	lines := []string{"2026-11-26 09:00:00 60 1Programme Reel_Ledger"}
	for _, l := range []string{"09:01:00 60 4Guests Guest_Rota", "09:02:00 60 1Programme Reel_Ledger", "09:03:00 60 4Guests Guest_Rota", "09:04:00 600 4Guests Press_List",
		"09:14:00 60 2Gone Tin_Radio", "09:15:00 60 6 Tin_Radio", "09:16:00 4000 1Programme Tin_Radio"} {
		lines = append(lines, "2026-11-26 "+l)
	}
	spans := spansOf(t, lines...)
	for i := range spans {
		spans[i].App = strings.ReplaceAll(spans[i].App, "_", " ")
	}
	d := desks.Demo(t)
	a := Advise(Data{Spans: spans}, Keyboard{}, d)
	got, err := json.Marshal(a)
	want := `{"spans":8,"left_out":1,"by_way":{"order":[2,3,4,1,6,5],"now":14,"best":4,"exact":true},"by_use":{"order":[1,4,6,2,3,5],"seconds":[4120,0,0,720,0,60]},` +
		`"together":[{"apps":["Reel Ledger","Guest Rota"],"turns":3,"workspaces":[1,4]}],"apart":[{"apps":["Reel Ledger","Tin Radio"],"workspace":1}],"idle":{"windows":[],"workspaces":[2,3,5,6]},"by_keys":[]}`
	if err != nil || string(got) != want {
		t.Errorf("the advice is\n%s, %v\nwant\n%s", got, err, want)
	}
	// Every command of it can be said in words, and carried out.
	n := 0
	for _, it := range a.Items(d) {
		if it.Command.Verb == "" {
			continue
		}
		n++
		c, err := lang.ParseCommand(lang.Print(it.Command))
		if err != nil {
			t.Fatalf("%s: %v", lang.Print(it.Command), err)
		}
		if _, r, err := d.Apply(c); err != nil {
			t.Errorf("%s: %v, %v", lang.Print(c), r.Words, err)
		}
	}
	if n != 6 {
		t.Errorf("%d pieces of advice can be followed: %+v", n, a.Items(d))
	}
	if words := a.Items(d)[0].Worth; words != "Next and previous would be 4 steps for these 4 switches instead of 14." {
		t.Errorf("it is worth: %s", words)
	}
	next, _, err := d.Apply(a.Items(d)[0].Command)
	if err != nil || next.Workspaces[2].Name != "Guests" || next.Workspaces[4].Name != "Late night" || next.Undo() == "" {
		t.Errorf("the order by way leads to %s, %s: %v", next.Workspaces[2].Name, next.Workspaces[4].Name, err)
	}
}

func TestAdviseOfNothing(t *testing.T) {
	d := desks.Demo(t)
	a := Advise(Data{}, Keyboard{}, d)
	if len(a.Idle.Workspaces) != 0 || a.ByWay.Now != 0 || !slices.IsSorted(a.ByWay.Order) || !slices.IsSorted(a.ByUse.Order) {
		t.Errorf("of no spans: %+v", a)
	}
	now := time.Now().Unix()
	d, _ = d.With(desk.Changed{ID: 31, Change: func(w *desk.Window) { w.UsedAt = now - 8*24*3600 }}, desk.Changed{ID: 32, Change: func(w *desk.Window) { w.UsedAt = now - 6*24*3600 }})
	if a = Advise(Data{}, Keyboard{}, d.AtTime(now)); !slices.Equal(a.Idle.Windows, []int{31}) {
		t.Errorf("idle are %v", a.Idle.Windows)
	}
	for _, it := range a.Items(d) {
		if it.Command.Verb != "" {
			t.Errorf("there is a command: %+v", it)
		}
	}
}
