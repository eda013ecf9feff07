// House draws the packages, writes the reference and draws the samples: what is in the
// code already is written down from there. The command is run in the folder of the
// project, by "make docs".
package main

import (
	"errors"
	"fmt"
	"os"
	"os/exec"
	"slices"
	"strings"

	"zatlas/internal/desk"
	"zatlas/internal/host/x11/standards"
	"zatlas/internal/lang"
)

// floor is packages that may know of those on the floors below them, and of no
// others.
type floor struct {
	name  string
	rooms []string
	shift int // in pixels to the right of the middle, in the drawing
}

// floors are the floors from the top.
var floors = []floor{
	{"the program", []string{"cmd/zatlas"}, 0},
	{"screens, hosts, socket, disk", []string{"tui", "remote", "host/sim", "host/x11", "host/alongside", "store"}, 0},
	{"the keyboard of a display, the map", []string{"host/display/board", "tui/atlasmap"}, 0},
	{"what is drawn, in pixels and cells", []string{"host/display/paint", "host/display/camera", "tui/cells", "tui/terminal"}, 0},
	{"the keeper, the display", []string{"keeper", "host/display", "draw/render", "status"}, 0},
	{"drawings, plates", []string{"draw", "plate", "pack"}, 0},
	{"files and programs", []string{"settings", "scene", "apps", "survey"}, 0},
	{"keys", []string{"keys"}, -130},
	{"questions", []string{"prompt"}, -130},
	{"words", []string{"lang"}, -130},
	{"the desk", []string{"desk"}, 60},
	{"geometry", []string{"layout", "stray"}, 90},
	{"the ground", []string{"file", "geom", "fuzzy", "assign", "picture"}, 0},
}

// beside are the packages that no other but tests uses: they may know of all.
var beside = []string{"testkit", "testkit/desks", "testkit/manager", "host/hosttest", "host/x11/standards", "bench", "house"}

// module is what the paths of our packages begin with.
const module = "zatlas/"

// room is a package without what all have in common.
func room(path string) string {
	return strings.TrimPrefix(strings.TrimPrefix(path, module), "internal/")
}

// listed gives the packages there are, each with those of ours that it imports.
func listed(root string) (map[string][]string, error) {
	cmd := exec.Command("go", "list", "-f", `{{.ImportPath}} {{join .Imports " "}}`, "./...")
	cmd.Dir = root
	out, err := cmd.Output()
	if err != nil {
		return nil, fmt.Errorf("go list: %w", err)
	}
	imports := map[string][]string{}
	for line := range strings.Lines(string(out)) {
		words := strings.Fields(line)
		of := room(words[0])
		imports[of] = nil
		for _, w := range words[1:] {
			if strings.HasPrefix(w, module) {
				imports[of] = append(imports[of], room(w))
			}
		}
	}
	return imports, nil
}

// faults says what is not as the floors have it.
func faults(imports map[string][]string) []string {
	level := map[string]int{}
	for i, f := range floors {
		for _, r := range f.rooms {
			level[r] = i
			if _, is := imports[r]; !is {
				list := "there is no package " + r
				return []string{list}
			}
		}
	}
	var list []string
	for of, to := range imports {
		if slices.Contains(beside, of) {
			continue
		}
		from, placed := level[of]
		if !placed {
			list = append(list, of+" is on no floor")
			continue
		}
		for _, r := range to {
			if below, placed := level[r]; !placed || below <= from {
				list = append(list, of+" knows of "+r+", which is not below it")
			}
		}
	}
	slices.Sort(list)
	return list
}

// verbs is the table of verbs, as the reference has it.
func verbs() string {
	var b strings.Builder
	b.WriteString("| Key | Command | |\n|---|---|---|\n")
	for _, v := range desk.Verbs() {
		key := ""
		for k := range strings.FieldsSeq(v.Key + " " + v.Bound) {
			key += " `" + k + "`"
		}
		usage := strings.NewReplacer("|", `\|`, " [of WINDOWS]", "").Replace(lang.Usage(v))
		fmt.Fprintf(&b, "|%s | `%s` | %s |\n", strings.ReplaceAll(key, "`|`", "`\\|`"), usage, v.Help)
	}
	return b.String()
}

// written gives what the files of the documentation should hold, by their names.
func written(root string) (map[string]string, error) {
	imports, err := listed(root)
	if err != nil {
		return nil, err
	}
	if list := faults(imports); len(list) > 0 {
		return nil, errors.New(strings.Join(list, "\n"))
	}
	files := map[string]string{"docs/REFERENCE.md": reference(), "docs/house.svg": drawing(imports), "docs/STANDARDS.md": standards.Page()}
	return files, samples(files)
}

func main() {
	if len(os.Args) > 1 { // the table alone
		fmt.Print(verbs())
		return
	}
	files, err := written(".")
	if err == nil {
		err = os.MkdirAll("docs/samples", 0o755)
	}
	for name, text := range files {
		if err == nil {
			err = os.WriteFile(name, []byte(text), 0o644)
		}
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, "house:", err)
		os.Exit(1)
	}
}
