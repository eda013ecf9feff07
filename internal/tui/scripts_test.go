package tui

import (
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/charmbracelet/colorprofile"

	tea "charm.land/bubbletea/v2"

	"zatlas/internal/desk"
)

// script is what is typed, with one space between two keys and a text in quotes, and
// after each > what the screen shows then.
type script struct {
	name string
	text string
}

// scripts go through every screen and every question by its keys.
var scripts = []script{
	{"places", `s > send #11 Reel Ledger to | 3 Box office (4)
		esc > Left as it was.
		s 3 > Sent Reel Ledger · Running order to 3 Box office. u undoes.
		g > Enter A3 as last time
		enter > On 3 Box office
		b > On 1 Programme
		c left > Screening Times · Friday is on A1 already.
		esc c 2 > Carried Screening Times · Friday to 2 Subtitles.
		g B > go to monitor B: | has the focus · Enter does it
		enter > Subtitles · B
		g A 2 > 2 Subtitles · A
		g n > On 7. It is empty. u undoes.
		u > Undid
		s . > Sent
		u s * > send all
		9 > There is no workspace 9: there are 6; add makes one.
		s * 4 > to 4 Guests? Enter does it, Escape leaves them.
		esc > Left as it was.
		r > rescue #12 Screening Times to | a all 3 that are lost
		esc r a > Brought 3 windows back within reach.`},
	{"questions", `: "kill of #11" enter > End the program of Reel Ledger · Running order? | Enter ends it, Escape leaves it running.
		esc > Left as it was.
		X > Close all 2 windows of Reel Ledger? | Enter asks to close them
		x > Enter asks to close them
		esc > Left as it was.
		x > Reel Ledger · Running order closed.
		u > There is nothing to undo.`},
	{"names", `left a "Foyer 2" enter > Added workspace 7 Foyer 2.
		e "x" enter > Workspace 7 Foyer 2 is called Foyer 2x now.
		e esc > Left as it was.
		A > Removed workspace 7 Foyer 2x.
		left K > Workspace 1 is the first already.
		J > is 2 now. u undoes.`},
	{"layouts", `t 2 > Sheet A1 is laid out as lead, with 2 of them leading. u undoes.
		t l > Sheet A1 is laid out as lead. u undoes.
		t > columns | pile
		c > Sheet A1 is laid out as columns.
		t x > x is no answer.
		esc t X > X is no answer.
		left > Left is no answer.
		esc delete > Delete does nothing here.
		esc t p > laid out as pile
		t r > laid out as rows
		_ > gaps
		t t d left > The next window of A1 opens
		w right > There is no tile to the right of Reel Ledger · Running order.
		w down > changed places
		G > the home monitor of 1 Programme
		esc M > Minimised
		u m > is maximised
		n > is maximised: m puts it back first.
		m n > only floating windows have a place of their own
		f n > nudge #11 Reel Ledger
		right right enter > It stays there.`},
	{"parts", `p > snap #11 Reel Ledger | arrows a half
		left > Snapped Reel Ledger · Running order: left.
		p 1 > From cell 1 to which?
		6 > cells 1 to 6 of 3 by 3
		p t right > right third
		p y > topleft
		p g > arrows a cell of 3 by 3
		right enter right down > cells
		enter > Snapped
		p esc > Left as it was.`},
	{"by hand", `N > resize #11 Reel Ledger
		right > 1162×1168
		3 left > 1212×1168, 63% by 100%
		enter > It stays there.
		N down esc > Put back exactly where it was.`},
	{"pins", `V > a-z jumps to its app
		r > There are no settings to keep a pin in
		v > jump to
		esc V W > w jumps to this window of Reel Ledger`},
	{"apps", `left down down O > Enter starts one more on 3 Box office
		esc / "till" > Enter
		esc / "zzz" > Enter look among the apps
		enter > OPEN, OR GO TO | No app fits that
		esc / "zz:" enter > Escape
		esc esc V > a-z jumps to its app`},
	{"monitors", `@ > Plug in or pull which monitor?
		c > Monitor C is plugged in.
		@ b > Monitor B was unplugged. | @ b plugs it in again.
		@ x > no monitor
		esc f > floats
		> tiled`},
	{"gazetteer", `; g > GAZETTEER  by workspace | 26 of 26 windows
		] > by app
		] > by monitor
		] ] } > sorted by app
		home left > ► 1 Programme  7 windows | 19 of 26 windows
		right > ▼ 1 Programme
		{ > sorted by
		down " " down " " > 2 marked
		( > 1 Programme
		) > 2 Subtitles
		/ "app:gu" tab > app:
		enter * s 6 > Sent 3 windows to 6 Late night. | 3 marked
		u x > Close 3 windows?
		esc enter > you are on  ● 4 Guests · A · Guest Rota`},
	{"search", `/ "app:till" > Tab completes
		enter > Enter go there
		esc / "reel 4" > Enter go there | 1 of 26 windows
		enter > you are on  ● 2 Subtitles · B · Subtitle Bench`},
	{"strays", `! > STRAYS | Hall Plan
		down > Projection Log
		enter > back to B2
		esc > SHEET`},
	{"rules", `; r > RULES
		a "?" enter > To must be a workspace
		esc > Left as it was.
		a enter > Added rule 1.
		a enter > Added rule 2.
		K > It is rule 1 now.
		K > It cannot go further.
		x > Remove rule 1
		enter > Removed rule 1.
		esc > SHEET`},
	{"settings", `; e > SETTINGS
		right > theme is day now.
		left > theme is night now.
		down right > marks is drawn now.
		right > marks is plain now.
		left left down down down > SETTINGS
		/ "gap" enter > Gap between and around tiled windows
		8 > desk.gap: 8 | 0 to
		"00000" enter > Gap must be 0 to
		esc 1 "2" enter > desk.gap is 12 now.
		enter > desk.gap: 12
		esc / "zzz" enter > No setting has zzz.
		esc esc esc > SHEET`},
	{"keys", `? > ALL KEYS | GO ABOUT | by what one wants to do
		"maximise" > Cover the work area
		enter > is maximised
		? "rescue" down > Bring lost windows back
		esc esc > SHEET
		? "send windows" enter > send #11 Reel Ledger to
		esc ? "that many per cent" enter > + 5 per cent more
		+ > The lead of A1 has 65 per cent
		? "keep floating windows above" enter > does not float: only floating windows
		f ? "keep floating windows above" enter > o on
		esc ? "give the focus to another" enter > right | monitor A | in words
		/ > Tab completes
		esc ? "zzz" > Nothing has all of these words
		esc right down > ALL KEYS
		x > stands for nothing now
		u > Undid: The settings were changed
		e > New chord for | or : and write it
		: "Ctrl+Alt+F9" enter > It is free
		esc e : "Atlas+3" enter > It is ours: Super+3 stands for go 3.
		enter > Atlas+3 stands for
		/ > ALL KEYS
		tab > WHAT DOES A KEY DO?
		m > on the map | Cover the work area | after p | The middle
		3 > on the map | Go to a workspace
		tab > ALL KEYS
		esc > SHEET`},
	{"logbook", `: "add" enter > Added
		; l > LOGBOOK | Added workspace 7
		up > undo
		enter > Undid
		/ "add" > add
		esc esc esc > SHEET`},
	{"plates", `P > lay the plate | there are no plates yet: S saves the first | S save the desk | P the screen of plates
		x > There is no plate x: plate save NAME keeps how everything lies.
		P P > PLATES | There are no plates yet.
		enter > There are no plates yet: s saves one.
		s > save as a plate | the whole desk | workspace 1 Programme | sheet A1
		d "Day" enter > Saved the desk as the plate Day, with 26 places. u undoes. | of these monitors
		V d > d lays the plate Day.
		V 7 > 7 is no letter a to z.
		esc s d enter > Save over the plate Day? Enter saves over it, Escape keeps the old one.
		esc esc 3 s 1 P P > Lays Day
		d > MOVES | PLACES WITHOUT A WINDOW 0
		d enter > Laid Day | back  desk | laid at
		e "2" enter > The plate Day is called Day2 now. u undoes.
		x > Removed the plate Day2. u undoes.
		u u > Day
		E > Laid Day
		esc P d > Laid Day
		: "plate lay D" tab enter > Laid Day
		esc > Put the first steps away.`},
	{"pages", `? > ALL KEYS
		down > ALL KEYS
		/ "send" > send
		esc esc > SHEET
		home z > SHEET A1
		right > #12
		esc ' > Enter shows | 1-9 a row
		esc o "till" > Ticket Till
		enter > 3 Box office · A · Ticket Till
		~ > ~ does nothing here. ? shows all keys.
		esc > Put the first steps away.`},
}

