package main

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"sync"
	"time"

	"github.com/charmbracelet/colorprofile"
	"github.com/charmbracelet/x/term"
	"github.com/jezek/xgb/randr"
	"github.com/jezek/xgb/xproto"
	"github.com/spf13/cobra"

	"zatlas/internal/apps"
	"zatlas/internal/desk"
	"zatlas/internal/file"
	"zatlas/internal/geom"
	"zatlas/internal/host/alongside"
	"zatlas/internal/host/display"
	"zatlas/internal/keeper"
	"zatlas/internal/plate"
	"zatlas/internal/remote"
	"zatlas/internal/settings"
	"zatlas/internal/store"
	"zatlas/internal/tui"
)

// finding is a line of what doctor found: what it looked at, what there is, and what to do
// where that is not as it should be.
type finding struct {
	what, is, do string
}

// findings is a part of what doctor prints.
type findings struct {
	head  string
	lines []finding
}

func (f *findings) add(what, is string, do ...string) {
	f.lines = append(f.lines, finding{what, is, strings.Join(do, " ")})
}

func doctorCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "doctor",
		Short: "Check the terminal, the display and your files",
		Long: `Look at the terminal, the display and its manager, chords, the settings and what is kept,
and say what is not as it should be and what to do about it. Nothing is changed, and no
title of a window is in it: it can be given to others as it is. The exit status is 1 where
something is to be done.`,
		Args: noArguments,
		RunE: func(cmd *cobra.Command, _ []string) error {
			out, todo := cmd.OutOrStdout(), 0
			fmt.Fprintln(out, strings.TrimRight(versions(), "\n"))
			for _, f := range []findings{lookAtTerminal(), lookAtDisplay(cmd.Context()), lookAtFiles()} {
				todo += printFindings(out, f)
			}
			if todo > 0 {
				return fmt.Errorf("%s to be done, marked by >", desk.Counted(todo, "thing"))
			}
			fmt.Fprintln(out, "\nEverything is as it should be.")
			return nil
		},
	}
}

func printFindings(out io.Writer, f findings) (todo int) {
	fmt.Fprintf(out, "\n%s\n", strings.ToUpper(f.head))
	for _, l := range f.lines {
		mark := " "
		if l.do != "" {
			mark = ">"
			todo++
		}
		fmt.Fprintf(out, "%s %-12s %s\n", mark, l.what, desk.CleanText(l.is, desk.MaxWords))
		if l.do != "" {
			fmt.Fprintf(out, "  %-12s %s\n", "", desk.CleanText(l.do, desk.MaxWords))
		}
	}
	return todo
}

// lookAtTerminal is what the terminal can.
func lookAtTerminal() findings {
	f := findings{head: "terminal"}
	name := os.Getenv("TERM")
	switch {
	case !onTerminal():
		f.add("kind", "none: input or output is no terminal here. The screens need one, the commands do not")
		return f
	case name == "" || name == "dumb":
		f.add("kind", fmt.Sprintf("TERM is %q, which says that it can show nothing but text", name), "Use another terminal, or set TERM to what it is, such as xterm-256color.")
	default:
		f.add("kind", name)
	}
	w, h, err := term.GetSize(os.Stdout.Fd())
	switch {
	case err != nil:
		f.add("size", "it does not say")
	case w < keeper.LeastColumns || h < keeper.LeastRows:
		f.add("size", fmt.Sprintf("%d columns, %d rows", w, h), fmt.Sprintf("The screens need %d by %d at least.", keeper.LeastColumns, keeper.LeastRows))
	default:
		f.add("size", fmt.Sprintf("%d columns, %d rows", w, h))
	}
	f.add("colours", map[colorprofile.Profile]string{
		colorprofile.TrueColor: "all of them", colorprofile.ANSI256: "256", colorprofile.ANSI: "16", colorprofile.ASCII: "none, as it was asked for", colorprofile.NoTTY: "none",
	}[colorprofile.Detect(os.Stdout, os.Environ())])
	answer := askTerminal()
	if answer == "" {
		f.add("answers", "it answers no questions: keys that are held, wide marks and the mouse are not known")
		return f
	}
	f.add("marks", marksWords(name, columnOf(answer)))
	f.add("keys", map[bool]string{true: "it tells keys apart that are let go of and held", false: "it does not tell when a key is let go of; what cannot be taken back waits instead"}[strings.Contains(answer, "u\x1b") || strings.Contains(answer, "[?0u")])
	if strings.Contains(answer, "?1006;1$y") || strings.Contains(answer, "?1006;2$y") {
		f.add("mouse", "it can be used; nothing needs it")
	}
	return f
}

