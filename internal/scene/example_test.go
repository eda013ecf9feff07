package scene_test

import (
	"fmt"
	"strings"

	"zatlas/internal/scene"
)

// A scene is a desk as a file. What cannot be a desk is told with its place.
func Example() {
	const text = `{
		"format": "zealous-atlas/scene/1",
		"monitors": [{"letter": "A", "rect": [0, 0, 1920, 1080]}],
		"workspaces": [{"name": "Programme", "sheets": {"A": {"layout": "columns", "windows": [1, 2]}}}],
		"windows": [{"id": 1, "app": "Reel Ledger", "title": "Running order"}, {"id": 2, "app": "Tin Radio", "title": "Late set"}]
	}`
	d, err := scene.Read(strings.NewReader(text))
	if err != nil {
		panic(err)
	}
	for _, w := range d.Windows {
		fmt.Println(w.Title, "is at", w.Rect)
	}
	_, err = scene.Read(strings.NewReader(strings.Replace(text, "[1, 2]", "[1, 3]", 1)))
	fmt.Println(err)
	// Output:
	// Running order is at 960×1080 at 0,0
	// Late set is at 960×1080 at 960,0
	// workspaces[0].sheets.A.windows[1]: there is no window 3
}
