package apps

import (
	"cmp"
	"errors"
	"fmt"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"unicode/utf8"
)

// Parse reads a desktop entry. Path is its place, for %k; the locale chooses
// among its names; desktops is XDG_CURRENT_DESKTOP, for OnlyShowIn.
func Parse(data []byte, path, locale, desktops string) (App, error) {
	if !utf8.Valid(data) {
		return App{}, errors.New("it is no UTF-8")
	}
	keys, err := entryKeys(string(data))
	if err != nil {
		return App{}, err
	}
	get := func(key string) string { return unescape(keys[key]) }
	app := App{
		Name: unescape(localized(keys, "Name", locale)), Dir: get("Path"), Class: get("StartupWMClass"),
		Terminal: keys["Terminal"] == "true",
		Hidden:   keys["NoDisplay"] == "true" || keys["Hidden"] == "true" || !shownIn(keys, desktops),
	}
	if slices.Contains(strings.Split(keys["Categories"], ";"), "TerminalEmulator") {
		app.Before = cmp.Or(get("X-TerminalArgExec"), "-e")
	}
	switch {
	case keys["Type"] != "Application":
		return app, errors.New("it is no application")
	case strings.TrimSpace(app.Name) == "":
		return app, errors.New("it has no name")
	case app.Hidden:
		return app, nil
	case get("TryExec") != "" && !executable(get("TryExec")):
		app.Hidden = true
		return app, nil
	}
	app.Command, err = Command(get("Exec"), app.Name, get("Icon"), path)
	return app, err
}

// entryKeys are the keys of the group [Desktop Entry], which must come first.
func entryKeys(text string) (map[string]string, error) {
	keys := map[string]string{}
	in := ""
	n := 0
	for line := range strings.Lines(text) {
		n++
		line = strings.TrimRight(line, "\r\n")
		switch {
		case strings.TrimSpace(line) == "" || line[0] == '#':
			continue
		case line[0] == '[':
			name, ok := strings.CutSuffix(strings.TrimSpace(line[1:]), "]")
			if !ok {
				return nil, fmt.Errorf("line %d: a group without its end", n)
			}
			if in == "" && name != "Desktop Entry" {
				return nil, fmt.Errorf("line %d: the first group is not [Desktop Entry]", n)
			}
			in = name
			continue
		}
		key, value, ok := strings.Cut(line, "=")
		if !ok || in == "" {
			return nil, fmt.Errorf("line %d: no key and value of a group", n)
		}
		if key = strings.TrimSpace(key); in == "Desktop Entry" {
			if _, dup := keys[key]; dup {
				return nil, fmt.Errorf("line %d: %s a second time", n, key)
			}
			keys[key] = strings.TrimSpace(value)
		}
	}
	return keys, nil
}

// localized is the value of a key for a locale lang_COUNTRY.ENCODING@MODIFIER,
// by the order of the specification's section 5.
func localized(keys map[string]string, key, locale string) string {
	locale, modifier, _ := strings.Cut(locale, "@")
	locale, _, _ = strings.Cut(locale, ".")
	lang, country, _ := strings.Cut(locale, "_")
	var tries []string
	if country != "" && modifier != "" {
		tries = append(tries, lang+"_"+country+"@"+modifier)
	}
	if country != "" {
		tries = append(tries, lang+"_"+country)
	}
	if modifier != "" {
		tries = append(tries, lang+"@"+modifier)
	}
	for _, t := range append(tries, lang) {
		if v, ok := keys[key+"["+t+"]"]; ok && t != "" {
			return v
		}
	}
	return keys[key]
}

