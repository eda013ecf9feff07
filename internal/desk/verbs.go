package desk

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"zatlas/internal/geom"
	"zatlas/internal/layout"
	"zatlas/internal/stray"
)

// Verb is one command: the only place where it is written down. The parser,
// the help, the legend, completion and the documentation are made from it.
type Verb struct {
	Name string
	// Usage is what follows the name. Words in capitals are kinds of
	// arguments, | parts alternatives, [ ] what can be left out; forms are
	// parted by " / ".
	Usage string
	Help  string // a sentence
	Key   string // on the screens; empty where it has none
	// Windows tells that the verb acts on windows and takes "of WINDOWS".
	Windows bool
	// Sheet tells that without windows it acts on the current sheet.
	Sheet bool
	// View tells that it changes only what is shown and focused, which is no
	// step of undo.
	View bool
	// Goes tells that the view or the focus moves by it, so that a screen
	// brought up to choose a place has done its work.
	Goes bool

	apply func(e *edit, c Command) (string, error)
}

// Command is a verb with its arguments. Of is nil where no windows were named.
type Command struct {
	Verb string
	Args []Arg
	Of   Query
	// At is when it was asked for by a key, in milliseconds of any clock; 0
	// where it was not. Equal commands less than a second apart by this are one
	// step of undo.
	At int64
}

// ArgKind is what an argument is.
type ArgKind uint8

// The kinds of arguments.
const (
	Keyword ArgKind = iota // a word of the grammar, in Word
	Number                 // a workspace's number, in N
	Letter                 // a monitor's letter, in Letter
	Ref                    // a sheet: Letter and N
	Name                   // a workspace's name, in Word
	Item                   // a window's id, in N
)

// Arg is one argument.
type Arg struct {
	Kind   ArgKind
	Word   string
	N      int
	Letter byte
}

// Result is what a command did.
type Result struct {
	Words   string // what happened, as a sentence or two
	Goes    bool   // the verb moves the view or the focus
	Reload  bool   // the settings are to be read again
	Close   []int  // windows whose programs are to be asked to close them
	Windows []int  // the windows the command was about
	// Workspace is the id of the workspace the command was about, or 0.
	Workspace int
}

const (
	targets = "NUMBER|SHEET|NAME|next|prev|back|first|last|new"
	present = "NUMBER|SHEET|NAME|next|prev|back|first|last"
	places  = "NUMBER|SHEET|MONITOR|NAME|next|prev|back|first|last|new|left|right|up|down"
)

// verbs is the one table of commands, in the order of the help page. It is a
// function so that the table may name functions that read it.
func verbs() []Verb {
	return []Verb{
		{Name: "go", Usage: targets, Key: "g", View: true, Goes: true, apply: (*edit).goTo,
			Help: "Show a workspace."},
		{Name: "send", Usage: places, Key: "s", Windows: true, apply: (*edit).send,
			Help: "Send windows to a workspace or a monitor. The view stays here."},
		{Name: "carry", Usage: places, Key: "c", Windows: true, Goes: true, apply: (*edit).carry,
			Help: "Send windows and go along with them."},
		{Name: "focus", Usage: "left|right|up|down|next|prev|back|WINDOW|MONITOR", View: true, Goes: true, apply: (*edit).focus,
			Help: "Give the focus to another window, or to a monitor."},
		{Name: "add", Usage: "[NAME] [at NUMBER]", Key: "a", apply: (*edit).add,
			Help: "Add a workspace, at the end or at a place."},
		{Name: "remove", Usage: "[" + present + "] [into " + present + "]", Key: "A", apply: (*edit).remove,
			Help: "Remove a workspace. Its windows go next door."},
		{Name: "rename", Usage: "[" + present + "] NAME", Key: "e", apply: (*edit).rename,
			Help: "Give a workspace another name."},
		{Name: "reorder", Usage: "up|down|first|last / " + present + " to NUMBER", Key: "Shift+arrows", apply: (*edit).reorder,
			Help: "Move a workspace in the order."},
		{Name: "home", Usage: "[" + present + "] MONITOR", Key: "G", apply: (*edit).home,
			Help: "Give a workspace a home monitor, for separate mode."},
		{Name: "vacate", Usage: "MONITOR [to MONITOR]", Key: "C", apply: (*edit).vacate,
			Help: "Bring a monitor's windows to another, before it is unplugged."},
		{Name: "layout", Usage: strings.Join(layout.Names(), "|") + "|next", Key: "t", Windows: true, Sheet: true, apply: (*edit).layout,
			Help: "Choose how the sheet lays out its windows."},
		{Name: "rescue", Usage: "[to NUMBER|SHEET|MONITOR|NAME]", Key: "r", Windows: true, apply: (*edit).rescue,
			Help: "Bring windows back that are out of reach."},
		{Name: "float", Key: "f", Windows: true, apply: (*edit).float,
			Help: "Float windows over the tiles, or tile them again."},
		{Name: "minimise", Key: "M", Windows: true, apply: (*edit).minimise,
			Help: "Put windows out of sight."},
		{Name: "restore", Windows: true, apply: (*edit).restore,
			Help: "Bring minimised windows back."},
		{Name: "close", Key: "x", Windows: true, View: true, apply: (*edit).close,
			Help: "Ask the programs to close windows."},
		{Name: "reload", Key: "E", View: true, apply: (*edit).reload,
			Help: "Read the settings again."},
		{Name: "undo", Usage: "[COUNT]", Key: "u", View: true, apply: (*edit).undo,
			Help: "Take back the last thing done, or several."},
		{Name: "redo", Usage: "[COUNT]", Key: "U", View: true, apply: (*edit).redo,
			Help: "Do again what was taken back."},
	}
}

