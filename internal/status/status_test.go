package status

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"

	"zatlas/internal/draw"
	"zatlas/internal/settings"
	"zatlas/internal/testkit/desks"
)

// until waits for a condition.
func until(t *testing.T, what string, cond func() bool) {
	t.Helper()
	for end := time.Now().Add(40 * time.Second); !cond(); time.Sleep(time.Millisecond) {
		if time.Now().After(end) {
			t.Fatal("still not: " + what)
		}
	}
}

// The pieces say what the desk is, as the forms that name them print it.
func TestForm(t *testing.T) {
	facts := Facts{News: "Sent it.", Keys: "Super+S", Taken: 2, Keyboard: "de", Clock: "15:04", Rows: []Said{{Text: "0.5"}, {}, {Text: "3 mails"}}}
	for _, c := range []struct {
		lines      []string
		form, want string
	}{
		{nil, "{clock} {keyboard} {keys} {news} {rows}", "15:04 de Super+S Sent it. 0.5  3 mails"},
		{[]string{"go 3"}, "{monitor}|{lost}|{chords}", "A|! 3 lost|2 chords taken"},
		{[]string{"focus #13", "layout tabs"}, "{layout} {app}, {place}", "tabs Screening Times, 1 of 3"},
		{[]string{"focus #13", "maximise"}, "{special}", "maximised"},
		{nil, "a {{b} c", "a {b} c"},
		{nil, "", ""},
	} {
		f, err := ParseForm(c.form)
		if err != nil {
			t.Fatal(err)
		}
		d := desks.Demo(t, c.lines...)
		o, _ := draw.OverviewOf(d, nil)
		if got := f.Print(Of(o, d.At, facts)); got != c.want {
			t.Errorf("%v in %q is %q, want %q", c.lines, c.form, got, c.want)
		}
	}
	for form, want := range map[string]string{"{title": "is not closed", "{tittle}": "there is no piece {tittle}: app, "} {
		if _, err := ParseForm(form); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%s: %v", form, err)
		}
	}
	l := Line{Title: "\x1b]52;c;aGk=\x07x"}
	if f, _ := ParseForm("{title}"); f.Print(l.Clean()) != "x" {
		t.Errorf("a title is printed as %q", f.Print(l.Clean()))
	}
}

// The time is told as Go and as strftime write it.
func TestTime(t *testing.T) {
	at := time.Date(2026, 11, 30, 15, 4, 5, 0, time.UTC)
	for form, want := range map[string]string{"15:04": "15:04", "%H:%M:%S": "15:04:05", "Mon 2 Jan": "Mon 30 Nov", "%a %d %b": "Mon 30 Nov", "": ""} {
		if got := Time(form, at); got != want {
			t.Errorf("%q is %q, want %q", form, got, want)
		}
	}
}

// What just happened is news for a while, and only where you are; who follows is told of each
// change, and of nothing else.
func TestSource(t *testing.T) {
	s := NewSource(Options{Idle: true})
	defer s.End()
	changed, stop := s.Changed(true)
	defer stop()
	if _, ok := s.Line(0); ok {
		t.Error("there is a line before there is a desk")
	}
	s.Show(desks.Demo(t))
	<-changed
	s.SayFor(50*time.Millisecond, "Sent it.")
	<-changed
	at, _ := s.Line('A')
	other, _ := s.Line('B')
	if at.News != "Sent it." || !at.Here || other.News != "" || other.Here {
		t.Errorf("the news is %q where you are and %q elsewhere", at.News, other.News)
	}
	<-changed
	if l, _ := s.Line(0); l.News != "" {
		t.Errorf("%q is news still", l.News)
	}
	s.Keys("", 0, "")
	select {
	case <-changed:
		t.Error("a change is told where there is none")
	default:
	}
	if _, ok := s.Line('D'); ok {
		t.Error("a monitor that is not there has a line")
	}
}

// What a row's command does is bounded: it may flood, hang, fork, die at once, print escape
// sequences or no end of a line. When it is no longer wanted it is killed, with what it began.
func TestRows(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	pid := filepath.Join(dir, "pid")
	rows := []settings.LineRow{
		{Command: "echo one; echo two"},
		{Command: "printf '\\033[2J\\033]0;x\\007red\\n'"},
		{Command: "head -c 1000000 /dev/zero | tr '\\0' y"},
		{Command: "i=0; while :; do i=$((i+1)); echo $i; done", Follow: true},
		{Command: "exit 3", Follow: true},
		{Command: "echo $$ > " + pid + "; sleep 1000 & sleep 1000", Follow: true},
		{Command: "cat " + filepath.Join(dir, "count") + " || echo none", Every: time.Second, Width: 5, Left: true, Click: "strays"},
	}
	s := NewSource(Options{Rows: rows})
	defer s.End()
	s.Show(desks.Demo(t))
	says := func(i int) Said { l, _ := s.Line(0); return l.Rows[i] }
	again := func() time.Duration { // after which it runs again, as it says; 0 where it does not
		said := says(4)
		text, died := strings.CutPrefix(said.Text, "exit ended with 3: again in ")
		wait, err := time.ParseDuration(text)
		if !died || !said.Fault || err != nil {
			return 0
		}
		return wait
	}
	until(t, "it is told that it died", func() bool { return again() >= firstWait })
	first := again()
	until(t, "the waits grow", func() bool { return again() > first })
	until(t, "the last line counts", func() bool { return says(0).Text == "two" })
	until(t, "it is cleaned", func() bool { return says(1).Text == "red" })
	until(t, "it is cut", func() bool { return len([]rune(says(2).Text)) == maxLine })
	until(t, "a flood is followed", func() bool { return says(3).Text > "1" })
	until(t, "it says nothing yet", func() bool { return says(6) == Said{Text: "none", Width: 5, Left: true, Click: "strays"} })
	if err := os.WriteFile(filepath.Join(dir, "count"), []byte("7\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	until(t, "it is run again", func() bool { return says(6).Text == "7" })
	group := 0
	until(t, "it has begun", func() bool {
		text, err := os.ReadFile(pid)
		_, err2 := fmt.Sscan(string(text), &group)
		return err == nil && err2 == nil && syscall.Kill(-group, 0) == nil
	})
	s.Configure(Options{Rows: rows[:1]})
	until(t, "it is gone with its group", func() bool { return syscall.Kill(-group, 0) == syscall.ESRCH })
	// At the end of the source what runs has been killed when End returns: the process ends next.
	other := NewSource(Options{Rows: rows[5:6]})
	was := group
	until(t, "it has begun once more", func() bool {
		text, err := os.ReadFile(pid)
		_, err2 := fmt.Sscan(string(text), &group)
		return err == nil && err2 == nil && group != was && syscall.Kill(-group, 0) == nil
	})
	other.End()
	until(t, "it is gone at the end", func() bool { return syscall.Kill(-group, 0) == syscall.ESRCH })
	if l, _ := s.Line(0); len(l.Rows) != 1 || l.Rows[0].Text != "two" {
		t.Errorf("after the change the rows say %+v", l.Rows)
	}
}
