package bench

import (
	"context"
	"errors"
	"fmt"
	"testing"
	"time"

	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/host/x11"
	"zatlas/internal/keeper"
	"zatlas/internal/testkit"
)

// BenchmarkGoAmongMany: go between two workspaces of two windows each, with 2,000 real
// windows on a third, from the command to its answer; the floor is the same without the
// others.
func BenchmarkGoAmongMany(b *testing.B) {
	var took [2]time.Duration
	for i, n := range []int{0, 2000} {
		s := testkit.NewServer(b)
		x := s.NewX(b)
		host, d, err := x11.Open(x11.Options{Display: s.Display})
		if err != nil {
			b.Fatal(err)
		}
		ctx, cancel := context.WithCancel(context.Background())
		k := keeper.New(d, host, keeper.Options{})
		ended := make(chan struct{})
		go func() { defer close(ended); k.Run(ctx) }()
		do := func(c desk.Command) {
			o, err := k.Do(ctx, c, keeper.Line)
			if err = errors.Join(err, o.Err); err != nil {
				b.Fatal(err)
			}
		}
		do(parse(b, "add"))
		do(parse(b, "add"))
		open := func(title string, desktop uint32) {
			win := x.Window(title, 0, 0, 100, 100)
			x.Cards(win, "_NET_WM_DESKTOP", xproto.AtomCardinal, desktop)
			x.Cards(win, "_NET_WM_USER_TIME", xproto.AtomCardinal, 0)
			xproto.MapWindow(x.Conn, win)
		}
		for w := range 4 {
			open(fmt.Sprint("few ", w), uint32(w%2))
		}
		for w := range n {
			open(fmt.Sprint("many ", w), 2)
		}
		for end := time.Now().Add(4 * time.Minute); ; time.Sleep(50 * time.Millisecond) {
			o, err := k.Try(ctx, parse(b, "go 1"))
			if err == nil && o.Desk != nil && len(o.Desk.Windows) == n+4 {
				break
			}
			if time.Now().After(end) {
				b.Fatal("the windows did not open")
			}
		}
		var all []time.Duration
		for turn := range 60 {
			start := time.Now()
			do(parse(b, fmt.Sprint("go ", 1+turn%2)))
			all = append(all, time.Since(start))
		}
		took[i] = median(all)
		cancel()
		<-ended
	}
	report(b, took[1], took[0])
}
