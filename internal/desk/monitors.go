package desk

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"zatlas/internal/geom"
	"zatlas/internal/layout"
	"zatlas/internal/stray"
)

// apply follows monitors that came, went or changed. Windows of one that went
// go to one that is left, and the sheets are remembered as they were; when it
// comes back they go home, but for those that were placed elsewhere since.
func (f MonitorsAre) apply(e *edit) string {
	if len(f.Monitors) == 0 {
		return "" // with none connected the last one stays
	}
	was := slices.Clone(e.Monitors)
	next := e.matched(f.Monitors)
	e.setMonitors(next)
	if e.seen {
		return e.monitorsSeen(was)
	}
	var words []string
	var came []byte
	var displaced []int // ids of the workspaces that monitors which went showed
	for i := range next {
		l := next[i].Letter
		if old := find(was, l); !next[i].Connected || old != nil && old.Connected {
			continue
		}
		e.Shown[l-'A'] = e.Shown[e.At-'A']
		e.touchAll(l)
		said := fmt.Sprintf("Monitor %c is plugged in.", l)
		if n := e.comeHome(l); n > 0 {
			said += fmt.Sprintf(" %s came home.", windowsWord(n))
		}
		came = append(came, l)
		words = append(words, said)
	}
	for i := range was {
		old, now := &was[i], e.Monitor(was[i].Letter)
		switch {
		case old.Connected && !now.Connected:
			displaced = append(displaced, e.Shown[old.Letter-'A'])
			words = append(words, e.leaves(old, now))
		case now.Mirrors != 0 && old.Mirrors == 0:
			words = append(words, fmt.Sprintf("Monitor %c is plugged in, and mirrors %c.", now.Letter, now.Mirrors))
		case old.Connected && *old != *now:
			e.resized(old, now)
		}
	}
	// Those that stay may have made room for one that came: their windows have
	// moved on with them by now.
	for _, l := range came {
		if !e.Settings.Separate {
			e.claim(l)
		}
	}
	if !e.Connected(e.At) {
		e.At = e.first().Letter
	}
	e.rehome(false)
	e.showDisplaced(displaced)
	e.reshow()
	return strings.Join(words, " ")
}

// matched gives the monitors known before and those of now together: each
// connected one by its key, with the letter it had or the first free one.
func (e *edit) matched(now []Monitor) []Monitor {
	all := slices.Clone(e.Monitors)
	for i := range all {
		all[i].Connected, all[i].Primary, all[i].Mirrors = false, false, 0
	}
	for _, m := range now {
		m.Connected, m.Mirrors = true, 0 // which it mirrors is found below
		if m.Work.Empty() {
			m.Work = m.Rect
		}
		i := slices.IndexFunc(all, func(o Monitor) bool { return o.Key == m.Key && !o.Connected })
		if i < 0 {
			m.Letter = freeLetter(all)
			if m.Letter == 0 {
				continue // a 27th monitor
			}
			all = append(all, m)
		} else {
			m.Letter = all[i].Letter
			all[i] = m
		}
	}
	slices.SortFunc(all, func(a, b Monitor) int { return int(a.Letter) - int(b.Letter) })
	markMirrors(all)
	return all
}

// markMirrors finds the connected monitors that lie within another and so show a part of its
// picture, or the same one. Of two alike, the primary one has the sheets, else the first
// letter.
func markMirrors(ms []Monitor) {
	connected := slices.Clone(ms)
	for i := range ms {
		m := &ms[i]
		for j, o := range connected {
			if i == j || !m.Connected || !o.Connected || !o.Rect.Contains(m.Rect) {
				continue
			}
			if o.Rect == m.Rect && (m.Primary && !o.Primary || m.Primary == o.Primary && i < j) {
				continue // the other way round
			}
			m.Connected, m.Mirrors = false, o.Letter
		}
	}
	// The one that is shown may itself lie in a third.
	for i := range ms {
		for m := find(ms, ms[i].Mirrors); m != nil && m.Mirrors != 0; m = find(ms, m.Mirrors) {
			ms[i].Mirrors = m.Mirrors
		}
	}
}

// find finds a monitor by its letter; nil where there is none.
func find(ms []Monitor, letter byte) *Monitor {
	for i := range ms {
		if ms[i].Letter == letter {
			return &ms[i]
		}
	}
	return nil
}

func freeLetter(ms []Monitor) byte {
	for l := byte('A'); l <= 'Z'; l++ {
		if !slices.ContainsFunc(ms, func(m Monitor) bool { return m.Letter == l }) {
			return l
		}
	}
	return 0
}

