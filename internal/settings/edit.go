package settings

import (
	"bytes"
	"errors"
	"fmt"
	"io/fs"
	"maps"
	"os"
	"path/filepath"
	"reflect"
	"slices"
	"strconv"
	"strings"

	"github.com/pelletier/go-toml/v2"
	"github.com/pelletier/go-toml/v2/unstable"

	"zatlas/internal/file"
)

// newFile begins a settings file that a screen makes.
const newFile = "# Settings of Zealous Atlas. \"zatlas config\" prints every one of them, explained.\n"

// Set writes one setting into the file and leaves the rest of it as it is, the
// comments too; it makes the file where there is none. A file that is at fault,
// or written in a way in which one setting cannot be changed by itself, is left
// alone, and the error says so.
func (c Choice) Set(path, value string) error {
	return change(path, c.Table, c.Key, c.literal(value), func(s *Settings) error {
		if err := c.set(s, value); err != nil {
			return err
		}
		return s.rechord()
	})
}

// SetChords has several chords stand for other commands, or for nothing where that is
// empty, in one writing of the file, as Choice.Set writes a setting. Where one cannot be
// changed none is.
func SetChords(path string, rows [][2]string) error {
	own := make([]string, len(rows)) // as the file writes them
	now, err := Load(path)
	for i, r := range rows {
		if err := checkChord(r[0], r[1]); err != nil {
			return err
		}
		k, _ := ParseKeys(r[0])
		own[i] = k.String()
		if err == nil {
			own[i] = now.ownRow(k)
		}
	}
	return rewrite(path, rows[len(rows)-1][0], func(data []byte) []byte {
		for i, r := range rows {
			key, _ := ParseKeys(own[i])
			data = edited(data, "chords", key.String(), strconv.Quote(r[1]))
		}
		return data
	}, func(s *Settings) error {
		s.own = maps.Clone(s.own)
		for i, r := range rows {
			s.own = with(s.own, own[i], r[1])
		}
		return s.rechord()
	})
}

// SetPin has a letter jump to a query, or to nothing where that is empty, as
// Choice.Set writes a setting.
func SetPin(path, letter, query string) error {
	if err := checkPin(letter, query); err != nil {
		return err
	}
	return change(path, "pins", letter, strconv.Quote(query), func(s *Settings) error {
		s.Pins = with(maps.Clone(s.Pins), letter, query)
		return nil
	})
}

// AddRule writes a rule at the end of the file.
func AddRule(path string, r Rule) error {
	if _, err := r.check(); err != nil {
		return err
	}
	return rewrite(path, "a rule", func(data []byte) []byte {
		text, err := toml.Marshal(map[string]any{"rules": []map[string]any{r.keys()}})
		if err != nil {
			return data
		}
		if len(data) > 0 && !bytes.HasSuffix(data, []byte("\n")) {
			data = append(data, '\n')
		}
		return append(append(data, '\n'), text...)
	}, func(s *Settings) error {
		s.Rules = append(slices.Clip(s.Rules), r)
		return nil
	})
}

// RemoveRule takes the rule of that index, from 0, out of the file, with the
// comment right above it.
func RemoveRule(path string, i int) error {
	return rewrite(path, fmt.Sprintf("rule %d", i+1), func(data []byte) []byte {
		if b := ruleBlocks(data); i < len(b) {
			return splice(data, b[i].from, b[i].to, "")
		}
		return data
	}, func(s *Settings) error {
		if i < 0 || i >= len(s.Rules) {
			return fmt.Errorf("there is no rule %d", i+1)
		}
		if s.Rules = slices.Delete(slices.Clone(s.Rules), i, i+1); len(s.Rules) == 0 {
			s.Rules = nil // as a file without rules is read
		}
		return nil
	})
}

