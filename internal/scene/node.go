package scene

import (
	"encoding/json"
	"fmt"
	"io"
	"slices"
	"strconv"
)

// node is a value of a JSON file that knows its place, read strictly: every
// key must be asked for, none may stand twice, and the first fault is kept.
type node struct {
	r     *reader
	value any // nil, bool, json.Number, string, []any, *object

	// Where it stands: under a key of another, or at an index of its list. A path
	// is made of that where it is asked for, which is for a fault alone.
	in    *node
	key   string
	index int
}

// object is the keys of an object in their order; keys that stand twice are a fault
// before it is made.
type object struct{ fields []field }

// field is a key with its value, and whether it was asked for.
type field struct {
	key   string
	value any
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

// path is where the node stands, for people.
func (n *node) path() string {
	switch {
	case n.in == nil:
		return n.key
	case n.key == "":
		return n.in.path() + "[" + strconv.Itoa(n.index) + "]"
	}
	return join(n.in.path(), n.key)
}

// reader holds what is common to the nodes of one file.
type reader struct {
	err  error
	none *node // of all keys that are missing
}

func (r *reader) fail(path, format string, args ...any) {
	if r.err == nil {
		if path == "" {
			path = "the scene"
		}
		r.err = fmt.Errorf("%s: %s", path, fmt.Sprintf(format, args...))
	}
}

// maxDepth bounds how deep values may stand in one another.
const maxDepth = 200

// parse reads one JSON value and nothing after it.
func parse(in io.Reader) (*node, error) {
	dec := json.NewDecoder(in)
	dec.UseNumber()
	r := &reader{}
	r.none = &node{r: r}
	v, err := readValue(dec, nil, 0)
	if err != nil {
		return nil, fmt.Errorf("not a scene: %w (at byte %d)", noEOF(err), dec.InputOffset())
	}
	if _, err := dec.Token(); err != io.EOF {
		return nil, fmt.Errorf("not a scene: something follows its end at byte %d", dec.InputOffset())
	}
	return &node{r: r, value: v}, nil
}

func noEOF(err error) error {
	if err == io.EOF {
		return io.ErrUnexpectedEOF
	}
	return err
}

// place is where a value stands while it is read, for a fault.
type place struct {
	in    *place
	key   string
	index int
}

func (p *place) String() string {
	switch {
	case p == nil:
		return ""
	case p.key == "":
		return p.in.String() + "[" + strconv.Itoa(p.index) + "]"
	}
	return join(p.in.String(), p.key)
}

func readValue(dec *json.Decoder, at *place, depth int) (any, error) {
	t, err := dec.Token()
	if err != nil {
		return nil, err
	}
	if depth > maxDepth {
		return nil, fmt.Errorf("%s: values stand more than %d deep", at, maxDepth)
	}
	switch t {
	case json.Delim('['):
		list := []any{}
		for in := (place{in: at}); dec.More(); in.index++ {
			v, err := readValue(dec, &in, depth+1)
			if err != nil {
				return nil, err
			}
			list = append(list, v)
		}
		_, err = dec.Token()
		return list, err
	case json.Delim('{'):
		return readObject(dec, at, depth)
	}
	return t, nil
}

func readObject(dec *json.Decoder, at *place, depth int) (any, error) {
	o := &object{}
	seen := map[string]bool(nil) // of an object with more keys than any of ours
	for in := (place{in: at}); dec.More(); {
		k, err := dec.Token()
		if err != nil {
			return nil, err
		}
		in.key = k.(string)
		dup := seen[in.key]
		if seen == nil {
			dup = o.find(in.key) != nil
		} else {
			seen[in.key] = true
		}
		if dup {
			return nil, fmt.Errorf("%s: the key %q stands twice", join(at.String(), in.key), in.key)
		}
		v, err := readValue(dec, &in, depth+1)
		if err != nil {
			return nil, err
		}
		if o.fields = append(o.fields, field{key: in.key, value: v}); len(o.fields) == manyFields {
			seen = map[string]bool{}
			for _, f := range o.fields {
				seen[f.key] = true
			}
		}
	}
	_, err := dec.Token()
	return o, err
}

func join(path, key string) string {
	if path == "" {
		return key
	}
	return path + "." + key
}

// field is that of a key, which counts as read; nil where it is missing.
func (n *node) field(key string) *field {
	o, ok := n.value.(*object)
	if !ok {
		n.r.fail(n.path(), "this must be an object")
		return nil
	}
	f := o.find(key)
	if f != nil {
		f.used = true
	}
	return f
}

// has tells whether the object has the key, and counts it as read.
func (n *node) has(key string) bool { return n.field(key) != nil }

// at is the value of a key; a node of nil where it is missing.
func (n *node) at(key string) *node {
	if f := n.field(key); f != nil {
		return &node{r: n.r, in: n, key: key, value: f.value}
	}
	return n.r.none
}

// keys lists the object's keys in order, and counts them all as read.
func (n *node) keys() []string {
	var keys []string
	if o, ok := n.value.(*object); ok {
		for i := range o.fields {
			o.fields[i].used = true
			keys = append(keys, o.fields[i].key)
		}
	} else if n.value != nil {
		n.r.fail(n.path(), "this must be an object")
	}
	slices.Sort(keys)
	return keys
}

// done faults the keys that nobody asked for.
func (n *node) done() {
	o, _ := n.value.(*object)
	if o == nil {
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
}

func (n *node) list() []*node {
	if n.value == nil {
		return nil
	}
	vs, ok := n.value.([]any)
	if !ok {
		n.r.fail(n.path(), "this must be a list")
	}
	ns, nodes := make([]*node, len(vs)), make([]node, len(vs))
	for i, v := range vs {
		nodes[i] = node{r: n.r, in: n, index: i, value: v}
		ns[i] = &nodes[i]
	}
	return ns
}

func (n *node) text(otherwise string) string {
	if n.value == nil {
		return otherwise
	}
	s, ok := n.value.(string)
	if !ok {
		n.r.fail(n.path(), "this must be a text")
	}
	return s
}

func (n *node) bool(otherwise bool) bool {
	if n.value == nil {
		return otherwise
	}
	b, ok := n.value.(bool)
	if !ok {
		n.r.fail(n.path(), "this must be true or false")
	}
	return b
}

// int is a whole number in lo..hi.
func (n *node) int(otherwise, lo, hi int) int {
	if n.value == nil {
		return otherwise
	}
	num, ok := n.value.(json.Number)
	v, err := strconv.Atoi(num.String())
	if !ok || err != nil || v < lo || v > hi {
		n.r.fail(n.path(), "this must be a whole number from %d to %d", lo, hi)
		return otherwise
	}
	return v
}

func (n *node) ints(lo, hi int) []int {
	var ids []int
	for _, c := range n.list() {
		ids = append(ids, c.int(0, lo, hi))
	}
	return ids
}

// name is the key the value stands under, as a value of its own.
func (n *node) name() *node { return &node{r: n.r, in: n.in, key: n.key, index: n.index, value: n.key} }