// receiver is the monitor that takes the windows of one that goes: the one it mirrors, else the
// primary, else the nearest, else the first by letter.
func (d *Desk) receiver(gone *Monitor) *Monitor {
	if gone.Mirrors != 0 {
		return d.Monitor(gone.Mirrors)
	}
	var best *Monitor
	least := int64(math.MaxInt64)
	for i := range d.Monitors {
		m := &d.Monitors[i]
		if !m.Connected || m.Letter == gone.Letter {
			continue
		}
		if m.Primary {
			return m
		}
		if gap := geom.Distance2(m.Rect, gone.Rect); gap < least {
			best, least = m, gap
		}
	}
	return best
}

// evacuate moves the windows of a monitor that goes, and remembers its sheets.
// It gives the number of windows moved. A sheet that has been vacated and is
// still empty stays remembered as it was before.
func (e *edit) evacuate(gone, to *Monitor) int {
	moved := 0
	for i := range e.Workspaces {
		if e.Sheet(i, gone.Letter) != nil {
			moved += e.moveSheet(i, gone, to, e.belongs(i, gone.Letter))
		}
	}
	for _, w := range e.Windows {
		if w.Monitor == gone.Letter { // minimised
			w = e.window(w.ID)
			w.Monitor = to.Letter
			if e.belongs(e.Index(w.Workspace), gone.Letter) {
				w.takenFrom(gone, geom.Rect{})
			}
			moved++
		}
	}
	return moved
}

// belongs tells whether the windows of the workspace at index i go back to a monitor that
// comes. In separate mode they do if it is the home that the user gave it, and not one that it
// got because its own was gone.
func (d *Desk) belongs(i int, letter byte) bool {
	home := d.Workspaces[i].Home
	return !d.Settings.Separate || home == letter || d.Monitor(home) == nil
}

// emptied is a sheet laid out like this one, without its windows.
func (s *Sheet) emptied() *Sheet {
	return &Sheet{Layout: s.Layout, Share: s.Share, Leads: s.Leads, NoGaps: s.NoGaps}
}

// moveSheet moves the windows of a sheet to another monitor: tiled ones join
// the end of the sheet there in their order. Where remember is set the sheet is
// kept as it was, and its windows go back to it. It gives their number.
func (e *edit) moveSheet(i int, from, to *Monitor, remember bool) int {
	ws := e.workspace(i)
	s := ws.sheets[from.Letter-'A']
	ws.sheets[from.Letter-'A'] = s.emptied()
	tiles := s.Tiles.Windows()
	if remember && (len(tiles)+len(s.Floating) > 0 || ws.away[from.Letter-'A'] == nil) {
		ws.away[from.Letter-'A'] = s
	}
	if ws.sheets[to.Letter-'A'] == nil { // its only sheet, so it stays what it is
		t := e.sheet(i, to.Letter)
		*t = *s.emptied()
	}
	moved := 0
	for _, id := range slices.Concat(tiles, s.Floating) {
		w := e.window(id)
		if w.Monitor != from.Letter {
			continue // of both lists of a free sheet, already moved
		}
		moved++
		w.Monitor = to.Letter
		if remember {
			var place geom.Rect
			if slices.Contains(s.Floating, id) {
				place = w.floatRect()
			}
			w.takenFrom(from, place)
		}
		lost := w.Lost()
		lost.Rect = w.floatRect()
		if w.Rect = relocate(lost, from.Work, to.Work); w.full() && lost.Rect == w.Floated {
			w.Floated = w.Rect
		}
		e.lay(w, 0)
	}
	return moved
}

// vacate moves the windows of a monitor that stays for now. They come home
// when it is next plugged in, as those of one that was pulled.
func (e *edit) vacate(c Command) (string, error) {
	from := e.Monitor(c.Args[0].Letter)
	if from == nil || !from.Connected {
		return "", e.noMonitor(c.Args[0].Letter)
	}
	if e.Settings.Separate {
		return e.vacateSeparate(c, from)
	}
	to := e.receiver(from)
	if len(c.Args) > 1 {
		if to = e.Monitor(c.Args[2].Letter); to == nil || !to.Connected {
			return "", e.noMonitor(c.Args[2].Letter)
		}
	}
	if to == nil || to.Letter == from.Letter {
		return "", fmt.Errorf("there is no other monitor to take the windows of %c", from.Letter)
	}
	n := e.evacuate(from, to)
	e.touchAll(from.Letter)
	if n == 0 {
		return fmt.Sprintf("Monitor %c is empty already.", from.Letter), nil
	}
	if e.Settings.Alongside {
		return fmt.Sprintf("Moved %s from %c to %c. back home brings them there again.", windowsWord(n), from.Letter, to.Letter), nil
	}
	return fmt.Sprintf("Moved %s from %c to %c. They go home when %c is plugged in again.", windowsWord(n), from.Letter, to.Letter, from.Letter), nil
}

