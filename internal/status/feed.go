package status

import (
	"bufio"
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"os/exec"
	"sync"
	"syscall"
	"time"

	"zatlas/internal/desk"
	"zatlas/internal/settings"
)

// The bounds of what a row's command may do.
const (
	maxLine    = 200                    // letters of a line
	maxBytes   = 64 << 10               // of a line; what comes after is left out
	firstWait  = time.Second            // until a command that died is started again
	longestOne = 5 * time.Minute        // between two starts of one that keeps dying
	shortLife  = 10 * time.Second       // of a command that is taken for one that dies
	readEvery  = 100 * time.Millisecond // at least, between two lines that are taken in
)

// feed runs the command of a row, and has its last line.
type feed struct {
	row    settings.LineRow
	cancel context.CancelFunc

	mu    sync.Mutex
	said  Said
	group int // of processes that run; 0 for none
}

// newFeed starts the command of a row. Changed is called, on another goroutine, when it says
// something else.
func newFeed(row settings.LineRow, changed func()) *feed {
	ctx, cancel := context.WithCancel(context.Background())
	f := &feed{row: row, cancel: cancel, said: Said{Left: row.Left, Width: row.Width, Click: row.Click}}
	go f.run(ctx, changed)
	return f
}

func (f *feed) says() Said {
	f.mu.Lock()
	defer f.mu.Unlock()
	return f.said
}

// stop ends the command: when it returns, what runs has been killed, and nothing is started
// any more. This process may end right after.
func (f *feed) stop() {
	f.cancel()
	f.kill()
}

func (f *feed) kill() {
	f.mu.Lock()
	defer f.mu.Unlock()
	if f.group != 0 {
		syscall.Kill(-f.group, syscall.SIGKILL)
	}
}

// start starts a command, in a group of its own.
func (f *feed) start(ctx context.Context, cmd *exec.Cmd) error {
	f.mu.Lock()
	defer f.mu.Unlock()
	if ctx.Err() != nil {
		return ctx.Err()
	}
	if err := cmd.Start(); err != nil {
		return err
	}
	f.group = cmd.Process.Pid
	return nil
}

// run runs the command as often as the row says. One that dies is started again, after waits
// that grow.
func (f *feed) run(ctx context.Context, changed func()) {
	say := func(text string, fault bool) {
		if ctx.Err() != nil {
			return
		}
		f.mu.Lock()
		was := f.said
		f.said.Text, f.said.Fault = text, fault
		now := f.said
		f.mu.Unlock()
		if was != now {
			changed()
		}
	}
	wait := firstWait
	for {
		began := time.Now()
		err := f.once(ctx, func(line string) { say(line, false) })
		pause := f.row.Every
		switch {
		case err == nil && !f.row.Follow && pause == 0:
			return // it was to run once
		case err != nil || f.row.Follow:
			if time.Since(began) > shortLife {
				wait = firstWait
			}
			pause = max(wait, f.row.Every)
			wait = min(2*wait, longestOne)
			say(fmt.Sprintf("%s %s: again in %v", f.name(), ending(err), pause), true)
		default:
			wait = firstWait
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(pause):
		}
	}
}

// name is the first word of the command.
func (f *feed) name() string {
	first, _, _ := bytes.Cut([]byte(f.row.Command), []byte(" "))
	return desk.CleanText(string(first), desk.MaxName)
}

// ending says how a command ended.
func ending(err error) string {
	var exit *exec.ExitError
	switch {
	case err == nil:
		return "ended"
	case errors.As(err, &exit) && exit.ExitCode() >= 0:
		return fmt.Sprintf("ended with %d", exit.ExitCode())
	case errors.As(err, &exit):
		return "was killed"
	}
	return desk.CleanText("did not start ("+err.Error()+")", maxLine)
}

// once runs the command to its end, and gives its last line, or each of them. What it leaves
// running is killed with its group.
func (f *feed) once(ctx context.Context, give func(line string)) error {
	cmd := exec.Command("/bin/sh", "-c", f.row.Command)
	cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true}
	out, err := cmd.StdoutPipe()
	if err != nil {
		return err
	}
	if err := f.start(ctx, cmd); err != nil {
		return err
	}
	if !f.row.Follow && f.row.Every > 0 { // it may hang
		late := time.AfterFunc(max(f.row.Every, 10*time.Second), f.kill)
		defer late.Stop()
	}
	defer context.AfterFunc(ctx, func() { out.Close() })() // what left the group may hold it open
	f.lines(ctx, &slowReader{r: out}, give)
	err = cmd.Wait()
	f.kill() // what is left of its group
	f.mu.Lock()
	f.group = 0
	f.mu.Unlock()
	return err
}

// lines reads lines until the end. Of more than a few a second the last ones count.
func (f *feed) lines(ctx context.Context, out io.Reader, give func(line string)) {
	r := bufio.NewReaderSize(out, 4<<10)
	last, taken := "", time.Time{}
	var pending *time.Timer
	var mu sync.Mutex
	flush := func() {
		mu.Lock()
		line := last
		mu.Unlock()
		give(line)
	}
	for ctx.Err() == nil {
		line, err := shortLine(r)
		if line != nil {
			mu.Lock()
			last = desk.CleanText(string(line), maxLine)
			mu.Unlock()
			if f.row.Follow {
				if pending != nil {
					pending.Stop()
				}
				if time.Since(taken) >= readEvery {
					taken = time.Now()
					flush()
				} else {
					pending = time.AfterFunc(readEvery, flush)
				}
			}
		}
		if err != nil {
			break
		}
	}
	if pending != nil {
		pending.Stop()
	}
	if last != "" || !f.row.Follow {
		flush()
	}
}

// slowReader reads no more than maxBytes in readEvery: a command that floods waits.
type slowReader struct {
	r    io.Reader
	n    int
	from time.Time
}

func (s *slowReader) Read(p []byte) (int, error) {
	if now := time.Now(); now.Sub(s.from) >= readEvery {
		s.n, s.from = 0, now
	} else if s.n >= maxBytes {
		time.Sleep(s.from.Add(readEvery).Sub(now))
		s.n, s.from = 0, time.Now()
	}
	n, err := s.r.Read(p)
	s.n += n
	return n, err
}

// shortLine reads a line, of which what is too long is left out.
func shortLine(r *bufio.Reader) (line []byte, err error) {
	for {
		part, err := r.ReadSlice('\n')
		if room := maxBytes - len(line); room > 0 && len(part) > 0 {
			line = append(line, part[:min(len(part), room)]...)
		}
		if err != bufio.ErrBufferFull {
			if err == nil && line == nil {
				line = []byte{}
			}
			return bytes.TrimRight(line, "\r\n"), err
		}
	}
}
