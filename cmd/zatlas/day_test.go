package main

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math/rand/v2"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"syscall"
	"testing"

	"github.com/jezek/xgb/res"
	"github.com/jezek/xgb/xproto"
	"gonum.org/v1/plot"
	"gonum.org/v1/plot/plotter"
	"gonum.org/v1/plot/vg"
	vgdraw "gonum.org/v1/plot/vg/draw"
	"gonum.org/v1/plot/vg/vgsvg"

	"zatlas/internal/keeper"
	"zatlas/internal/remote"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/desks"
)

// day is a long day of work on a display: programs are opened, used, sent about and closed,
// monitors are pulled, plates laid, things taken back, and the keeper is killed.
type day struct {
	t       *testing.T
	s       *testkit.Server
	x       *testkit.X
	r       *rand.Rand
	keeper  *exec.Cmd
	client  *remote.Client
	open    []*exec.Cmd
	opened  int
	pulled  bool
	samples []sample
}

// sample is what the keeper takes after so many actions.
type sample struct {
	action     int
	rss        float64 // in megabytes
	files      float64
	goroutines float64
	resources  float64 // of the X server
	windows    float64
}

// measures are what is drawn and must stay flat: what a sample has of it, and by how much it
// may grow, as a factor and besides.
var measures = []struct {
	name   string
	of     func(sample) float64
	factor float64
	more   float64
}{
	{"Memory, MB", func(s sample) float64 { return s.rss }, 1.25, 8},
	{"Open files", func(s sample) float64 { return s.files }, 1, 4},
	{"Goroutines", func(s sample) float64 { return s.goroutines }, 1, 8},
	{"Resources of the X server", func(s sample) float64 { return s.resources }, 1.25, 20},
}

const openAtOnce = 20

// TestDay works for a long day in a short time: nothing that the keeper takes grows, and it
// is drawn in build/day.svg. DAY says how many actions that is.
func TestDay(t *testing.T) {
	t.Parallel()
	actions, err := strconv.Atoi(os.Getenv("DAY"))
	if err != nil {
		t.Skip("make soak runs this: it takes long")
	}
	s := testkit.NewServer(t)
	s.Plug(t, "DUMMY1", 1920, 0)
	w := &day{t: t, s: s, x: s.NewX(t), r: rand.New(rand.NewPCG(testkit.Seed(t, 1), 2))}
	if err := res.Init(w.x.Conn); err != nil {
		t.Fatal(err)
	}
	w.start()
	w.do("add Stage")
	w.do(`add "Late night"`)
	for i := range actions {
		if i < actions/3 && i%40 == 39 { // after that, one keeper goes on to the end
			w.keeper.Process.Signal(syscall.SIGKILL)
			waitGone(t, w.x)
			w.start()
		}
		w.act()
		if i%20 == 19 {
			w.samples = append(w.samples, w.measure(i+1))
		}
	}
	w.draw(filepath.Join("..", "..", "build", "day.svg"))
	last := w.samples[len(w.samples)/2:]
	for _, m := range measures {
		early, late := median(last[:len(last)/3], m.of), median(last[2*len(last)/3:], m.of)
		t.Logf("%s: %.0f in the middle of the day, %.0f at its end", m.name, early, late)
		if late > m.factor*early+m.more {
			t.Errorf("%s grows from %.0f to %.0f", m.name, early, late)
		}
	}
}

func median(samples []sample, of func(sample) float64) float64 {
	var all []float64
	for _, s := range samples {
		all = append(all, of(s))
	}
	slices.Sort(all)
	return all[len(all)/2]
}

func (w *day) start() {
	w.t.Helper()
	w.keeper = testkit.Start(w.t, w.s.Env, testkit.Binary(w.t), "keep")
	w.client = answering(w.t, w.s)
}

// do has a command carried out. Many have nothing to do where they are, which is no fault.
func (w *day) do(line string) {
	w.t.Helper()
	c := desks.Command(w.t, line)
	o, err := w.client.Do(w.t.Context(), c, keeper.Line)
	if err != nil {
		w.t.Fatalf("%s: %v", line, err)
	}
	if code := keeper.CodeOf(o.Err); code != keeper.Done && code != keeper.Refused {
		w.t.Fatalf("%s: %v", line, o.Err)
	}
}

// act does one thing of a day.
func (w *day) act() {
	n := w.r.IntN(3) + 1
	switch what := w.r.IntN(100); {
	case what < 12 && len(w.open) < openAtOnce:
		w.begin()
	case what < 20 && len(w.open) > 4:
		i := w.r.IntN(len(w.open))
		w.open[i].Process.Kill()
		w.open = slices.Delete(w.open, i, i+1)
	case what < 22:
		if w.pulled = !w.pulled; w.pulled {
			w.s.Unplug(w.t, "DUMMY1")
		} else {
			w.s.Plug(w.t, "DUMMY1", 1920, 0)
		}
	case what < 26:
		w.do([]string{"plate save Day", "plate lay Day", "plate save Stage sheet", "plate lay Stage"}[w.r.IntN(4)])
	case what < 36:
		w.do([]string{"undo", "redo", "undo 3"}[w.r.IntN(3)])
	default:
		w.do([]string{
			fmt.Sprint("go ", n), "go back", fmt.Sprint("send ", n), fmt.Sprint("carry ", n), "focus next", "focus left", "maximise", "float", "send B", "send A",
			"fullscreen", "minimise", "restore of all", "snap left", "layout next", "rescue of is:stray", "share +5", "swap left", "go last", "go first",
		}[w.r.IntN(20)])
	}
}