// comeHome brings the windows back that went when the monitor did, on to the
// sheets as they were, and to the places they had. It tells how many came.
func (e *edit) comeHome(letter byte) (came int) {
	done := map[int]bool{}
	back := func(id int) bool { w := e.Window(id); return w != nil && !done[id] && w.absence(letter) >= 0 }
	for i := range e.Workspaces {
		if !e.Has(i, letter) || !e.belongs(i, letter) {
			continue
		}
		old := e.Workspaces[i].away[letter-'A']
		e.workspace(i).away[letter-'A'] = nil
		if old == nil {
			continue
		}
		s := e.sheet(i, letter)
		since := e.Order(i, letter) // opened there or sent there meanwhile
		*s = *old.emptied()
		for _, id := range slices.Concat(old.Tiles.Windows(), old.Floating) {
			if w := e.Window(id); back(id) && w.Workspace == e.Workspaces[i].ID {
				e.lift(w)
			}
		}
		gone := func(id int) bool {
			return !back(id) || e.Window(id).Workspace != e.Workspaces[i].ID || e.Window(id).Minimised
		}
		// A window may have become one that floats, or ceased to be.
		s.setTiles(layout.Remove(old.Tiles, func(id int) bool { return gone(id) || e.Window(id).floats() }))
		tiles := s.Tiles.Windows()
		for _, id := range old.Floating {
			if !gone(id) && (e.Window(id).floats() || slices.Contains(tiles, id)) {
				s.Floating = append(s.Floating, id)
			}
		}
		for _, id := range slices.Concat(tiles, s.Floating) {
			if back(id) { // on both lists of a free sheet it may be home already
				done[id] = true
				e.comesHome(e.window(id), letter, slices.Contains(s.Floating, id))
			}
		}
		for _, w := range since {
			if !slices.Contains(tiles, w.ID) && !slices.Contains(s.Floating, w.ID) {
				e.lay(e.window(w.ID), 0)
			}
		}
	}
	for _, w := range e.Windows {
		if at := w.absence(letter); back(w.ID) && e.Has(e.Index(w.Workspace), letter) && e.belongs(e.Index(w.Workspace), letter) {
			w = e.window(w.ID)
			if w.Away = w.Away[:at]; w.Minimised {
				w.Monitor = e.fitting(e.Index(w.Workspace), letter)
				continue
			}
			// Its workspace is another one by now, or it changed what it is.
			e.put(w.ID, e.Index(w.Workspace), letter)
			came++
		}
	}
	return came + len(done)
}

// comesHome brings one window back that went when the monitor did; floats, to the
// place it had there.
func (e *edit) comesHome(w *Window, letter byte, floats bool) {
	work := e.Monitor(letter).Work
	at := w.absence(letter)
	place := w.Away[at].on(w, work)
	w.Monitor, w.Away = letter, w.Away[:at]
	if floats && !place.Empty() {
		w.Rect, w.Floated = place, place
		if !work.Overlaps(w.Rect) {
			w.Rect = e.relocated(w, letter)
			w.Floated = w.Rect
		}
	}
}

// claim gives a monitor that came the floating windows that lie on it and on
// no other: they were lost there.
func (e *edit) claim(letter byte) {
	m := e.Monitor(letter)
	for _, w := range e.Windows {
		own := e.Monitor(w.Monitor)
		if e.Tiled(w) || w.full() || w.Minimised || !m.Rect.Overlaps(w.Rect) || own.Connected && own.Rect.Overlaps(w.Rect) || len(w.Away) > 0 {
			continue
		}
		if stray.Look(w.Lost(), e.strays).On != letter {
			continue
		}
		w = e.window(w.ID)
		e.lift(w)
		w.Monitor = letter
		e.lay(w, 0)
	}
}

// leaves takes the sheets off a monitor that is unplugged, or mirrors another now.
func (e *edit) leaves(old, now *Monitor) string {
	to := e.receiver(now)
	n := e.evacuate(old, to)
	for i := range e.Workspaces {
		e.workspace(i).sheets[old.Letter-'A'] = nil
	}
	e.Shown[old.Letter-'A'] = 0
	happened := "was unplugged"
	if now.Mirrors != 0 {
		happened = fmt.Sprintf("mirrors %c now", now.Mirrors)
	}
	gone := "No window was on it"
	if n > 0 {
		gone = fmt.Sprintf("%s went to %c", windowsWord(n), to.Letter)
	}
	return fmt.Sprintf("Monitor %c %s. %s.", old.Letter, happened, gone)
}

