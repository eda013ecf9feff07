package display

import (
	"testing"

	"github.com/jezek/xgb/randr"
)

// What a monitor says of its size counts where it is plausible, turned or not.
func TestDensity(t *testing.T) {
	for _, c := range []struct {
		w, h     uint16
		mmW, mmH uint32
		want     int
	}{
		{w: 1920, h: 1080, mmW: 508, mmH: 286, want: 96},
		{w: 3840, h: 2160, mmW: 508, mmH: 286, want: 192},
		{w: 1080, h: 1920, mmW: 508, mmH: 286, want: 96}, // turned, with its sides as before
		{w: 1080, h: 1920, mmW: 286, mmH: 508, want: 96},
		{w: 1920, h: 1080}, // none
		{w: 1920, h: 1080, mmW: 160, mmH: 90, want: 305},
		{w: 1920, h: 1080, mmW: 1600, mmH: 900}, // a wall
		{w: 1920, h: 1080, mmW: 16, mmH: 9},     // its aspect
	} {
		if got := density(&randr.MonitorInfo{Width: c.w, Height: c.h, WidthInMillimeters: c.mmW, HeightInMillimeters: c.mmH}); got != c.want {
			t.Errorf("%d×%d pixels on %d×%d mm are %d an inch, want %d", c.w, c.h, c.mmW, c.mmH, got, c.want)
		}
	}
}
