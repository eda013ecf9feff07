package scene

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"github.com/tidwall/gjson"
)

// node is a value of a JSON file that knows its place. It is read strictly: every key must be
// asked for, none may occur twice, and the first fault is kept. It is a view of the text:
// nothing is made of a value before it is asked for.
type node struct {
	r     *reader
	value gjson.Result
	in    *place // where it stands: under a key there, or at an index of a list
	key   string
	index int
	as    *object // what it is where it is an object; shared by all copies
}

// place is where the values of an object or a list stand. A path is made of it where
// it is asked for, which is for a fault alone.
type place struct {
	in    *place
	key   string
	index int
	depth int
}

// object is the keys of an object in their order.
type object struct {
	place
	fields []field
	open   bool // the fields were found
}

// field is a key with its value, and whether it was asked for.
type field struct {
	key   string
	value gjson.Result
	used  bool
}

// manyFields is from how many keys on an object is no longer searched one by one: no
// object of a scene has so many.
const manyFields = 256

// find is the field of a key; nil where there is none.
func (o *object) find(key string) *field {
	for i := range o.fields {
		if o.fields[i].key == key {
			return &o.fields[i]
		}
	}
	return nil
}

func (p *place) String() string {
	switch {
	case p == nil:
		return ""
	case p.key == "" && p.in != nil:
		return p.in.String() + "[" + strconv.Itoa(p.index) + "]"
	}
	return join(p.in.String(), p.key)
}

// path is where the node stands, for people.
func (n node) path() string {
	if n.key == "" && n.in != nil {
		return n.in.String() + "[" + strconv.Itoa(n.index) + "]"
	}
	return join(n.in.String(), n.key)
}

// reader holds what is common to the nodes of one file.
type reader struct {
	err   error
	spare [][]field // of objects that are done with
	root  gjson.Result
	text  string
	keys  map[string]string // what keys are called in a file that is no scene
}

// Fault is what is wrong at a place of a file. Lines and columns count from 1.
type Fault struct {
	Path         string // such as windows[2].rect; empty for all of it
	Words        string
	Line, Column int
}

func (f *Fault) Error() string {
	if f.Path == "" {
		return f.Words
	}
	return f.Path + ": " + f.Words
}

func (r *reader) fail(path, format string, args ...any) {
	if r.err == nil {
		line, column := position(r.text, r.offset(path))
		if path == "" {
			path = "the scene"
		}
		r.err = &Fault{path, fmt.Sprintf(format, args...), line, column}
	}
}

// offset is where the value of a path begins, or what it would stand in where there is
// none.
func (r *reader) offset(path string) int {
	at, in := r.root, ""
	for deeper := true; deeper; {
		deeper = false
		i := -1
		list, parent := at.IsArray(), in
		at.ForEach(func(k, v gjson.Result) bool {
			i++
			sub := parent + "[" + strconv.Itoa(i) + "]"
			if !list {
				sub = join(parent, k.String())
			}
			rest, ok := strings.CutPrefix(path, sub)
			if ok && (rest == "" || rest[0] == '.' || rest[0] == '[') {
				at, in, deeper = v, sub, rest != "" && v.IsObject() || rest != "" && v.IsArray()
				return false
			}
			return true
		})
	}
	return at.Index
}

// position is a place of a text by its line and column, in letters.
func position(text string, offset int) (line, column int) {
	before := text[:min(max(offset, 0), len(text))]
	start := strings.LastIndexByte(before, '\n') + 1
	return 1 + strings.Count(before, "\n"), 1 + utf8.RuneCountInString(before[start:])
}

// maxDepth bounds how deep values may stand in one another.
const maxDepth = 200

// parse reads one JSON value and nothing after it.
func parse(in io.Reader) (node, error) {
	data, err := io.ReadAll(in)
	if err != nil {
		return node{}, err
	}
	if !json.Valid(data) {
		dec := json.NewDecoder(bytes.NewReader(data))
		var first json.RawMessage
		err := dec.Decode(&first)
		at, words := dec.InputOffset(), fmt.Sprintf("not a scene: something follows its end at byte %d", dec.InputOffset())
		if err != nil {
			if of := (*json.SyntaxError)(nil); errors.As(err, &of) {
				at = of.Offset - 1
			} else if errors.Is(err, io.ErrUnexpectedEOF) {
				at = int64(len(data))
			}
			words = fmt.Sprintf("not a scene: %v (at byte %d)", noEOF(err), dec.InputOffset())
		}
		line, column := position(string(data), int(at))
		return node{}, &Fault{Words: words, Line: line, Column: column}
	}
	n := node{r: &reader{text: string(data)}}
	n.r.root = gjson.Parse(n.r.text)
	n.value = n.r.root
	n.known()
	return n, nil
}

func noEOF(err error) error {
	if err == io.EOF {
		return io.ErrUnexpectedEOF
	}
	return err
}

func join(path, key string) string {
	if path == "" {
		return key
	}
	return path + "." + key
}

// known makes it an object that its copies share, where it is one.
func (n *node) known() {
	if n.value.IsObject() {
		n.as = &object{place: n.inside()}
	}
}

// inside is the place of what stands in the node.
func (n node) inside() place {
	p := place{in: n.in, key: n.key, index: n.index}
	if n.in != nil {
		p.depth = n.in.depth + 1
	}
	if p.depth > maxDepth {
		n.r.fail(n.path(), "values stand more than %d deep", maxDepth)
	}
	return p
}

