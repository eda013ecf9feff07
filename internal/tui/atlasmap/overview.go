package atlasmap

import (
	"zatlas/internal/desk"
	"zatlas/internal/draw"
)

// Overview is what screens say of a desk as a whole, and how everything on it lies over one
// another.
type Overview struct {
	*draw.Overview
	Picture  desk.Picture
	pictures *desk.Pictures
}

// OverviewOf works out the overview of a desk; was is that of an earlier one, nil for
// none, which must not be used any more.
func OverviewOf(d *desk.Desk, was *Overview) *Overview {
	o := &Overview{pictures: &desk.Pictures{}}
	var before *draw.Overview
	if was != nil {
		before = was.Overview
	}
	var kept bool
	if o.Overview, kept = draw.OverviewOf(d, before); kept {
		o.pictures = was.pictures
	}
	o.Picture = o.pictures.Of(d)
	return o
}
