package picture

import (
	"bytes"
	"context"
	"fmt"
	"testing"
	"time"
)

// An album tells of what is newer than a point, wakes who waits, and forgets.
func TestAlbum(t *testing.T) {
	woken := make(chan struct{}, 10)
	a := NewAlbum(func() { woken <- struct{}{} })
	asks := []Ask{{1, 8, 4}, {2, 8, 4}}
	given, now, err := a.Pictures(t.Context(), 0, asks)
	if err != nil || len(given) != 2 || given[0].Cells != nil {
		t.Fatalf("an empty album gives %v, %v", given, err)
	}
	<-woken
	type news struct {
		given []Cells
		now   int64
	}
	came := make(chan news)
	wait := func() {
		given, now, _ := a.Pictures(t.Context(), now, asks)
		came <- news{given, now}
	}
	go wait()
	<-woken
	if asked := a.Asked(); !asked[1] || !asked[2] || len(asked) != 2 {
		t.Errorf("waited for are %v", asked)
	}
	a.Put(3, New(4, 4, RGB{1, 2, 3})) // nobody waits for it
	a.Put(2, New(4, 4, RGB{9, 9, 9}))
	got := <-came
	if len(got.given) != 1 || got.given[0].Window != 2 || got.given[0].Cells[0].Bg != (RGB{9, 9, 9}) || len(a.Asked()) != 0 {
		t.Fatalf("it is told of %v, and %v are waited for", got.given, a.Asked())
	}
	now = got.now
	p := a.pages[2].Picture
	go wait()
	<-woken
	a.Drop(2)
	if got = <-came; len(got.given) != 1 || got.given[0].Cells != nil || !bytes.Equal(p.RGB, make([]byte, len(p.RGB))) {
		t.Errorf("of one that was taken out it tells %v, and leaves %v", got.given, p.RGB[:3])
	}
	a.PutMade(4, func() *Picture { return Made("Tin Radio", "Late set", 480, 270) })
	if a.Get(4) == nil || a.Get(2) != nil {
		t.Error("what is drawn when it is looked at is not, or what was dropped is there")
	}
	a.Clear()
	if held, n := a.Held(); len(held) != 0 || n != 0 {
		t.Errorf("a cleared album holds %v, %d bytes", held, n)
	}
	ctx, cancel := context.WithCancel(t.Context())
	cancel()
	if _, _, err := a.Pictures(ctx, a.now, asks); err == nil {
		t.Error("who has gone is waited with")
	}
}

// An album has no more than it may.
func TestAlbumIsBounded(t *testing.T) {
	a := NewAlbum(nil)
	for id := range 400 {
		a.Put(id+1, New(MaxWidth, MaxHeight, RGB{}))
	}
	held, n := a.Held()
	if n > MaxBytes || n < MaxBytes/2 || held[len(held)-1] != 400 {
		t.Errorf("it holds %d bytes, of %v", n, held)
	}
	big := 0
	for _, id := range held {
		if a.Get(id).W == MaxWidth {
			big++
		}
	}
	if big != maxLarge || a.Get(400).W != MaxWidth || a.Get(held[0]).W > smallSide {
		t.Errorf("%d are large, the latest %d, the first %d wide", big, a.Get(400).W, a.Get(held[0]).W)
	}
	for id := range 1500 {
		a.Put(1000+id, New(smallSide, smallSide, RGB{}))
	}
	if _, n := a.Held(); n > MaxBytes {
		t.Errorf("with many small ones it holds %d bytes", n)
	}
}

// A cell has the two colours that are nearest, in the right quarters.
func TestCells(t *testing.T) {
	black, white := RGB{}, RGB{255, 255, 255}
	p := New(4, 2, black)
	p.Fill(1, 0, 1, 2, white) // the right half of the first cell
	p.Fill(2, 1, 1, 1, white) // the bottom left of the second
	c := p.Cells(2, 1)
	for i, want := range []Cell{{5, black, white}, {4, white, black}} {
		if k := c.Cells[i]; k != want {
			t.Errorf("cell %d is %s %v on %v, want %s", i, k.Sign(), k.Fg, k.Bg, want.Sign())
		}
	}
	if k := New(3, 3, white).Cells(1, 1).Cells[0]; k.Sign() != " " || k.Bg != white {
		t.Errorf("one colour is %+v", k)
	}
}

// Faint writing is lifted until it can be seen, and what has contrast stays as it is.
func TestLift(t *testing.T) {
	for _, c := range []struct{ ink, want uint8 }{{60, 90}, {200, 200}, {40, 40}, {100, 190}} {
		p := New(20, 20, RGB{40, 40, 40})
		p.Fill(0, 0, 20, 4, RGB{c.ink, c.ink, c.ink})
		if p.lift(); p.Pixel(0, 0).R != c.want || p.Pixel(0, 19).R != 40 {
			t.Errorf("%d on 40 is %d on %d, want %d", c.ink, p.Pixel(0, 0).R, p.Pixel(0, 19).R, c.want)
		}
	}
}

// Made-up pictures differ by app and by title, and are the same each time.
func TestMade(t *testing.T) {
	seen := map[string]string{}
	for _, app := range []string{"Screening Times", "Hall Plan", "Tin Radio", "Poster Board", "Subtitle Bench", "Trailer Cutter", "Projection Log", "Reel Ledger", "Ticket Till", "Guest Rota", "Press List", "Nobody's"} {
		for _, title := range []string{"one", "two pattern"} {
			p := Made(app, title, 950, 1000)
			if p.W > MaxWidth || p.H > MaxHeight || !bytes.Equal(p.RGB, Made(app, title, 950, 1000).RGB) {
				t.Errorf("%s, %s is %d×%d, or not the same twice", app, title, p.W, p.H)
			}
			if was, is := seen[string(p.RGB)]; is {
				t.Errorf("%s, %s looks like %s", app, title, was)
			}
			seen[string(p.RGB)] = app
		}
	}
	for _, size := range [][2]int{{0, 0}, {1, 1}, {3, 4000}, {7680, 2}} {
		Made("Hall Plan", "", size[0], size[1])
	}
}

// What was packed is read as it was; anything else is an error.
func FuzzUnpack(f *testing.F) {
	f.Add(2, 1, Made("Tin Radio", "", 90, 50).Cells(2, 1).Pack())
	f.Add(1, 1, []byte("1234567"))
	f.Add(3, 2, []byte{})
	f.Fuzz(func(t *testing.T, w, h int, data []byte) {
		if w < 1 || h < 1 || w > 40 || h > 40 {
			return
		}
		c := Cells{W: w, H: h}
		if err := c.Unpack(data); err != nil {
			return
		}
		again := Cells{W: w, H: h}
		if err := again.Unpack(c.Pack()); err != nil || fmt.Sprint(again) != fmt.Sprint(c) {
			t.Errorf("%v is read as %v, %v", c, again, err)
		}
		if len(c.Cells) != 0 && len(c.Cells) != w*h {
			t.Errorf("%d by %d cells are %d", w, h, len(c.Cells))
		}
	})
}

// A picture knows when it was taken, also when it was shrunk.
func TestAge(t *testing.T) {
	p := New(100, 100, RGB{})
	p.At = time.Unix(1000, 0)
	if c := p.Cells(9, 4); !c.At.Equal(p.At) {
		t.Errorf("its cells are of %v", c.At)
	}
}
