package settings

import (
	"bytes"
	"cmp"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"github.com/pelletier/go-toml/v2"
	"github.com/pelletier/go-toml/v2/unstable"

	"zatlas/internal/desk"
	"zatlas/internal/lang"
)

// Fault is what is wrong at a place of the file. Lines and columns count from 1.
type Fault struct {
	Line, Column int
	Words        string
}

// Faults are all that is wrong with a file, in the order of their places.
type Faults []Fault

// maxNamed is how many faults an error names.
const maxNamed = 20

// Error is the first faults, each with its place before it, and how many more there are.
func (fs Faults) Error() string {
	var words []string
	for _, f := range fs[:min(len(fs), maxNamed)] {
		words = append(words, fmt.Sprintf("%d:%d: %s", f.Line, f.Column, f.Words))
	}
	if more := len(fs) - maxNamed; more > 0 {
		words = append(words, fmt.Sprintf("and %d more", more))
	}
	return strings.Join(words, "; ")
}

// entry is a value of the file: its key, as a path of tables and arrays, and where
// that stands.
type entry struct {
	path         []string // places in arrays as numbers, from 0
	value        any      // string, bool, int64; nil for anything else
	line, column int
}

// name is the path as messages write it.
func (e entry) name() string { return strings.Join(e.path, ".") }

// byteOrderMark is what some editors begin a file with.
const byteOrderMark = "\xef\xbb\xbf"

// document is a file that was read: its values, and its tables, which are entries
// without a value.
type document struct {
	data            []byte
	entries, tables []entry
	seen, lines     int // up to where lines were counted, and how many there are
}

// maxMended bounds the lines that are passed over as no TOML.
const maxMended = 50

// mend gives a file without the lines that are no TOML, which are left empty, and what is
// wrong with each. Lost are their keys, as far as these can be read.
func mend(data []byte) (mended []byte, lost []entry, faults Faults) {
	for len(faults) <= maxMended {
		var all map[string]any
		err := toml.Unmarshal(data, &all)
		if err == nil {
			return data, lost, faults
		}
		var bad *toml.DecodeError
		if !errors.As(err, &bad) {
			return nil, lost, append(faults, Fault{1, 1, strings.TrimPrefix(err.Error(), "toml: ")})
		}
		line, column := bad.Position()
		faults = append(faults, Fault{line, column, strings.TrimPrefix(bad.Error(), "toml: ")})
		lines := bytes.SplitAfter(data, []byte("\n"))
		if line < 1 || line > len(lines) || len(bytes.TrimSpace(lines[line-1])) == 0 {
			break
		}
		lost = append(lost, lostKey(lines, line))
		lines[line-1] = []byte("\n")
		data = bytes.Join(lines, nil)
	}
	return nil, lost, faults
}

// lostKey is the key of a line that is no TOML, with the table before it.
func lostKey(lines [][]byte, line int) (e entry) {
	table := []byte(nil)
	for _, l := range lines[:line-1] {
		if l = bytes.TrimSpace(l); bytes.HasPrefix(l, []byte("[")) && bytes.HasSuffix(l, []byte("]")) {
			table = l
		}
	}
	key, _, _ := bytes.Cut(lines[line-1], []byte("="))
	doc, err := read(slices.Concat(table, []byte("\n"), key, []byte("= 0")))
	if err != nil || len(doc.entries) == 0 {
		return entry{path: []string{strings.Trim(string(table), "[]")}, line: line, column: 1}
	}
	e = doc.entries[0]
	e.line, e.column = line, 1
	return e
}

// read reads a file that is TOML.
func read(data []byte) (document, error) {
	doc := document{data: data}
	var all map[string]any
	if err := toml.Unmarshal(data, &all); err != nil {
		return doc, err
	}
	var p unstable.Parser
	p.Reset(data)
	var table []string
	count := map[string]int{} // of the tables of an array
	for p.NextExpression() {
		e := p.Expression()
		switch e.Kind {
		case unstable.Table:
			table = keyPath(e)
			doc.tables = append(doc.tables, doc.at(e, table))
		case unstable.ArrayTable:
			table = keyPath(e)
			name := strings.Join(table, ".")
			table = append(table, strconv.Itoa(count[name]))
			count[name]++
			doc.tables = append(doc.tables, doc.at(e, table))
		case unstable.KeyValue:
			doc.collect(e, table)
		}
	}
	return doc, nil
}

// collect takes the values of a line, which may hold tables and arrays.
func (doc *document) collect(e *unstable.Node, table []string) {
	at := doc.at(e, slices.Concat(table, keyPath(e)))
	doc.value(at, e.Value())
}