// Verbs lists every verb in the order of the help page.
func Verbs() []Verb { return verbs() }

// FindVerb finds a verb by its name.
func FindVerb(name string) (Verb, bool) {
	table := verbs()
	i := slices.IndexFunc(table, func(v Verb) bool { return v.Name == name })
	if i < 0 {
		return Verb{}, false
	}
	return table[i], true
}

// Apply is the desk after the command. Where the command fails, the error says
// why in words for its user, and the desk is as it was.
func (d *Desk) Apply(c Command) (*Desk, Result, error) {
	v, ok := FindVerb(c.Verb)
	if !ok {
		return d, Result{}, fmt.Errorf("there is no command %q", c.Verb)
	}
	if c.Of != nil && !v.Windows {
		return d, Result{}, fmt.Errorf("%s takes no windows: leave out %q", v.Name, "of")
	}
	e := d.edit()
	r := Result{Goes: v.Goes}
	if v.Windows && (c.Of != nil || !v.Sheet) {
		ids, err := d.subject(c)
		if err == errNoMatch && c.Verb == "rescue" && c.Of == (Is{IsStray}) {
			return d, Result{Words: "No window is lost."}, nil
		}
		if err != nil {
			return d, Result{}, err
		}
		r.Windows = ids
	}
	words, err := v.apply(e, c)
	if err != nil {
		return d, Result{}, err
	}
	r.Words = words
	if v.Name == "close" {
		r.Close = r.Windows
	}
	r.Reload = v.Name == "reload"
	next := e.finish()
	if !v.View && !e.nothing {
		next.past, next.future = d.pushed(c, next, words), nil
	}
	if v.Name == "undo" || v.Name == "redo" {
		r.Windows = d.placedOtherwise(next)
	}
	if r.Workspace = e.about; r.Workspace == 0 && v.Goes {
		r.Workspace = next.Workspaces[next.Current()].ID
	}
	if v.Goes && !v.Windows && next.Focus != 0 {
		r.Windows = []int{next.Focus}
	}
	return next, r, nil
}

// subject lists the windows a command acts on: those its query chooses, else
// the focused one. A dialog whose parent is chosen goes with it and is left out.
func (d *Desk) subject(c Command) ([]int, error) {
	if c.Of == nil {
		if d.Focus == 0 {
			return nil, errors.New("no window has the focus. Name one: of #12, or of app:NAME")
		}
		return []int{d.Focus}, nil
	}
	ws := d.Select(c.Of)
	if len(ws) == 0 {
		return nil, errNoMatch
	}
	ids := make([]int, len(ws))
	for i, w := range ws {
		ids[i] = w.ID
	}
	return ids, nil
}

func (e *edit) mustSubject(c Command) []int {
	ids, _ := e.Desk.subject(c) // Apply has asked before
	return ids
}

// the names several windows: by label for one, by number for more.
func (d *Desk) the(ids []int) string {
	if len(ids) == 1 {
		return d.Window(ids[0]).Label()
	}
	return windowsWord(len(ids))
}