// fields finds the fields of an object; none of a node that is missing or of another
// kind, which is a fault.
func (n node) fields() *object {
	o := n.as
	if o == nil {
		n.r.fail(n.path(), "this must be an object")
		return &object{open: true}
	}
	if o.open || n.r.err != nil {
		return o
	}
	o.open = true
	if last := len(n.r.spare) - 1; last >= 0 {
		o.fields, n.r.spare = n.r.spare[last][:0], n.r.spare[:last]
	}
	var seen map[string]bool // of an object with more keys than any of ours
	n.value.ForEach(func(k, v gjson.Result) bool {
		key := k.String()
		dup := seen[key]
		if seen == nil {
			dup = o.find(key) != nil
		} else {
			seen[key] = true
		}
		if dup {
			n.r.fail(join(n.path(), key), "the key %q stands twice", key)
			return false
		}
		if o.fields = append(o.fields, field{key: key, value: v}); len(o.fields) == manyFields {
			seen = map[string]bool{}
			for _, f := range o.fields {
				seen[f.key] = true
			}
		}
		return true
	})
	return o
}

// missing tells whether there is no such value, or null.
func (n node) missing() bool { return n.value.Type == gjson.Null }

// has tells whether the object has the key, and counts it as read.
func (n node) has(key string) bool {
	f := n.fields().find(n.r.called(key))
	if f != nil {
		f.used = true
	}
	return f != nil
}

// called is what a key of a scene is called in the file.
func (r *reader) called(key string) string {
	if other, ok := r.keys[key]; ok {
		return other
	}
	return key
}

// at is the value of a key; one that is missing where there is none.
func (n node) at(key string) node {
	key = n.r.called(key)
	o := n.fields()
	f := o.find(key)
	if f == nil {
		return node{r: n.r}
	}
	f.used = true
	c := node{r: n.r, value: f.value, in: &o.place, key: key}
	c.known()
	return c
}

// now is the value of a key, or of the one that it had in earlier versions.
func (n node) now(key, before string) node {
	if !n.has(key) && n.has(before) {
		return n.at(before)
	}
	return n.at(key)
}

// keys lists the object's keys in order, and counts them all as read.
func (n node) keys() []string {
	if n.missing() {
		return nil
	}
	var keys []string
	o := n.fields()
	for i := range o.fields {
		o.fields[i].used = true
		keys = append(keys, o.fields[i].key)
	}
	slices.Sort(keys)
	return keys
}

// done faults the keys that nobody asked for. Nothing more is asked of the object then.
func (n node) done() {
	o := n.as
	if o == nil || !o.open {
		return
	}
	unknown := ""
	for _, f := range o.fields {
		if !f.used && (unknown == "" || f.key < unknown) {
			unknown = f.key
		}
	}
	if unknown != "" {
		n.r.fail(join(n.path(), unknown), "there is no such key")
	}
	if cap(o.fields) > 0 && cap(o.fields) <= manyFields {
		n.r.spare = append(n.r.spare, o.fields)
	}
	o.fields = nil
}

// each goes through a list.
func (n node) each(do func(c node)) {
	if n.missing() {
		return
	}
	if !n.value.IsArray() {
		n.r.fail(n.path(), "this must be a list")
		return
	}
	in, i := n.inside(), 0
	n.value.ForEach(func(_, v gjson.Result) bool {
		c := node{r: n.r, value: v, in: &in, index: i}
		c.known()
		do(c)
		i++
		return n.r.err == nil
	})
}

func (n node) list() (ns []node) {
	n.each(func(c node) { ns = append(ns, c) })
	return ns
}

func (n node) text(otherwise string) string {
	if n.missing() {
		return otherwise
	}
	if n.value.Type != gjson.String {
		n.r.fail(n.path(), "this must be a text")
		return ""
	}
	return strings.Clone(n.value.Str) // not all of the file with it
}

func (n node) bool(otherwise bool) bool {
	switch n.value.Type {
	case gjson.Null:
		return otherwise
	case gjson.True, gjson.False:
	default:
		n.r.fail(n.path(), "this must be true or false")
	}
	return n.value.Type == gjson.True
}

// int is a whole number in lo..hi.
func (n node) int(otherwise, lo, hi int) int {
	if n.missing() {
		return otherwise
	}
	v, err := strconv.Atoi(n.value.Raw)
	if n.value.Type != gjson.Number || err != nil || v < lo || v > hi {
		n.r.fail(n.path(), "this must be a whole number from %d to %d", lo, hi)
		return otherwise
	}
	return v
}

func (n node) ints(lo, hi int) (ids []int) {
	n.each(func(c node) { ids = append(ids, c.int(0, lo, hi)) })
	return ids
}

// some reads a list of as many whole numbers as there are places, and tells whether it
// has so many.
func (n node) some(lo, hi int, places ...*int) bool {
	i := 0
	n.each(func(c node) {
		if i < len(places) {
			*places[i] = c.int(0, lo, hi)
		}
		i++
	})
	return i == len(places)
}

// name is the key the value stands under, as a value of its own.
func (n node) name() node {
	return node{r: n.r, in: n.in, key: n.key, index: n.index, value: gjson.Result{Type: gjson.String, Str: n.key}}
}