// SwapRules has the rule of an index, from 0, and the one after it change places,
// with the comments right above them.
func SwapRules(path string, i int) error {
	return rewrite(path, "the order of the rules", func(data []byte) []byte {
		if !bytes.HasSuffix(data, []byte("\n")) {
			data = append(data, '\n')
		}
		b := ruleBlocks(data)
		if i+1 >= len(b) {
			return data
		}
		one, two := b[i], b[i+1]
		return bytes.Join([][]byte{data[:one.from], data[two.from:two.to], data[one.to:two.from], data[one.from:one.to], data[two.to:]}, nil)
	}, func(s *Settings) error {
		if i < 0 || i+1 >= len(s.Rules) {
			return fmt.Errorf("there is no rule %d, or none after it", i+1)
		}
		s.Rules = slices.Clone(s.Rules)
		s.Rules[i], s.Rules[i+1] = s.Rules[i+1], s.Rules[i]
		return nil
	})
}

// block is a part of the file, from a byte up to another.
type block struct{ from, to int }

// ruleBlocks are the lines of each rule: from the comment right above its head to
// the next table, or the comment right above that.
func ruleBlocks(data []byte) []block {
	var p unstable.Parser
	p.Reset(data)
	var blocks []block
	open := false
	for p.NextExpression() {
		e := p.Expression()
		if e.Kind != unstable.Table && e.Kind != unstable.ArrayTable {
			continue
		}
		it := e.Key()
		it.Next()
		start := commentAbove(data, lineStart(data, int(it.Node().Raw.Offset)))
		if open {
			blocks[len(blocks)-1].to = start
		}
		if open = e.Kind == unstable.ArrayTable && keyOf(e) == "rules"; open {
			blocks = append(blocks, block{start, len(data)})
		}
	}
	return blocks
}

// commentAbove is the start of the lines of comment that end where a line starts,
// else that line.
func commentAbove(data []byte, line int) int {
	for line > 0 {
		above := lineStart(data, line-1)
		if !bytes.HasPrefix(bytes.TrimLeft(data[above:line], " \t"), []byte("#")) {
			break
		}
		line = above
	}
	return line
}

// keys are those of the rule that say something.
func (r Rule) keys() map[string]any {
	m := map[string]any{}
	for key, v := range r.texts() {
		if *v != "" || key == "match" {
			m[key] = *v
		}
	}
	for _, f := range r.flags() {
		if *f.on {
			key, value := f.inFile()
			m[key] = value
		}
	}
	return m
}

// change writes a value into the file. Do makes the same change to the settings:
// the changed file must read as these.
func change(path, table, key, literal string, do func(s *Settings) error) error {
	return rewrite(path, key, func(data []byte) []byte { return edited(data, table, key, literal) }, do)
}

// rewrite writes a changed file in the place of the one that is there.
func rewrite(path, what string, edit func(data []byte) []byte, do func(s *Settings) error) error {
	if path == "" {
		return errors.New("no folder for the settings is known")
	}
	data, err := file.Read(path, file.MaxSettings)
	if errors.Is(err, fs.ErrNotExist) {
		data, err = []byte(newFile), nil
	}
	if err != nil {
		return fmt.Errorf("the settings: %w", err)
	}
	want, err := parse(data, Default(), nil)
	if err != nil {
		return fmt.Errorf("%s:%w. Mend that first", path, err)
	}
	if err := do(&want); err != nil {
		return err
	}
	body, marked := bytes.CutPrefix(data, []byte(byteOrderMark))
	data = newlines(edit(body), bytes.Contains(body, []byte("\r\n")))
	if marked {
		data = append([]byte(byteOrderMark), data...)
	}
	if got, err := parse(data, Default(), nil); err != nil || !reflect.DeepEqual(got, want) {
		return fmt.Errorf("%s is written in a way that this screen cannot change; change %s there by hand", path, what)
	}
	return write(path, data)
}