func (e *edit) goTo(c Command) (string, error) {
	p, err := e.resolve(c.Args[0], e.Current())
	if err != nil {
		return "", err
	}
	if err := e.atHome(p); err != nil {
		return "", err
	}
	before := e.Shown[e.At-'A']
	e.show(p.workspace)
	if e.Settings.Separate {
		p.letter = e.HomeOf(p.workspace)
		e.Focus = 0
	}
	e.land(p, 0)
	n := e.Count(p.workspace)
	if e.Workspaces[p.workspace].ID == before && p.letter == 0 {
		return fmt.Sprintf("You are on %s already.", e.Desk.Title(p.workspace)), nil
	}
	if n == 0 {
		return fmt.Sprintf("On %s. It is empty.", e.Desk.Title(p.workspace)), nil
	}
	return fmt.Sprintf("On %s, %s.", e.Desk.Title(p.workspace), windowsWord(n)), nil
}

// land gives the focus where a place is shown: to the named window, else to
// the one there that had it last; the monitor stays where nothing is open.
func (e *edit) land(p place, id int) {
	if p.letter != 0 {
		e.At = p.letter
	}
	if id == 0 {
		if w := e.Window(e.Focus); w != nil && e.Visible(w) && (p.letter == 0 || p.letter == w.Monitor) {
			return
		}
		id = e.latest(p.workspace, p.letter)
	}
	e.setFocus(id)
}

func (e *edit) send(c Command) (string, error) {
	ids, p, err := e.sendAll(c)
	if err != nil {
		return "", err
	}
	words := fmt.Sprintf("Sent %s to %s.", e.the(ids), p.words(e.Desk))
	return words, nil
}

func (e *edit) carry(c Command) (string, error) {
	ids, p, err := e.sendAll(c)
	if err != nil {
		return "", err
	}
	w := e.Window(ids[len(ids)-1])
	i := e.Index(w.Workspace)
	e.show(i)
	switch {
	case w.Minimised || w.NoFocus:
		e.land(place{workspace: i}, 0)
	default:
		e.setFocus(w.ID)
	}
	return fmt.Sprintf("Carried %s to %s.", e.the(ids), p.words(e.Desk)), nil
}

// sendAll moves the chosen windows to the place the first argument names. All
// must be able to go, or none does.
func (e *edit) sendAll(c Command) ([]int, place, error) {
	ids := e.mustSubject(c)
	w := e.Window(ids[0])
	from, fromMonitor := e.Index(w.Workspace), w.Monitor
	arg := c.Args[0]
	var p place
	if dir, ok := ParseDir(arg.Word); ok && arg.Kind == Keyword {
		m := e.neighbour(e.Monitor(fromMonitor), dir)
		if m == nil {
			return nil, p, fmt.Errorf("there is no monitor %s %c", dir.beside(), fromMonitor)
		}
		p = place{workspace: -1, letter: m.Letter}
	} else {
		// Next, and the rest, count from where the window is.
		var err error
		if p, err = e.resolve(arg, from); err != nil {
			return nil, p, err
		}
	}
	if err := e.atHome(p); err != nil {
		return nil, p, err
	}
	if e.Settings.Separate && p.workspace < 0 { // a monitor stands for what it shows
		if p.workspace = e.shownOn(p.letter); p.workspace < 0 {
			return nil, p, fmt.Errorf("monitor %c shows no workspace", p.letter)
		}
	}
	moved := false
	focus := e.Window(e.Focus)
	for _, id := range ids {
		w := e.Window(id)
		i, letter := p.workspace, p.letter
		if i < 0 {
			i = e.Index(w.Workspace)
		}
		if letter == 0 {
			letter = e.fitting(i, w.Monitor)
		}
		if e.Workspaces[i].ID == w.Workspace && letter == w.Monitor {
			continue
		}
		moved = true
		e.put(id, i, letter)
	}
	if !moved {
		return nil, p, fmt.Errorf("%s is on %s already", e.the(ids), e.Ref(e.Window(ids[0])))
	}
	if focus != nil {
		now := e.Window(focus.ID)
		if now.Workspace != focus.Workspace || now.Monitor != focus.Monitor {
			e.refocus(focus.Monitor)
		}
	}
	return ids, p, nil
}

