package desk_test

import (
	"fmt"

	"zatlas/internal/desk"
	"zatlas/internal/geom"
	"zatlas/internal/lang"
)

// A desk is never written again: a command gives another one, and facts do.
func Example() {
	screen := geom.R(0, 0, 1920, 1080)
	before, err := desk.New([]desk.Monitor{{Letter: 'A', Name: "Laptop", Rect: screen, Work: screen, Connected: true}}, desk.Settings{})
	if err != nil {
		panic(err)
	}
	before, _ = before.With(
		desk.Opened{Window: desk.Window{ID: 1, App: "Reel Ledger", Title: "Running order"}, Focus: true},
		desk.Opened{Window: desk.Window{ID: 2, App: "Tin Radio", Title: "Late set"}, Focus: true},
	)
	for _, line := range []string{"add Press", "send Press of app:radio", "undo", "send 7"} {
		command, err := lang.ParseCommand(line)
		if err != nil {
			panic(err)
		}
		after, result, err := before.Apply(command)
		if err != nil {
			fmt.Println("no:", err)
			continue
		}
		fmt.Println(result.Words)
		before = after
	}
	for _, w := range before.Windows {
		fmt.Println(w.Title, "is at", w.Rect)
	}
	// Output:
	// Added workspace 2 Press.
	// Sent Tin Radio · Late set to 2 Press.
	// Undid: Sent Tin Radio · Late set to 2 Press.
	// no: there is no workspace 7: there are 2; add makes one
	// Running order is at 960×1080 at 0,0
	// Late set is at 960×1080 at 960,0
}
