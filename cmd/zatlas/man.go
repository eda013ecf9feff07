//go:build man

package main

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/cpuguy83/go-md2man/v2/md2man"
	"github.com/spf13/cobra"
	"github.com/spf13/cobra/doc"
)

// The build alone writes manual pages: what that takes is not in the program.
func init() { ofBuild = append(ofBuild, manCommand) }

func manCommand() *cobra.Command {
	return &cobra.Command{
		Use:    "man FOLDER",
		Short:  "Write the manual pages into a folder",
		Hidden: true,
		Args:   cobra.ExactArgs(1),
		RunE:   func(cmd *cobra.Command, args []string) error { return writeMan(cmd.Root(), args[0]) },
	}
}

// writeMan writes a page for each command, and one for each topic.
func writeMan(root *cobra.Command, folder string) error {
	made := time.Date(2026, 11, 1, 0, 0, 0, 0, time.UTC) // the same pages each time
	root.DisableAutoGenTag = true
	header := &doc.GenManHeader{Title: "ZATLAS", Section: "1", Source: "Zealous Atlas", Manual: "Zealous Atlas", Date: &made}
	if err := doc.GenManTree(root, header, folder); err != nil {
		return fmt.Errorf("writing the manual pages: %w", err)
	}
	for _, t := range topics() {
		os.Remove(filepath.Join(folder, "zatlas-"+t.name+".1")) // which the generator takes for a command
		var b strings.Builder
		fmt.Fprintf(&b, "%% \"ZATLAS-%s\" \"%s\" \"Nov 2026\" \"Zealous Atlas\" \"Zealous Atlas\"\n", strings.ToUpper(t.name), t.section)
		fmt.Fprintf(&b, "# NAME\n\nzatlas-%s - %s\n\n", t.name, t.short)
		t.write(&b)
		fmt.Fprint(&b, "\n# SEE ALSO\n\n**zatlas(1)**, **zatlas-language(7)**, **zatlas-settings(5)**, **zatlas-scene(5)**\n")
		page := filepath.Join(folder, "zatlas-"+t.name+"."+t.section)
		if err := os.WriteFile(page, md2man.Render([]byte(b.String())), 0o644); err != nil {
			return fmt.Errorf("writing the manual pages: %w", err)
		}
	}
	return nil
}