func (e *edit) add(c Command) (string, error) {
	name, at := "", len(e.Workspaces)
	if e.Settings.Growing {
		at--
	}
	for i, a := range c.Args {
		switch a.Kind {
		case Name:
			name = a.Word
		case Number:
			if i > 0 && (a.N < 1 || a.N > len(e.Workspaces)+1) {
				return "", fmt.Errorf("a new workspace can stand at 1 to %d, not at %d", len(e.Workspaces)+1, a.N)
			}
			at = a.N - 1
		}
	}
	if e.Settings.Growing && name == "" && at >= len(e.Workspaces)-1 {
		return "", fmt.Errorf("workspace %d is empty and waits at the end. Give the new one a name, or a place", len(e.Workspaces))
	}
	i, err := e.newWorkspace(name, at)
	if err != nil {
		return "", err
	}
	return fmt.Sprintf("Added workspace %s.", e.Desk.Title(i)), nil
}

// newWorkspace makes a workspace that stands at index at.
func (e *edit) newWorkspace(name string, at int) (int, error) {
	if len(e.Workspaces) >= MaxWorkspaces {
		return 0, fmt.Errorf("there are %d workspaces, and no more can be made", MaxWorkspaces)
	}
	name = CleanName(name)
	if i := e.named(name); name != "" && i >= 0 {
		return 0, fmt.Errorf("workspace %d is called %s already", i+1, name)
	}
	e.lastID++
	ws := &Workspace{ID: e.lastID, Name: name}
	if e.Settings.Separate {
		ws.Home = e.At
	}
	e.about = ws.ID
	e.ownWorkspaces[ws.ID] = true
	e.Workspaces = slices.Insert(e.Workspaces, at, ws)
	for _, m := range e.Monitors {
		if e.Has(at, m.Letter) {
			e.sheet(at, m.Letter)
		}
	}
	e.reshow()
	return at, nil
}

// named is the index of the workspace of exactly that name, else of the only
// one that differs in case alone; -1 where there is none.
func (d *Desk) named(name string) int {
	found := -1
	for i, ws := range d.Workspaces {
		if ws.Name == name {
			return i
		}
		if strings.EqualFold(ws.Name, name) {
			if found >= 0 {
				return -1
			}
			found = i
		}
	}
	return found
}

func (e *edit) remove(c Command) (string, error) {
	i := e.Current()
	into := -1
	for n := 0; n < len(c.Args); n++ {
		a := c.Args[n]
		isInto := a.Kind == Keyword && a.Word == "into"
		if isInto {
			n++
			a = c.Args[n]
		}
		from := e.Current()
		if isInto {
			from = i
		}
		p, err := e.resolve(a, from)
		if err != nil {
			return "", err
		}
		if isInto {
			into = p.workspace
		} else {
			i = p.workspace
		}
	}
	switch {
	case len(e.Workspaces) == 1:
		return "", errors.New("the last workspace cannot be removed")
	case into == i:
		return "", errors.New("a workspace's windows cannot go into itself")
	case into < 0 && i == 0:
		into = 1
	case into < 0:
		into = i - 1
	}
	return e.removeAt(i, into), nil
}

func (e *edit) removeAt(i, into int) string {
	gone, target := e.Workspaces[i], e.Workspaces[into]
	title := e.Desk.Title(i)
	moved := 0
	for _, m := range e.Monitors {
		if s := e.Sheet(i, m.Letter); m.Connected && s != nil {
			for _, id := range slices.Concat(s.Tiles.Windows(), s.Floating) {
				if w := e.Window(id); w.Workspace == gone.ID {
					moved++
					e.put(id, into, m.Letter)
				}
			}
		}
	}
	for _, w := range e.Windows {
		if w.Workspace == gone.ID { // minimised
			e.window(w.ID).Workspace = target.ID
			e.window(w.ID).Monitor = e.fitting(e.Index(target.ID), w.Monitor)
			moved++
		}
	}
	e.Recent = without(e.Recent, gone.ID)
	e.Workspaces = slices.Delete(e.Workspaces, i, i+1)
	if into = e.Index(target.ID); !e.IsShown(gone.ID) {
		return removedWords(title, moved, e.Desk.Title(into))
	}
	if e.Settings.Separate {
		e.reshow()
		if e.Focus == 0 || e.Window(e.Focus).Workspace == target.ID {
			e.show(into)
		}
		return removedWords(title, moved, e.Desk.Title(into))
	}
	e.show(into)
	e.land(place{workspace: into}, 0)
	return removedWords(title, moved, e.Desk.Title(into))
}