// marksWords says which marks the screens draw with where the settings leave it to them, in
// a kind of terminal whose cursor is in a column after one of ambiguous width; 0 where it
// does not say.
func marksWords(kind string, column int) string {
	switch {
	case tui.Console(kind):
		return "the font of a console has few: the screens draw with plain letters"
	case column > 2:
		return "those of ambiguous width are two columns wide here: the screens draw with plain letters"
	case column == 0:
		return "it does not say how wide they are: taken for one column wide"
	default:
		return "one column wide, as they should be"
	}
}

// askTerminal asks the terminal where the cursor is after a mark of ambiguous width, and
// what it knows of keys and the mouse; the last question is one that each answers. Empty
// where it does not answer in time.
func askTerminal() string {
	tty, err := os.OpenFile("/dev/tty", os.O_RDWR, 0)
	if err != nil {
		return ""
	}
	defer tty.Close()
	state, err := term.MakeRaw(tty.Fd())
	if err != nil {
		return ""
	}
	defer term.Restore(tty.Fd(), state)
	if _, err := tty.WriteString(tui.MarksQuestion + "\x1b[?u\x1b[?1006$p\x1b[c\r\x1b[2K"); err != nil {
		return ""
	}
	if tty.SetReadDeadline(time.Now().Add(time.Second)) != nil {
		return ""
	}
	var answer []byte
	for part := make([]byte, 256); len(answer) < 4096; {
		n, err := tty.Read(part)
		answer = append(answer, part[:n]...)
		if err != nil || strings.HasSuffix(string(answer), "c") {
			break
		}
	}
	return string(answer)
}

// cursorAt is where the cursor is in an answer to the question about marks.
var cursorAt = sync.OnceValue(func() *regexp.Regexp { return regexp.MustCompile(`\x1b\[\?\d+;(\d+)(;\d+)?R`) })

// columnOf is the column of the cursor in an answer; 0 where it is not in it.
func columnOf(answer string) (column int) {
	if m := cursorAt().FindStringSubmatch(answer); m != nil {
		column, _ = strconv.Atoi(m[1])
	}
	return column
}

// lookAtDisplay says what the display has.
func lookAtDisplay(ctx context.Context) findings {
	f := findings{head: "display"}
	name := os.Getenv("DISPLAY")
	if name == "" {
		f.add("display", "DISPLAY names none: zatlas demo shows a made-up desk")
		return f
	}
	conn, _, err := display.Connect(display.Name(name))
	if err != nil {
		f.add("display", name, "It cannot be reached: "+err.Error()+".")
		return f
	}
	defer conn.Close()
	setup := xproto.Setup(conn)
	f.add("display", fmt.Sprintf("%s, %s, release %d", name, setup.Vendor, setup.ReleaseNumber))
	for _, e := range []struct{ name, without string }{
		{"RANDR", "monitors cannot be told apart"}, {"XKEYBOARD", "keys that are held repeat as if they were pressed"}, {"SHAPE", "windows that are no rectangles look as if they were"}, {"MIT-SCREEN-SAVER", "the survey does not know when you are away"},
	} {
		if _, ok := display.Extension(conn, e.name); !ok {
			f.add("extension", e.name+" is missing", "Without it "+e.without+".")
		}
	}
	root := setup.DefaultScreen(conn).Root
	if randr.Init(conn) == nil {
		if r, err := randr.GetMonitors(conn, root, true).Reply(); err == nil {
			for _, m := range r.Monitors {
				f.add("monitor", fmt.Sprintf("%d×%d at %d,%d", m.Width, m.Height, m.X, m.Y))
			}
		}
	}
	socket := remote.SocketPath(name)
	client, err := remote.Dial(socket)
	pid, _ := remote.Process(socket)
	switch {
	case err == nil:
		f.add("keeper", fmt.Sprintf("process %d answers at %s", pid, socket))
		f.lines = append(f.lines, lookAtKeeper(ctx, client)...)
	case !errors.Is(err, remote.ErrNoKeeper):
		f.add("keeper", socket, keeper.Sentence(err))
	default:
		switch manager, err := alongside.Find(name); {
		case errors.Is(err, alongside.ErrNoManager):
			f.add("manager", "none: zatlas keep manages the windows")
		case errors.Is(err, alongside.ErrOurs):
			f.add("manager", "a keeper that does not answer", "zatlas keep --replace starts it anew.")
		case err != nil:
			f.add("manager", "it cannot be told", keeper.Sentence(err))
		default:
			f.add("manager", cmp.Or(manager, "a program without a name")+" manages the windows: zatlas shows them beside it")
		}
	}
	return f
}