// newlines has every line of a file end as its lines do: what was added ends in
// a line feed alone.
func newlines(data []byte, carriageReturns bool) []byte {
	if !carriageReturns {
		return data
	}
	return bytes.ReplaceAll(bytes.ReplaceAll(data, []byte("\r\n"), []byte("\n")), []byte("\n"), []byte("\r\n"))
}

// edited is the file with a value written in the place of the one it has, else
// in a new line after the last of its table.
func edited(data []byte, table, key, literal string) []byte {
	var p unstable.Parser
	p.Reset(data)
	in := ""
	end := -1    // where the last line of the table ends
	dotted := -1 // where the last line at the top ends that has a key of the table
	for p.NextExpression() {
		e := p.Expression()
		name := keyOf(e)
		switch e.Kind {
		case unstable.Table, unstable.ArrayTable:
			in = name
			if in == table {
				end = lineEnd(data, keyEnd(e))
			}
			continue
		case unstable.KeyValue:
			if in != "" {
				name = in + "." + name
			}
		default:
			continue
		}
		raw := e.Value().Raw
		if sameKey(name, table, key) {
			return splice(data, int(raw.Offset), int(raw.Offset+raw.Length), literal)
		}
		if in == table && table != "" {
			end = lineEnd(data, int(raw.Offset+raw.Length))
		}
		if in == "" && strings.HasPrefix(name, table+".") && e.Value().Kind != unstable.InlineTable {
			dotted = lineEnd(data, int(raw.Offset+raw.Length))
		}
	}
	if table == "chords" {
		key = strconv.Quote(key)
	}
	line := key + " = " + literal + "\n"
	switch {
	case end >= 0:
		return splice(data, end, end, line)
	case dotted >= 0:
		return splice(data, dotted, dotted, table+"."+line)
	case table == "":
		return append([]byte(line), data...)
	}
	if len(data) > 0 && !bytes.HasSuffix(data, []byte("\n")) {
		data = append(data, '\n')
	}
	return append(data, "\n["+table+"]\n"+line...)
}

// keyOf is the dotted key of a table or of a value.
func keyOf(e *unstable.Node) string { return strings.Join(keyPath(e), ".") }

// keyEnd is where the key of a table ends in the file.
func keyEnd(e *unstable.Node) int {
	end := 0
	for it := e.Key(); it.Next(); {
		end = int(it.Node().Raw.Offset + it.Node().Raw.Length)
	}
	return end
}

// sameKey tells whether a dotted key of the file is that one of a table; chords
// are alike however they are written.
func sameKey(name, table, key string) bool {
	if table == "" {
		return name == key
	}
	if table != "chords" {
		return name == table+"."+key
	}
	const lead = len("chords.")
	if len(name) <= lead || name[:lead] != "chords." {
		return false
	}
	k, err := ParseKeys(name[lead:])
	return err == nil && k.String() == key
}

// lineEnd is the start of the line after the one that holds the byte at.
func lineEnd(data []byte, at int) int {
	if i := bytes.IndexByte(data[at:], '\n'); i >= 0 {
		return at + i + 1
	}
	return len(data)
}

// lineStart is the start of the line that holds the byte at.
func lineStart(data []byte, at int) int { return bytes.LastIndexByte(data[:at], '\n') + 1 }

func splice(data []byte, from, to int, text string) []byte {
	if from == len(data) && from > 0 && data[from-1] != '\n' && from == to {
		text = "\n" + text
	}
	return bytes.Join([][]byte{data[:from], []byte(text), data[to:]}, nil)
}

// write puts the file in place as a whole, with the mode it has.
func write(path string, data []byte) error {
	mode := fs.FileMode(0o600)
	if info, err := os.Stat(path); err == nil {
		mode = info.Mode().Perm()
	}
	if err := os.MkdirAll(filepath.Dir(path), 0o700); err != nil {
		return fmt.Errorf("the folder of the settings: %w", err)
	}
	if err := file.Replace(path, data, mode); err != nil {
		return fmt.Errorf("writing the settings: %w", err)
	}
	return nil
}