func (doc *document) value(at entry, v *unstable.Node) {
	switch v.Kind {
	case unstable.InlineTable:
		for it := v.Children(); it.Next(); {
			if n := it.Node(); n.Kind == unstable.KeyValue {
				doc.collect(n, at.path)
			}
		}
		return
	case unstable.Array:
		i := 0
		for it := v.Children(); it.Next(); i++ {
			one := at
			one.path = append(slices.Clone(at.path), strconv.Itoa(i))
			doc.value(one, it.Node())
		}
		return
	case unstable.String:
		at.value = string(v.Data)
	case unstable.Bool:
		at.value = string(v.Data) == "true"
	case unstable.Integer:
		if n, err := strconv.ParseInt(strings.ReplaceAll(string(v.Data), "_", ""), 0, 64); err == nil {
			at.value = n
		}
	}
	doc.entries = append(doc.entries, at)
}

// at is an entry of a path that stands where a node has its key.
func (doc *document) at(e *unstable.Node, path []string) entry {
	it := e.Key()
	it.Next()
	offset := min(int(it.Node().Raw.Offset), len(doc.data))
	start := bytes.LastIndexByte(doc.data[:offset], '\n') + 1
	if e.Kind != unstable.KeyValue { // the bracket before it
		offset = start + len(doc.data[start:offset]) - len(bytes.TrimLeft(doc.data[start:offset], " \t"))
	}
	if start < doc.seen {
		doc.seen, doc.lines = 0, 0
	}
	doc.lines += bytes.Count(doc.data[doc.seen:start], []byte("\n"))
	doc.seen = start
	return entry{path: path, line: 1 + doc.lines, column: 1 + utf8.RuneCount(doc.data[start:offset])}
}

// keyPath is the parts of the key of a table or of a value.
func keyPath(e *unstable.Node) []string {
	var path []string
	for it := e.Key(); it.Next(); {
		path = append(path, string(it.Node().Data))
	}
	return path
}

// reading takes a document over settings.
type reading struct {
	s   *Settings
	was *Settings    // of which a row at fault keeps its value; nil at the start
	bad map[int]bool // rules at fault
	// badLine are the rows of the line at fault.
	badLine map[int]bool
	secret  bool              // a row about privacy is at fault
	own     map[string]string // chords
	rules   []Rule
	line    []LineRow
	names   []string         // of workspaces
	lay     []string         // plates
	at      map[string]entry // of the keys and the heads of rules
	keys    entry            // that is at fault where two chords are the same: the atlas key, else the last chord
	faults  Faults
}

func (r *reading) fault(e entry, err error) {
	if err != nil {
		r.faults = append(r.faults, Fault{e.line, e.column, err.Error()})
		r.keep(e)
	}
}

// keep has a row at fault keep the value that it had, where it had one. A fault in what
// the work is like being kept turns that off.
func (r *reading) keep(e entry) {
	r.secret = r.secret || e.path[0] == "survey"
	key := e.path[len(e.path)-1]
	if marked := map[string]map[int]bool{"rules": r.bad, "line": r.badLine}[e.path[0]]; marked != nil && len(e.path) > 1 {
		if i, err := strconv.Atoi(e.path[1]); err == nil {
			marked[i] = true
		}
	}
	if r.was == nil {
		return
	}
	hold := func(now *map[string]string, was map[string]string) {
		if old, had := was[key]; had {
			*now = with(*now, key, old)
		}
	}
	switch e.path[0] {
	case "chords":
		hold(&r.own, r.was.own)
	case "corners":
		hold(&r.s.Corners, r.was.Corners)
	case "grids":
		hold(&r.s.Grids, r.was.Grids)
	case "pins":
		hold(&r.s.Pins, r.was.Pins)
	case "desk", "plates":
		if len(e.path) > 1 && e.path[1] == "names" {
			r.names = r.was.Names
		} else if len(e.path) > 1 && e.path[1] == "lay" {
			r.lay = r.was.Lay
		}
	}
	if old, had := r.was.values[e.name()]; had {
		r.s.values[e.name()] = old
	}
}

// parse reads a file over the settings it may leave out. The error is a Faults. Rows without a
// fault count all the same; those with one keep the value they had before, where there was one.
func parse(data []byte, s Settings, was *Settings) (Settings, error) {
	data = bytes.TrimPrefix(data, []byte(byteOrderMark))
	s = s.clone()
	r := &reading{s: &s, was: was, bad: map[int]bool{}, badLine: map[int]bool{}, own: map[string]string{}, at: map[string]entry{}}
	mended, lost, faults := mend(data)
	r.faults = faults
	if mended == nil { // nothing of it can be read
		r.secret = true
		if was != nil {
			s = was.clone()
		}
	}
	doc, _ := read(mended)
	for _, e := range doc.tables {
		r.table(e)
	}
	for _, e := range doc.entries {
		r.entry(e)
	}
	for _, e := range lost {
		r.keep(e)
	}
	r.checkRules()
	if mended != nil || was == nil {
		s.own = r.own
	}
	if err := s.rechord(); err != nil {
		return s, err // the atlas key was checked before
	}
	if _, err := s.claims(); err != nil {
		r.unclash(doc.entries)
	}
	if len(r.rules) > 0 {
		s.Rules = r.rules
	}
	if len(r.line) > 0 {
		s.Line = r.lineRows()
	}
	if len(r.names) > 0 {
		s.Names = r.names
	}
	if len(r.lay) > 0 {
		s.Lay = r.lay
	}
	if r.secret {
		s.values["survey.on"] = "false"
	}
	if len(r.faults) == 0 {
		return s, nil
	}
	slices.SortStableFunc(r.faults, func(a, b Fault) int { return cmp.Or(a.Line-b.Line, a.Column-b.Column) })
	return s, r.faults
}

