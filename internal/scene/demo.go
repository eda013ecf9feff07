package scene

import (
	"bytes"
	_ "embed" // for the demo desk

	"zatlas/internal/desk"
)

//go:embed demo.json
var demo []byte

// Demo is the demo desk: a small film festival with three windows lost where
// its projector was. Its file is an example of the format.
func Demo() (*desk.Desk, error) { return Read(bytes.NewReader(demo)) }
