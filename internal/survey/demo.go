package survey

import (
	"math/rand/v2"
	"time"
)

// Demo is three weeks of made-up use of the demo desk, up to a moment: the running
// order and the subtitles are switched between all day, the box office has its hours,
// Late night is hardly used. The same moment gives the same data.
func Demo(now time.Time) Data {
	g := &made{r: rand.New(rand.NewPCG(17, 1895)), now: now, counts: map[Tally]int{}}
	today := time.Date(now.Year(), now.Month(), now.Day(), 0, 0, 0, 0, now.Location())
	for n := 20; n >= 0; n-- {
		day := today.AddDate(0, 0, -n)
		switch day.Weekday() {
		case time.Sunday:
			continue
		case time.Saturday:
			g.hours(day, 10, 14)
		default:
			g.hours(day, 9, 13)
			g.hours(day, 14, 18)
			if day.Weekday() == time.Friday {
				g.hours(day, 19, 22)
			}
		}
	}
	d := Data{Spans: g.spans}
	for _, t := range g.tallies {
		t.N = g.counts[t]
		d.Tallies = append(d.Tallies, t)
	}
	return d
}

// made is made-up use in the making.
type made struct {
	r       *rand.Rand
	now     time.Time
	spans   []Span
	counts  map[Tally]int // by the tally without its number
	tallies []Tally       // in the order in which they came
	busy    int           // how crowded it is
}

func (g *made) count(day string, k Kind, name string, n int) {
	t := Tally{Day: day, Kind: k, Name: name}
	if _, there := g.counts[t]; !there {
		g.tallies = append(g.tallies, t)
	}
	if k.Most() {
		g.counts[t] = max(g.counts[t], n)
	} else {
		g.counts[t] += n
	}
}

// madePlaces are the demo desk's workspaces with what is used there.
var madePlaces = []struct {
	name string
	apps []string
	next [6]int // how likely which workspace follows
}{
	{"Programme", []string{"Reel Ledger", "Screening Times", "Projection Log", "Reel Ledger"}, [6]int{0, 24, 2, 1, 5, 0}},
	{"Subtitles", []string{"Subtitle Bench", "Subtitle Bench", "Trailer Cutter"}, [6]int{24, 0, 1, 1, 2, 0}},
	{"Box office", []string{"Ticket Till", "Print Traffic", "Hall Plan"}, [6]int{4, 1, 0, 4, 1, 0}},
	{"Guests", []string{"Guest Rota", "Press List"}, [6]int{3, 1, 4, 0, 1, 0}},
	{"Press", []string{"Press List", "Poster Board", "Trailer Cutter"}, [6]int{9, 2, 1, 1, 0, 0}},
	{"Late night", []string{"Tin Radio"}, [6]int{1, 0, 0, 0, 0, 0}},
}

// hours makes up use from one hour of a day to another.
func (g *made) hours(day time.Time, from, to int) {
	at := day.Add(time.Duration(from)*time.Hour + time.Duration(g.r.IntN(900))*time.Second)
	until := day.Add(time.Duration(to)*time.Hour - time.Duration(g.r.IntN(900))*time.Second)
	place, date := 0, DayOf(day)
	g.busy = g.r.IntN(8)
	if g.now.Before(until) {
		until = g.now // what would be later has not been
	}
	for at.Before(until) {
		p := madePlaces[place]
		for range 1 + g.r.IntN(3) {
			long := 30 + g.r.IntN(420)
			app := p.apps[g.r.IntN(len(p.apps))]
			if at.Add(time.Duration(long) * time.Second).After(g.now) {
				return
			}
			g.spans = append(g.spans, Span{at, long, place + 1, p.name, "AB"[g.r.IntN(2)], app})
			at = at.Add(time.Duration(long+g.r.IntN(3)) * time.Second)
			g.count(date, Done, Pair("focus", pickOf(g.r, "chord", 5, "key", 2)), 1)
		}
		g.tally(at, date)
		next := g.pick(p.next[:])
		if at.Hour() >= 21 && g.r.IntN(3) == 0 {
			next = 5
		}
		g.count(date, Switched, Pair(p.name, madePlaces[next].name), 1)
		g.count(date, Done, Pair("go", pickOf(g.r, "chord", 7, "key", 1)), 1)
		place = next
	}
}

// tally makes up what is counted besides.
func (g *made) tally(at time.Time, date string) {
	hour := at.Format("15")
	g.count(date, Open, hour, 17+at.Hour()%5+g.busy+g.r.IntN(4))
	g.count(date, Fullest, hour, 3+g.busy/2+g.r.IntN(3))
	if g.r.IntN(3) == 0 {
		g.count(date, Done, Pair("send", pickOf(g.r, "key", 3, "chord", 2)), 1)
		g.count(date, Form, pickOf(g.r, "send back", 2, "send B2", 1), 1)
	}
	if g.r.IntN(9) == 0 {
		g.count(date, Done, Pair(pickOf(g.r, "layout", 3, "maximise", 2), pickOf(g.r, "key", 2, "pointer", 1)), 1)
	}
	if g.r.IntN(70) == 0 {
		n := 1 + g.r.IntN(3)
		g.count(date, Found, "", n)
		g.count(date, Rescued, "", max(1, n-g.r.IntN(2)))
		g.count(date, Done, Pair("rescue", "key"), 1)
	}
	if g.r.IntN(30) == 0 {
		g.count(date, Done, Pair("undo", "command line"), 1)
	}
}

func pickOf(r *rand.Rand, a string, times int, b string, rest int) string {
	if r.IntN(times+rest) < times {
		return a
	}
	return b
}

// pick is one of the indexes, as likely as its weight.
func (g *made) pick(weights []int) int {
	n := g.r.IntN(sum(weights))
	for i, w := range weights {
		if n -= w; n < 0 {
			return i
		}
	}
	return len(weights) - 1 // not reached: n is below their sum
}