// checkRules faults rules, and leaves out those at fault, or takes those in their places
// from before.
func (r *reading) checkRules() {
	for i, rule := range r.rules {
		if key, err := rule.check(); err != nil {
			at, written := r.at[fmt.Sprintf("rules.%d.%s", i, key)]
			if !written {
				at = r.at[fmt.Sprintf("rules.%d", i)]
			}
			if !r.bad[i] { // else it is told of already
				r.fault(at, err)
			}
			r.bad[i] = true
		}
	}
	var good []Rule
	for i, rule := range r.rules {
		switch {
		case !r.bad[i]:
			good = append(good, rule)
		case r.was != nil && i < len(r.was.Rules):
			good = append(good, r.was.Rules[i])
		}
	}
	r.rules = good
}

// unclash takes the chords one after the other, in the order of the file, and faults those
// that are the same as one before.
func (r *reading) unclash(entries []entry) {
	wanted, atlas := r.own, r.s.AtlasKey()
	fits := func() error {
		if err := r.s.rechord(); err != nil {
			return err
		}
		_, err := r.s.claims()
		return err
	}
	r.s.own = map[string]string{}
	if err := fits(); err != nil { // the atlas key itself
		r.s.values["keeper.atlas_key"] = Default().AtlasKey()
		if r.was != nil {
			r.s.values["keeper.atlas_key"] = r.was.AtlasKey()
		}
		if r.s.AtlasKey() != atlas {
			r.faults = append(r.faults, Fault{max(r.keys.line, 1), max(r.keys.column, 1), err.Error()})
		}
	}
	for _, e := range entries {
		command, is := wanted[e.path[len(e.path)-1]]
		if !is || e.path[0] != "chords" {
			continue
		}
		row := e.path[len(e.path)-1]
		r.s.own[row] = command
		if err := fits(); err != nil {
			delete(r.s.own, row)
			r.faults = append(r.faults, Fault{e.line, e.column, err.Error()})
		}
	}
	r.own = r.s.own
	if err := r.s.rechord(); err != nil {
		r.faults = append(r.faults, Fault{1, 1, err.Error()})
	}
}

// lists are the tables whose keys are anybody's, and what each key needs.
var lists = map[string]struct {
	wants string
	take  func(r *reading, key, value string) error
}{
	"chords": {"a command in quotes", func(r *reading, key, value string) error {
		return taken(checkChord(key, value), func() { r.own[key] = value })
	}},
	"corners": {"a screen in quotes, such as \"strays\"", func(r *reading, key, value string) error {
		return taken(checkCorner(key, value), func() { r.s.Corners = with(r.s.Corners, key, value) })
	}},
	"grids": {`a grid in quotes, such as "4x2"`, func(r *reading, key, value string) error {
		return taken(checkGrid(key, value), func() { r.s.Grids = with(r.s.Grids, key, value) })
	}},
	"pins": {"a query in quotes", func(r *reading, key, value string) error {
		return taken(checkPin(key, value), func() { r.s.Pins = with(r.s.Pins, key, value) })
	}},
}

// taken takes what is not at fault.
func taken(err error, take func()) error {
	if err == nil {
		take()
	}
	return err
}

func with(m map[string]string, key, value string) map[string]string {
	if m == nil {
		m = map[string]string{}
	}
	m[key] = value
	return m
}

// name takes the name of a workspace.
func (r *reading) name(value any) error {
	text, ok := value.(string)
	switch name := desk.CleanName(text); {
	case !ok:
		return errors.New("names must be a list of texts")
	case name == "" || name != text:
		return fmt.Errorf("%q is no name for a workspace", text)
	case slices.Contains(r.names, name):
		return fmt.Errorf("two workspaces cannot be called %q", name)
	case len(r.names) == desk.MaxWorkspaces:
		return fmt.Errorf("there can be %d workspaces", desk.MaxWorkspaces)
	}
	r.names = append(r.names, text)
	return nil
}

