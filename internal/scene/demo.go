package scene

import (
	"bytes"
	_ "embed" // for the demo desk

	"zatlas/internal/desk"
)

//go:embed demo.json
var demo []byte

// Demo is the demo desk: a small film festival with three windows lost where
// its projector was. A copy of the file serves as an example of the format.
func Demo() (*desk.Desk, error) { return Read(bytes.NewReader(demo)) }

// DemoFile is the demo desk's file.
func DemoFile() []byte { return bytes.Clone(demo) }
