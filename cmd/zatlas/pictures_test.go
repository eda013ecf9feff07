package main

import (
	"fmt"
	"strings"
	"testing"

	"zatlas/internal/picture"
	"zatlas/internal/remote"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/manager"
)

// Real windows are pictured as they are, small, by a keeper and beside another manager, while
// the settings say so; those of a private app are not.
func TestPicturesOfRealWindows(t *testing.T) {
	t.Parallel()
	for _, host := range []string{"keep", "alongside"} {
		t.Run(host, func(t *testing.T) {
			t.Parallel()
			s := testkit.NewServer(t)
			settings := "pictures = true\nprivate = \"logo\"\n[desk]\nworkspaces = 2\n"
			s.Settings(t, settings)
			if host == "alongside" {
				manager.Start(t, s.Display, 2, manager.Switches{})
			}
			testkit.Spawn(t, s.Env, testkit.Binary(t), host)
			testkit.Until(t, "it answers", func() bool { _, err := testkit.TryRun(s.Env, testkit.Binary(t), "list"); return err == nil })
			client, err := remote.Dial(socketOf(s))
			if err != nil {
				t.Fatal(err)
			}
			shows := func(what string, id int, want func(c picture.Cells) bool) {
				t.Helper()
				testkit.Until(t, what, func() bool {
					given, _, err := client.Pictures(t.Context(), 0, []picture.Ask{{Window: id, W: 20, H: 6}})
					return err == nil && len(given) == 1 && want(given[0])
				})
			}
			full := func(bg picture.RGB) func(c picture.Cells) bool {
				return func(c picture.Cells) bool { return len(c.Cells) == 120 && c.Cells[80].Bg == bg && !c.At.IsZero() }
			}
			none := func(c picture.Cells) bool { return len(c.Cells) == 0 }
			s.Client(t, "Blue", "xterm", "-bg", "#000080", "-geometry", "60x20+20+20")
			shows("a blue terminal", 1, full(picture.RGB{B: 0x80}))
			s.Client(t, "Red", "xterm", "-bg", "#800000", "-geometry", "60x20+700+20")
			shows("a red one", 2, full(picture.RGB{R: 0x80}))
			s.Client(t, "Mark", "xlogo", "-geometry", "300x300+20+600")
			s.Do(t, "send 2 of #1")
			shows("what is hidden is as it was", 1, full(picture.RGB{B: 0x80}))
			shows("a private one is not pictured", 3, none)
			s.Settings(t, strings.Replace(settings, "logo", "nothing", 1))
			s.Do(t, "reload")
			shows("it is once it is not private", 3, func(c picture.Cells) bool { return len(c.Cells) == 120 })
			s.Settings(t, "pictures = false\n")
			s.Do(t, "reload")
			for id := 1; id <= 3; id++ {
				shows(fmt.Sprint(id, " is forgotten once pictures are off"), id, none)
			}
			s.Settings(t, settings)
			s.Do(t, "reload")
			shows("the red one is pictured once they are on again", 2, full(picture.RGB{R: 0x80}))
		})
	}
}