func (e *edit) rename(c Command) (string, error) {
	i := e.Current()
	if len(c.Args) > 1 {
		p, err := e.resolve(c.Args[0], i)
		if err != nil {
			return "", err
		}
		i = p.workspace
	}
	name := CleanName(c.Args[len(c.Args)-1].Word)
	was := e.Desk.Title(i)
	if j := slices.IndexFunc(e.Workspaces, func(ws *Workspace) bool { return ws.Name == name }); j == i {
		e.nothing = true
		return fmt.Sprintf("Workspace %s is called that already.", was), nil
	} else if j >= 0 {
		return "", fmt.Errorf("workspace %d is called %s already", j+1, name)
	}
	e.workspace(i).Name = name
	e.about = e.Workspaces[i].ID
	return fmt.Sprintf("Workspace %s is called %s now.", was, name), nil
}

func (e *edit) reorder(c Command) (string, error) {
	i, to := e.Current(), 0
	switch word := c.Args[0].Word; {
	case len(c.Args) > 1:
		p, err := e.resolve(c.Args[0], i)
		if err != nil {
			return "", err
		}
		i, to = p.workspace, c.Args[2].N-1
	case word == "up":
		to = i - 1
	case word == "down":
		to = i + 1
	case word == "last":
		to = len(e.Workspaces) - 1
	}
	if to < 0 || to >= len(e.Workspaces) {
		return "", fmt.Errorf("workspace %d cannot stand at %d: there are %d", i+1, to+1, len(e.Workspaces))
	}
	ws := e.Workspaces[i]
	e.about, e.nothing = ws.ID, i == to
	e.Workspaces = slices.Insert(slices.Delete(e.Workspaces, i, i+1), to, ws)
	if ws.Name == "" {
		return fmt.Sprintf("Workspace %d is %d now.", i+1, to+1), nil
	}
	return fmt.Sprintf("Workspace %s is %d now.", ws.Name, to+1), nil
}

func removedWords(title string, moved int, into string) string {
	if moved == 0 {
		return fmt.Sprintf("Removed workspace %s.", title)
	}
	return fmt.Sprintf("Removed workspace %s. %s went to %s.", title, windowsWord(moved), into)
}

func (e *edit) layout(c Command) (string, error) {
	sheets := []sheetKey{{e.Shown[e.At-'A'], e.At}}
	if e.shownOn(e.At) < 0 && c.Of == nil {
		return "", fmt.Errorf("monitor %c shows no workspace", e.At)
	}
	if c.Of != nil {
		sheets = nil
		for _, id := range e.mustSubject(c) {
			w := e.Window(id)
			if key := (sheetKey{w.Workspace, w.Monitor}); !slices.Contains(sheets, key) {
				sheets = append(sheets, key)
			}
		}
	}
	words, changed := "", false
	for _, key := range sheets {
		e.nothing = false
		words = e.layoutSheet(e.Index(key.workspace), key.letter, c.Args[0].Word)
		changed = changed || !e.nothing
	}
	e.nothing = !changed
	if n := len(sheets); n > 1 {
		words = fmt.Sprintf("%d sheets are laid out as %s.", n, c.Args[0].Word)
	}
	return words, nil
}

func (e *edit) layoutSheet(i int, at byte, word string) string {
	s := e.sheet(i, at)
	k, ok := layout.ParseKind(word)
	if !ok { // next
		k = layout.Kind((int(s.Layout) + 1) % len(layout.Names()))
	}
	was, ids := s.Layout, s.Tiles.Windows()
	s.Layout = k
	switch {
	case k == was:
		e.nothing = true
		return fmt.Sprintf("Sheet %s is laid out as %s already.", SheetRef(i, at), k)
	case k == layout.Free:
		s.Floating = slices.Concat(ids, s.Floating)
	case was == layout.Free:
		s.Floating = slices.DeleteFunc(s.Floating, func(id int) bool { return slices.Contains(ids, id) })
	}
	if k == layout.Columns || k == layout.Rows || k == layout.Lead {
		s.Tiles = layout.Of(k, ids, s.Share)
	}
	return fmt.Sprintf("Sheet %s is laid out as %s.", SheetRef(i, at), k)
}

