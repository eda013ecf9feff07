package main

import (
	"cmp"
	"fmt"
	"runtime/debug"
	"strings"

	"zatlas/internal/remote"
	"zatlas/internal/scene"
	"zatlas/internal/store"
)

// The version of the program, and the commit it is made of, given when it is built to be
// installed ("make install").
var version, commit string

// versions says which versions of everything this program is and speaks.
func versions() string {
	made, toolchain, of := commit, "", cmp.Or(version, "from a checkout")
	if info, ok := debug.ReadBuildInfo(); ok {
		toolchain = info.GoVersion
		dirty := false
		for _, s := range info.Settings {
			switch s.Key {
			case "vcs.revision":
				made = cmp.Or(made, s.Value[:min(len(s.Value), 12)])
			case "vcs.modified":
				dirty = s.Value == "true"
			}
		}
		if dirty && made != "" {
			made += ", changed since"
		}
	}
	var b strings.Builder
	fmt.Fprintf(&b, "zatlas %s\n", of)
	fmt.Fprintf(&b, "commit    %s\n", cmp.Or(made, "not known"))
	fmt.Fprintf(&b, "go        %s\n", cmp.Or(toolchain, "not known"))
	fmt.Fprintf(&b, "protocol  %s\n", remote.Version)
	fmt.Fprintf(&b, "store     %d\n", store.Version)
	fmt.Fprintf(&b, "scene     %s, plate %s\n", formatVersion(scene.Format), formatVersion(scene.PlateFormat))
	return b.String()
}

// formatVersion is the number that the name of a format ends with.
func formatVersion(format string) string { return format[strings.LastIndexByte(format, '/')+1:] }
