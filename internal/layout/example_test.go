package layout_test

import (
	"fmt"

	"zatlas/internal/geom"
	"zatlas/internal/layout"
)

// A tree and a rectangle give a rectangle for each window. The layouts of lists are
// trees too.
func Example() {
	room := geom.R(0, 0, 1920, 1080)
	show := func(n *layout.Node) {
		layout.Place(n, room, layout.Spacing{}, func(window int, r geom.Rect) { fmt.Println(window, r) })
	}
	lead := layout.Of(layout.Lead, []int{1, 2, 3}, 60, 1)
	show(lead)
	fmt.Println("turned, without 3:")
	show(layout.Turn(layout.Remove(lead, func(window int) bool { return window == 3 }), []int{1}))
	// Output:
	// 1 1152×1080 at 0,0
	// 2 768×540 at 1152,0
	// 3 768×540 at 1152,540
	// turned, without 3:
	// 1 1920×648 at 0,0
	// 2 1920×432 at 0,648
}