// rescue brings windows whole into a work area, by the least movement or on
// the monitor named. Several do not end on top of each other.
func (e *edit) rescue(c Command) (string, error) {
	ids := e.mustSubject(c)
	to := place{workspace: -1}
	if len(c.Args) > 1 {
		var err error
		if to, err = e.resolve(c.Args[1], e.Current()); err != nil {
			return "", err
		}
	}
	var done []int
	var placed []geom.Rect
	for _, id := range ids {
		w := e.Window(id)
		if e.Tiled(w) || w.Minimised || w.Fullscreen {
			continue
		}
		rect, letter := stray.Rescue(w.Lost(), e.strays)
		if to.letter != 0 {
			letter = to.letter
			rect = stray.Into(w.Lost(), e.Monitor(letter).Work)
		}
		i := e.Index(w.Workspace)
		if to.workspace >= 0 {
			i = to.workspace
		}
		if !e.Has(i, letter) { // in separate mode a window is where its workspace is
			letter = e.fitting(i, letter)
			rect = stray.Into(w.Lost(), e.Monitor(letter).Work)
		}
		if rect != w.Rect && len(ids) > 1 {
			rect = stray.Aside(rect, e.Monitor(letter).Work, placed)
		}
		placed = append(placed, rect)
		if rect == w.Rect && letter == w.Monitor && e.Workspaces[i].ID == w.Workspace {
			continue
		}
		w = e.window(id)
		e.lift(w)
		w.Rect, w.Monitor, w.Workspace, w.Away = rect, letter, e.Workspaces[i].ID, 0
		e.lay(w, 0)
		done = append(done, id)
	}
	if len(done) == 0 {
		e.nothing = true
		return fmt.Sprintf("%s is within reach already.", e.the(ids)), nil
	}
	if len(done) == 1 {
		return fmt.Sprintf("Brought %s back to %s.", e.the(done), e.Ref(e.Window(done[0]))), nil
	}
	return fmt.Sprintf("Brought %s back within reach.", e.the(done)), nil
}

func (e *edit) float(c Command) (string, error) {
	ids := e.mustSubject(c)
	for _, id := range ids {
		switch w := e.Window(id); {
		case w.MustFloat():
			return "", fmt.Errorf("%s always floats: %s", w.Label(), whyFloats(w))
		case w.Minimised:
			return "", fmt.Errorf("%s is minimised. Restore it first", w.Label())
		}
	}
	// Several that differ all float first.
	float := slices.ContainsFunc(ids, func(id int) bool { return !e.Window(id).Floating })
	for _, id := range ids {
		if e.Window(id).Floating == float {
			continue
		}
		at := e.leafFor(e.Index(e.Window(id).Workspace), e.Window(id).Monitor)
		w := e.window(id)
		e.lift(w)
		w.Floating, w.Away = float, 0
		if float && !w.Place.Empty() {
			w.Rect = w.Place
			w.Rect = e.relocated(w, w.Monitor)
		}
		e.lay(w, at)
	}
	if float {
		return fmt.Sprintf("%s floats.", e.the(ids)), nil
	}
	return fmt.Sprintf("Tiled %s again.", e.the(ids)), nil
}

func whyFloats(w *Window) string {
	switch {
	case w.Fixed:
		return "it has one size"
	case w.Sticky:
		return "it is sticky"
	}
	return "it is a " + max(w.Kind, Dialog).String()
}

func (e *edit) minimise(c Command) (string, error) {
	ids := e.mustSubject(c)
	var done []int
	for _, id := range ids {
		if w := e.window(id); !w.Minimised {
			e.lift(w)
			w.Minimised = true
			done = append(done, id)
			if e.Focus == id {
				e.refocus(w.Monitor)
			}
		}
	}
	if len(done) == 0 {
		return "", fmt.Errorf("%s is minimised already", e.the(ids))
	}
	return fmt.Sprintf("Minimised %s.", e.the(done)), nil
}

func (e *edit) restore(c Command) (string, error) {
	ids := e.mustSubject(c)
	var done []int
	for _, id := range ids {
		if e.restoreOne(id) {
			done = append(done, id)
		}
	}
	if len(done) == 0 {
		return "", fmt.Errorf("%s is not minimised", e.the(ids))
	}
	if w := e.Window(done[len(done)-1]); e.Visible(w) && !w.NoFocus {
		e.setFocus(w.ID)
	}
	return fmt.Sprintf("Restored %s.", e.the(done)), nil
}

func (e *edit) restoreOne(id int) bool {
	w := e.window(id)
	if !w.Minimised {
		return false
	}
	at := e.leafFor(e.Index(w.Workspace), w.Monitor)
	w.Minimised = false
	e.lay(w, at)
	return true
}

func (e *edit) close(c Command) (string, error) {
	return fmt.Sprintf("Asked %s to close.", e.the(e.mustSubject(c))), nil
}

func (e *edit) reload(Command) (string, error) { return "Read the settings again.", nil }