// resized follows a monitor whose place, size or work area changed: its
// floating windows keep their share of the free room.
func (e *edit) resized(old, now *Monitor) {
	e.touchAll(now.Letter)
	if old.Rect == now.Rect {
		return
	}
	for i := range e.Workspaces {
		s := e.Sheet(i, now.Letter)
		if s == nil {
			continue
		}
		for _, id := range s.Floating {
			w := e.Window(id)
			if !old.Rect.Overlaps(w.Rect) {
				continue // a stray stays where it is, to be found
			}
			w = e.window(id)
			w.refit(old, now)
		}
	}
}

// refit fits a floating window to its monitor's new size. It always starts from where the
// window lay at first, so that roundings do not add up.
func (w *Window) refit(old, now *Monitor) {
	f := w.Before
	if place := w.floatRect(); f.Monitor != now.Letter || f.Now != place {
		f = Before{Monitor: now.Letter, Screen: old.Rect, Work: old.Work, Place: place}
	}
	if f.Now = f.Place; f.Screen != now.Rect {
		lost := w.Lost()
		lost.Rect = f.Place
		f.Now = relocate(lost, f.Work, now.Work)
	}
	w.Rect, w.Floated, w.Before = f.Now, f.Now, f
	if f.Screen == now.Rect {
		w.Before = Before{}
	}
}

// Counted is a number of things in words: 1 window, 3 windows.
func Counted(n int, what string) string {
	if n == 1 {
		return "1 " + what
	}
	return fmt.Sprintf("%d %ss", n, what)
}

// Sentence is a phrase, or an error's words, as a sentence.
func Sentence(phrase string) string {
	r, n := utf8.DecodeRuneInString(phrase)
	if n == 0 {
		return ""
	}
	if !strings.HasSuffix(phrase, ".") && !strings.HasSuffix(phrase, "?") {
		phrase += "."
	}
	return string(unicode.ToUpper(r)) + phrase[n:]
}

func windowsWord(n int) string { return Counted(n, "window") }

// vacateSeparate gives the workspaces of a monitor another home: in separate
// mode they are what a monitor has.
func (e *edit) vacateSeparate(c Command, from *Monitor) (string, error) {
	to := e.receiver(from)
	if len(c.Args) > 1 {
		to = e.Monitor(c.Args[2].Letter)
	}
	if to == nil || !to.Connected || to.Letter == from.Letter {
		return "", fmt.Errorf("there is no other monitor to take the workspaces of %c", from.Letter)
	}
	var names []string
	for i := range e.Workspaces {
		if e.HomeOf(i) == from.Letter {
			names = append(names, e.Desk.Title(i))
			e.workspace(i).Home = to.Letter
		}
	}
	shown := e.Shown[from.Letter-'A']
	e.rehome(false)
	e.showDisplaced([]int{shown})
	e.reshow()
	if len(names) == 0 {
		return fmt.Sprintf("No workspace is at home on %c.", from.Letter), nil
	}
	return fmt.Sprintf("%s went from %c to %c.", strings.Join(names, ", "), from.Letter, to.Letter), nil
}

// showDisplaced shows, in separate mode, what monitors showed that have no
// workspace any more, where it is now. Where you were there, you go along.
func (e *edit) showDisplaced(ids []int) {
	for _, id := range ids {
		i := e.Index(id)
		if !e.Settings.Separate || i < 0 {
			continue
		}
		here := id == e.Workspaces[e.Current()].ID || e.shownOn(e.At) < 0
		e.show(i)
		if here {
			e.At = e.HomeOf(i)
		}
	}
}

// plug plugs in a monitor that is known and unplugged, and pull pulls one, as a host would tell
// of it. Neither is a step of undo.
func (e *edit) plug(c Command) (string, error) { return e.cable(c.Args[0].Letter, true) }

func (e *edit) pull(c Command) (string, error) { return e.cable(c.Args[0].Letter, false) }

func (e *edit) cable(letter byte, in bool) (string, error) {
	m := e.Monitor(letter)
	if m == nil {
		return "", e.noMonitor(letter)
	}
	ms := e.Plugged()
	i := slices.IndexFunc(ms, func(o Monitor) bool { return o.Letter == letter })
	switch {
	case in && i >= 0:
		return fmt.Sprintf("Monitor %c is plugged in already.", letter), nil
	case in:
		ms = append(ms, *m)
	case i < 0:
		return fmt.Sprintf("Monitor %c is unplugged already.", letter), nil
	case len(ms) == 1:
		return "", errors.New("the last monitor stays plugged in")
	default:
		ms = slices.Delete(ms, i, i+1)
	}
	return MonitorsAre{Monitors: ms}.apply(e), nil
}