// lookAtKeeper is what a running keeper says of itself.
func lookAtKeeper(ctx context.Context, client *remote.Client) (lines []finding) {
	ctx, cancel := context.WithTimeout(ctx, 3*time.Second)
	defer cancel()
	s, err := client.State(ctx)
	if err != nil {
		return []finding{{"desk", "it cannot be read", keeper.Sentence(err)}}
	}
	pictures := "none in memory"
	if s.Pictures > 0 {
		pictures = fmt.Sprintf("of %s in memory, %d KB: %s", desk.Counted(s.Pictures, "window"), (s.Bytes+1023)/1024, strings.Join(s.Pictured, ", "))
	}
	here := fmt.Sprintf("%s, %s, %d lost; you are on %s%d", desk.Counted(s.Workspaces, "workspace"), desk.Counted(s.Windows, "window"), s.Lost, s.Monitor, s.Number)
	lines = append(lines, finding{"desk", here, ""}, finding{"pictures", pictures, ""})
	keys, err := client.Keys(ctx)
	if err != nil {
		return lines
	}
	works := len(keys)
	for _, k := range keys {
		if words := keyWords[k.State]; words != "" {
			works--
			lines = append(lines, finding{"chord", k.Chord + ": " + words, "Give " + k.Command + " another one: e on the page of keys (?), or [chords] in the settings."})
		}
	}
	return append(lines, finding{"chords", fmt.Sprintf("%d of %d work", works, len(keys)), ""})
}

// lookAtAtlasWindow is the terminal of the atlas window, and its letters.
func lookAtAtlasWindow(command string) finding {
	const what = "atlas window"
	index := &apps.Index{Getenv: os.Getenv}
	index.Installed()
	ctx, cancel := context.WithTimeout(context.Background(), 2*time.Second)
	defer cancel()
	index.Ready(ctx) // else what is known by then
	t := newTerminals(index)
	t.command.Store(&command)
	words := t.window(geom.Rect{})
	if len(words) == 0 {
		return finding{what, "no terminal is installed", "Install xterm, or name another in the settings: keeper.terminal."}
	}
	if _, err := exec.LookPath(words[0]); err != nil {
		return finding{what, words[0] + " is not installed", "Install it, or name another terminal in the settings: keeper.terminal."}
	}
	switch font := t.font(); {
	case command != settings.AutoTerminal || words[0] != "xterm":
		return finding{what, words[0], ""}
	case font == "":
		return finding{what, words[0] + ", with a font of the X server's: no scalable one of fixed width is found by fc-match", ""}
	default:
		return finding{what, words[0] + ", with " + font, ""}
	}
}

// lookAtFiles is where everything lies, and whether it is sound.
func lookAtFiles() findings {
	f := findings{head: "files"}
	path := settings.Path()
	set, err := settings.Load(path)
	switch _, there := os.Stat(path); {
	case err != nil:
		f.add("settings", path, keeper.Sentence(err))
	case there != nil:
		f.add("settings", cmp.Or(path, "no folder for them is known")+": there are none, everything is as usual")
	default:
		f.add("settings", path)
	}
	if shelf := plate.Beside(path); shelf != nil {
		plates, faults := shelf.Read()
		f.add("plates", fmt.Sprintf("%s: %s", shelf.Path(), desk.Counted(len(plates), "plate")))
		for _, fault := range faults {
			f.add("plate", fault.Name, keeper.Sentence(errors.New(fault.Words)))
		}
	}
	state := store.Path()
	switch version, size, err := store.Sound(state); {
	case state == "":
		f.add("state", "no folder for it is known", "Set HOME or XDG_STATE_HOME.")
	case err != nil:
		f.add("state", state, keeper.Sentence(err))
	case version == 0:
		f.add("state", state+": there is none yet")
	case version > store.Version:
		f.add("state", state, "A later version wrote it: update this program.")
	default:
		f.add("state", fmt.Sprintf("%s: sound, of version %d, %d kB", state, version, size>>10))
	}
	if log := filepath.Join(file.StateFolder(), "session.log"); file.StateFolder() != "" {
		if _, err := os.Stat(log); err == nil {
			f.add("log", log)
		}
	}
	if err == nil {
		f.lines = append(f.lines, lookAtAtlasWindow(set.Terminal()))
	}
	return f
}