// begin starts a program.
func (w *day) begin() {
	programs := [][]string{{"xterm"}, {"xterm", "-geometry", "40x10"}, {"xclock"}, {"xclock", "-digital", "-update", "1"}, {"xeyes"}, {"xlogo"}}
	for _, k := range toolkits() {
		if !k.extra || os.Getenv("CLIENTS") != "" {
			programs = append(programs, k.app)
		}
	}
	args := programs[w.opened%len(programs)]
	w.opened++
	cmd := exec.Command(args[0], args[1:]...)
	cmd.Env = append(os.Environ(), w.s.Env...)
	cmd.SysProcAttr = &syscall.SysProcAttr{Pdeathsig: syscall.SIGKILL}
	in, err := cmd.StdinPipe() // some end with it
	if err == nil {
		err = cmd.Start()
	}
	if err != nil {
		w.t.Fatalf("%s: %v", args[0], err)
	}
	go cmd.Wait()
	w.t.Cleanup(func() { in.Close(); cmd.Process.Kill() })
	w.open = append(w.open, cmd)
}

// measure is what the keeper takes now.
func (w *day) measure(action int) (s sample) {
	w.t.Helper()
	s.action = action
	proc := fmt.Sprintf("/proc/%d/", w.keeper.Process.Pid)
	status, err := os.ReadFile(proc + "status")
	if err != nil {
		w.t.Fatal(err)
	}
	_, after, _ := strings.Cut(string(status), "VmRSS:")
	fmt.Sscan(after, &s.rss)
	s.rss /= 1024
	files, _ := os.ReadDir(proc + "fd")
	s.files = float64(len(files))
	web := http.Client{Transport: &http.Transport{DisableKeepAlives: true, DialContext: func(ctx context.Context, _, _ string) (net.Conn, error) {
		return new(net.Dialer).DialContext(ctx, "unix", socketOf(w.s))
	}}}
	resp, err := web.Get("http://keeper/ping")
	if err != nil {
		w.t.Fatal(err)
	}
	defer resp.Body.Close()
	var pong struct{ Goroutines float64 }
	if err := json.NewDecoder(resp.Body).Decode(&pong); err != nil || pong.Goroutines == 0 {
		w.t.Fatalf("the keeper says %+v, %v", pong, err)
	}
	s.goroutines = pong.Goroutines
	check, err := xproto.GetProperty(w.x.Conn, false, w.x.Root, w.x.Atom("_NET_SUPPORTING_WM_CHECK"), xproto.AtomWindow, 0, 1).Reply()
	if err != nil || len(check.Value) < 4 {
		w.t.Fatal("the display has no manager")
	}
	of, err := res.QueryClientResources(w.x.Conn, uint32(check.Value[0])|uint32(check.Value[1])<<8|uint32(check.Value[2])<<16|uint32(check.Value[3])<<24).Reply()
	if err != nil {
		w.t.Fatal(err)
	}
	for _, r := range of.Types {
		s.resources += float64(r.Count)
	}
	d, err := w.client.Desk(w.t.Context())
	if err != nil {
		w.t.Fatal(err)
	}
	s.windows = float64(len(d.Windows))
	return s
}

// draw draws the samples, a plot for each measure under the other.
func (w *day) draw(path string) {
	w.t.Helper()
	all := append(slices.Clone(measures), measures[0])
	all[len(measures)].name, all[len(measures)].of = "Windows", func(s sample) float64 { return s.windows }
	var plots [][]*plot.Plot
	for _, m := range all {
		p := plot.New()
		p.Title.Text, p.Y.Min = m.name, 0
		var line plotter.XYs
		for _, s := range w.samples {
			line = append(line, plotter.XY{X: float64(s.action), Y: m.of(s)})
			p.Y.Max = max(p.Y.Max, 1.1*m.of(s))
		}
		l, err := plotter.NewLine(line)
		if err != nil {
			w.t.Fatal(err)
		}
		p.Add(plotter.NewGrid(), l)
		plots = append(plots, []*plot.Plot{p})
	}
	plots[len(plots)-1][0].X.Label.Text = "Actions"
	page := vgsvg.New(24*vg.Centimeter, vg.Length(len(plots))*6*vg.Centimeter)
	for i, c := range plot.Align(plots, vgdraw.Tiles{Rows: len(plots), Cols: 1}, vgdraw.New(page)) {
		plots[i][0].Draw(c[0])
	}
	err := os.MkdirAll(filepath.Dir(path), 0o755)
	var f *os.File
	if err == nil {
		f, err = os.Create(path)
	}
	if err == nil {
		_, err = page.WriteTo(f)
		err = errors.Join(err, f.Close())
	}
	if err != nil {
		w.t.Fatal(err)
	}
}
