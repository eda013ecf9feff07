package main

import (
	"fmt"
	"slices"
	"strings"
)

// Sizes of the drawing in pixels.
const (
	wide    = 1040 // of all of it
	floorH  = 92   // of a floor
	roomW   = 118
	roomH   = 34
	left    = 230 // of the floors' rooms; their names stand before it
	margin  = 24
	letterH = 14
)

// drawing is the house as SVG: its floors, the packages on them, and an arrow from
// each to those it imports. An arrow that follows from others is left out: where
// one goes by way of a room between.
func drawing(imports map[string][]string) string {
	var b strings.Builder
	high := len(floors)*floorH + 2*margin
	fmt.Fprintf(&b, `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 %d %d" font-family="sans-serif" font-size="%d">`+"\n", wide, high, letterH)
	b.WriteString(`<title>The packages of Zealous Atlas, and which knows of which</title>` + "\n")
	b.WriteString(`<defs><marker id="head" viewBox="0 0 8 8" refX="7" refY="4" markerWidth="7" markerHeight="7" orient="auto"><path d="M0 0 8 4 0 8z" fill="#8a6d1f"/></marker></defs>` + "\n")
	fmt.Fprintf(&b, `<rect width="%d" height="%d" fill="#f6f1e4"/>`+"\n", wide, high)
	at := map[string][2]int{} // the middle of each room
	for i, f := range floors {
		y := margin + i*floorH
		if i%2 == 0 {
			fmt.Fprintf(&b, `<rect x="0" y="%d" width="%d" height="%d" fill="#efe7d2"/>`+"\n", y, wide, floorH)
		}
		fmt.Fprintf(&b, `<text x="%d" y="%d" fill="#6b6252">%s</text>`+"\n", margin, y+floorH/2+5, f.name)
		for j, r := range f.rooms {
			gap := (wide - left - margin) / len(f.rooms)
			at[r] = [2]int{left + gap*j + gap/2 + f.shift, y + floorH/2}
		}
	}
	for _, f := range floors {
		for _, r := range f.rooms {
			for _, to := range direct(imports, r) {
				a, z := at[r], at[to]
				y0, y1 := a[1]+roomH/2, z[1]-roomH/2-1
				fmt.Fprintf(&b, `<path d="M%d %d C%d %d %d %d %d %d" fill="none" stroke="#8a6d1f" stroke-width="1.3" marker-end="url(#head)"/>`+"\n",
					a[0], y0, a[0], y0+floorH/3, z[0], y1-floorH/3, z[0], y1)
			}
		}
	}
	for _, f := range floors {
		for _, r := range f.rooms {
			p := at[r]
			fmt.Fprintf(&b, `<rect x="%d" y="%d" width="%d" height="%d" rx="5" fill="#fffdf6" stroke="#2d3a4a"/>`+"\n", p[0]-roomW/2, p[1]-roomH/2, roomW, roomH)
			fmt.Fprintf(&b, `<text x="%d" y="%d" text-anchor="middle" fill="#2d3a4a">%s</text>`+"\n", p[0], p[1]+5, strings.TrimPrefix(r, "host/display/"))
		}
	}
	b.WriteString("</svg>\n")
	return b.String()
}

// direct are the rooms that a room knows of by itself, not by way of another.
func direct(imports map[string][]string, of string) []string {
	var list []string
	for _, to := range imports[of] {
		byWay := slices.ContainsFunc(imports[of], func(way string) bool { return way != to && reaches(imports, way, to) })
		if !byWay {
			list = append(list, to)
		}
	}
	return list
}

// reaches tells whether a room knows of another, at any remove.
func reaches(imports map[string][]string, from, to string) bool {
	return slices.ContainsFunc(imports[from], func(next string) bool { return next == to || reaches(imports, next, to) })
}