// plate takes the name of a plate that is laid by itself.
func (r *reading) plate(value any) error {
	text, ok := value.(string)
	if !ok {
		return errors.New("lay must be a list of the names of plates")
	}
	return taken(desk.CheckPlateName(text), func() { r.lay = append(r.lay, text) })
}

// table follows the head of a table.
func (r *reading) table(e entry) {
	if e.path[0] == "rules" && len(e.path) == 2 {
		r.rule(e)
		return
	}
	if e.path[0] == "line" && len(e.path) == 2 {
		r.lineKey(e)
		return
	}
	if _, list := lists[e.name()]; list {
		return
	}
	if !slices.ContainsFunc(Choices(), func(c Choice) bool { return c.Table == e.name() }) {
		r.fault(e, r.noSetting(e.name()))
	}
}

// noSetting is the fault of a name that no setting has. It tells the one that may be meant, in
// those faults that are named.
func (r *reading) noSetting(name string) error {
	unknown := fmt.Errorf("there is no setting %q; zatlas config lists them", name)
	if len(r.faults) >= maxNamed {
		return unknown
	}
	table, key, _ := strings.Cut(name, ".")
	tables, names := append(slices.Sorted(maps.Keys(lists)), "rules", "line"), []string{}
	for _, c := range Choices() {
		if c.Key == name || c.Key == key {
			return fmt.Errorf("there is no setting %q: did you mean %s?", name, c.Name())
		}
		names, tables = append(names, c.Name()), append(tables, c.Table)
	}
	near := ""
	switch {
	case !slices.Contains(tables, table):
		near = cmp.Or(lang.Nearest(table, tables), lang.Nearest(name, names))
	case name != table:
		near = lang.Nearest(name, names)
	}
	if near != "" {
		return fmt.Errorf("there is no setting %q: did you mean %s?", name, near)
	}
	return unknown
}

// entry follows a value.
func (r *reading) entry(e entry) {
	if e.name() == "keeper.atlas_key" || e.path[0] == "chords" && r.keys.name() != "keeper.atlas_key" {
		r.keys = e
	}
	if list, ok := lists[e.path[0]]; ok && len(e.path) == 2 {
		text, isText := e.value.(string)
		if !isText {
			r.fault(e, fmt.Errorf("%s must be %s", e.path[1], list.wants))
			return
		}
		r.fault(e, list.take(r, e.path[1], text))
		return
	}
	if e.path[0] == "rules" && len(e.path) >= 2 {
		r.ruleKey(e)
		return
	}
	if e.path[0] == "line" && len(e.path) >= 2 {
		r.lineKey(e)
		return
	}
	if len(e.path) >= 2 && e.path[0] == "desk" && e.path[1] == "names" {
		r.fault(e, r.name(e.value))
		return
	}
	if len(e.path) >= 2 && e.path[0] == "plates" && e.path[1] == "lay" {
		r.fault(e, r.plate(e.value))
		return
	}
	all := Choices()
	if i := slices.IndexFunc(all, func(c Choice) bool { return c.Name() == e.name() }); i >= 0 {
		r.fault(e, all[i].read(r.s, e.value))
		return
	}
	r.fault(e, r.noSetting(e.name()))
}

// rule is the rule that an entry is of; nil where there is no such one.
func (r *reading) rule(e entry) *Rule {
	i, err := strconv.Atoi(e.path[1])
	if err != nil {
		return nil
	}
	for len(r.rules) <= i {
		r.rules = append(r.rules, Rule{})
	}
	if name := strings.Join(e.path[:2], "."); r.at[name].line == 0 {
		r.at[name] = e
	}
	return &r.rules[i]
}

// ruleKey follows a key of a rule.
func (r *reading) ruleKey(e entry) {
	rule := r.rule(e)
	if rule == nil || len(e.path) != 3 {
		r.fault(e, errors.New("rules are written as tables: [[rules]] and then match = and the rest"))
		return
	}
	key := e.path[2]
	r.at[e.name()] = e
	text, isText := e.value.(string)
	if to := rule.texts()[key]; to != nil {
		if !isText {
			r.fault(e, fmt.Errorf("%s of a rule must be a text in quotes", key))
			return
		}
		*to = text
		return
	}
	flag := slices.IndexFunc(rule.flags(), func(f ruleFlag) bool { now, _ := f.inFile(); return now == key || oldWords[key] == f.word })
	on, isFlag := e.value.(bool)
	switch {
	case flag >= 0 && isFlag:
		f := rule.flags()[flag]
		_, turns := f.inFile()
		if oldWords[key] != "" {
			turns = true
		}
		*f.on = on == turns
	case flag >= 0:
		r.fault(e, fmt.Errorf("%s of a rule must be false or true", key))
	default:
		r.fault(e, fmt.Errorf("there is no %q in a rule; zatlas config lists what there is", key))
	}
}
