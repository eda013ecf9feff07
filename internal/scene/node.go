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
	path  string
	value any // nil, bool, json.Number, string, []any, object
	used  map[string]bool
}

// object keeps the order of its keys out of mind; keys that stand twice are a
// fault before it is made.
type object map[string]any

// reader holds what is common to the nodes of one file.
type reader struct{ err error }

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
	v, err := readValue(dec, "", 0)
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

func readValue(dec *json.Decoder, path string, depth int) (any, error) {
	t, err := dec.Token()
	if err != nil {
		return nil, err
	}
	if depth > maxDepth {
		return nil, fmt.Errorf("%s: values stand more than %d deep", path, maxDepth)
	}
	switch t {
	case json.Delim('['):
		list := []any{}
		for dec.More() {
			v, err := readValue(dec, fmt.Sprintf("%s[%d]", path, len(list)), depth+1)
			if err != nil {
				return nil, err
			}
			list = append(list, v)
		}
		_, err = dec.Token()
		return list, err
	case json.Delim('{'):
		o := object{}
		for dec.More() {
			k, err := dec.Token()
			if err != nil {
				return nil, err
			}
			key := k.(string)
			if _, dup := o[key]; dup {
				return nil, fmt.Errorf("%s: the key %q stands twice", join(path, key), key)
			}
			if o[key], err = readValue(dec, join(path, key), depth+1); err != nil {
				return nil, err
			}
		}
		_, err = dec.Token()
		return o, err
	}
	return t, nil
}

func join(path, key string) string {
	if path == "" {
		return key
	}
	return path + "." + key
}

// has tells whether the object has the key, and counts it as read.
func (n *node) has(key string) bool {
	o, ok := n.value.(object)
	if !ok {
		n.r.fail(n.path, "this must be an object")
		return false
	}
	if n.used == nil {
		n.used = map[string]bool{}
	}
	n.used[key] = true
	_, ok = o[key]
	return ok
}

// at is the value of a key; a node of nil where it is missing.
func (n *node) at(key string) *node {
	child := &node{r: n.r, path: join(n.path, key)}
	if n.has(key) {
		child.value = n.value.(object)[key]
	}
	return child
}

// keys lists the object's keys in order, and counts them all as read.
func (n *node) keys() []string {
	var keys []string
	if o, ok := n.value.(object); ok {
		for k := range o {
			n.has(k)
			keys = append(keys, k)
		}
	} else if n.value != nil {
		n.r.fail(n.path, "this must be an object")
	}
	slices.Sort(keys)
	return keys
}

// done faults the keys that nobody asked for.
func (n *node) done() {
	o, _ := n.value.(object)
	var unknown []string
	for k := range o {
		if !n.used[k] {
			unknown = append(unknown, k)
		}
	}
	slices.Sort(unknown)
	if len(unknown) > 0 {
		n.r.fail(join(n.path, unknown[0]), "there is no such key")
	}
}

func (n *node) list() []*node {
	if n.value == nil {
		return nil
	}
	vs, ok := n.value.([]any)
	if !ok {
		n.r.fail(n.path, "this must be a list")
	}
	ns := make([]*node, len(vs))
	for i, v := range vs {
		ns[i] = &node{r: n.r, path: n.path + "[" + strconv.Itoa(i) + "]", value: v}
	}
	return ns
}

func (n *node) text(otherwise string) string {
	if n.value == nil {
		return otherwise
	}
	s, ok := n.value.(string)
	if !ok {
		n.r.fail(n.path, "this must be a text")
	}
	return s
}

func (n *node) bool(otherwise bool) bool {
	if n.value == nil {
		return otherwise
	}
	b, ok := n.value.(bool)
	if !ok {
		n.r.fail(n.path, "this must be true or false")
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
		n.r.fail(n.path, "this must be a whole number from %d to %d", lo, hi)
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
