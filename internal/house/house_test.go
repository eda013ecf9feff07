package main

import (
	"encoding/xml"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"
)

const root = "../.."

// No arrow runs upward, nor along a floor, and every package is on one.
func TestArrowsRunDown(t *testing.T) {
	imports, err := listed(root)
	if err != nil {
		t.Fatal(err)
	}
	for _, fault := range faults(imports) {
		t.Error(fault)
	}
	imports["desk"] = append(imports["desk"], "tui")
	imports["attic"] = nil
	got := faults(imports)
	for _, want := range []string{"desk knows of tui, which is not below it", "attic is on no floor"} {
		if !slices.Contains(got, want) {
			t.Errorf("%q is not among %q", want, got)
		}
	}
}

// The core is made of the standard library, and of golang.org/x/text for what letters
// are the same.
func TestCoreIsPlain(t *testing.T) {
	cmd := exec.Command("go", "list", "-deps", "-f", "{{if not .Standard}}{{.ImportPath}}{{end}}", "./internal/desk", "./internal/lang")
	cmd.Dir = root
	out, err := cmd.Output()
	if err != nil {
		t.Fatal(err)
	}
	for path := range strings.FieldsSeq(string(out)) {
		if !strings.HasPrefix(path, module) && !strings.HasPrefix(path, "golang.org/x/text/") {
			t.Errorf("the core needs %s", path)
		}
	}
}

// What is written from the code is as the code has it.
func TestDocsAreCurrent(t *testing.T) {
	files, err := written(root)
	if err != nil {
		t.Fatal(err)
	}
	for name, want := range files {
		got, err := os.ReadFile(filepath.Join(root, name))
		if err != nil || string(got) != want {
			t.Errorf("%s is not current: make docs writes it (%v)", name, err)
		}
	}
	d := xml.NewDecoder(strings.NewReader(files["docs/house.svg"]))
	for err == nil {
		_, err = d.Token()
	}
	if err != io.EOF {
		t.Errorf("the drawing is no XML: %v", err)
	}
}

// The map for whoever carries on names files that are there.
func TestArchitectureNamesFiles(t *testing.T) {
	text, err := os.ReadFile(filepath.Join(root, "docs/ARCHITECTURE.md"))
	if err != nil {
		t.Fatal(err)
	}
	n := 0
	for i, part := range strings.Split(string(text), "`") {
		if i%2 == 0 || !strings.Contains(part, "/") || strings.ContainsAny(part, " $~*{") {
			continue
		}
		n++
		if _, err := os.Stat(filepath.Join(root, part)); err != nil {
			t.Errorf("there is no %s", part)
		}
	}
	if n < 20 {
		t.Errorf("it names %d files", n)
	}
}