// unescape reads the escapes of a string value.
func unescape(s string) string {
	return strings.NewReplacer(`\\`, `\`, `\s`, " ", `\n`, "\n", `\t`, "\t", `\r`, "\r").Replace(s)
}

// shownIn follows OnlyShowIn and NotShowIn.
func shownIn(keys map[string]string, desktops string) bool {
	only, not := keys["OnlyShowIn"], keys["NotShowIn"]
	for d := range strings.SplitSeq(desktops, ":") {
		if d == "" {
			continue
		}
		if slices.Contains(strings.Split(only, ";"), d) {
			return true
		}
		if slices.Contains(strings.Split(not, ";"), d) {
			return false
		}
	}
	return only == ""
}

func executable(name string) bool {
	_, err := exec.LookPath(name)
	return err == nil
}

// Command is the arguments of an Exec line, with its quotes and field codes read (section 7 of
// the specification). Codes for files leave nothing: no files are given.
func Command(line, name, icon, path string) ([]string, error) {
	var args []string
	rest := line
	for {
		rest = strings.TrimLeft(rest, " ")
		if rest == "" {
			break
		}
		var arg string
		var err error
		if rest[0] == '"' {
			if arg, rest, err = quoted(rest); err != nil {
				return nil, err
			}
			args = append(args, arg)
			continue
		}
		arg, rest, _ = strings.Cut(rest, " ")
		// Of the reserved characters those that many entries leave unquoted all the
		// same, and that mean one thing only without a shell, may stand.
		if strings.ContainsAny(arg, "\"'`$<>&|;()\\") {
			return nil, fmt.Errorf("%s needs quotes", arg)
		}
		more, err := expand(arg, name, icon, path)
		if err != nil {
			return nil, err
		}
		args = append(args, more...)
	}
	if len(args) == 0 || args[0] == "" {
		return nil, errors.New("it names no program")
	}
	if strings.ContainsRune(args[0], filepath.Separator) && !filepath.IsAbs(args[0]) || strings.Contains(args[0], "=") {
		return nil, fmt.Errorf("%s is no program's name", args[0])
	}
	return args, nil
}

// quoted reads an argument in double quotes and gives what follows it.
func quoted(s string) (arg, rest string, err error) {
	var b strings.Builder
	for i := 1; i < len(s); i++ {
		switch c := s[i]; {
		case c == '"':
			if i+1 < len(s) && s[i+1] != ' ' {
				return "", "", errors.New("text follows a quote")
			}
			return b.String(), s[i+1:], nil
		case c == '\\' && i+1 < len(s) && strings.IndexByte("\"`$\\", s[i+1]) >= 0:
			i++
			b.WriteByte(s[i])
		case c == '\\' || c == '`' || c == '$':
			return "", "", fmt.Errorf("%q in quotes needs a backslash before it", string(c))
		case c == '%' && i+1 < len(s) && s[i+1] == '%':
			i++
			b.WriteByte('%')
		case c == '%':
			return "", "", errors.New("a field code is in quotes")
		default:
			b.WriteByte(c)
		}
	}
	return "", "", errors.New("a quote is not closed")
}

// expand replaces the field codes of an unquoted argument, by which it becomes
// none, one or two.
func expand(arg, name, icon, path string) ([]string, error) {
	if arg == "%i" {
		if icon == "" {
			return nil, nil
		}
		return []string{"--icon", icon}, nil
	}
	var b strings.Builder
	code := false
	for i := 0; i < len(arg); i++ {
		if arg[i] != '%' {
			b.WriteByte(arg[i])
			continue
		}
		if i++; i == len(arg) {
			return nil, errors.New("a % at the end")
		}
		switch arg[i] {
		case '%':
			b.WriteByte('%')
			continue
		case 'c':
			b.WriteString(name)
		case 'k':
			b.WriteString(path)
		case 'f', 'F', 'u', 'U', 'd', 'D', 'n', 'N', 'v', 'm': // no file; or of old, and to be left out
		default:
			return nil, fmt.Errorf("there is no field code %%%c", arg[i])
		}
		code = true
	}
	if b.Len() == 0 && code {
		return nil, nil
	}
	return []string{b.String()}, nil
}