// keys are the keys of a line: single ones, and the letters of texts in quotes.
func keysOf(line string) (keys []string) {
	for i, part := range strings.Split(line, `"`) {
		if i%2 == 1 {
			keys = append(keys, strings.Split(part, "")...)
			continue
		}
		keys = append(keys, strings.Fields(part)...)
	}
	return keys
}

// shows tells whether the screen shows a text, once what was asked for has come.
func (b *bench) shows(what, want string) (screen string, shows bool) {
	for late := time.After(2 * time.Second); ; {
		if screen = b.whole(what); strings.Contains(screen, want) {
			return screen, true
		}
		select {
		case msg := <-b.msgs:
			b.take(msg)
		case <-late:
			return screen, false
		}
	}
}

func TestScripts(t *testing.T) {
	t.Parallel()
	for _, size := range [][2]int{{160, 40}, {240, 60}} {
		for _, s := range scripts {
			t.Run(s.name, func(t *testing.T) { play(t, s.text, size) })
		}
	}
}

// play types a script on a screen of a size.
func play(t *testing.T, script string, size [2]int) {
	b := newSized(t, size)
	for line := range strings.Lines(strings.TrimSpace(script)) {
		typed, wants, _ := strings.Cut(strings.TrimSpace(line), " > ")
		for _, key := range keysOf(typed) {
			b.press(key)
		}
		b.wants(typed, wants)
	}
}

// newSized is a bench of a size in which no key is held.
func newSized(t *testing.T, size [2]int) *bench {
	b := newBench(t, desk.Settings{})
	b.steps = newSteps(FirstUseFile(filepath.Join(t.TempDir(), "state", "done")), true)
	clock := time.Now()
	b.held.now = func() time.Time { clock = clock.Add(time.Second); return clock }
	b.Update(tea.WindowSizeMsg{Width: size[0], Height: size[1]})
	b.Update(tea.ColorProfileMsg{Profile: colorprofile.ANSI256})
	return b
}

// wants holds that the screen shows texts, with | between them, after something.
func (b *bench) wants(after, texts string) {
	b.t.Helper()
	b.catchUp()
	for text := range strings.SplitSeq(texts, " | ") {
		if screen, shows := b.shows(after, text); !shows {
			b.t.Fatalf("after %s the screen of %d columns is without %q:\n%s", after, b.w, text, screen)
		}
	}
}
