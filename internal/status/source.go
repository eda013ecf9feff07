package status

import (
	"maps"
	"slices"
	"strings"
	"sync"
	"time"

	strftime "github.com/ncruces/go-strftime"

	"zatlas/internal/desk"
	"zatlas/internal/draw"
	"zatlas/internal/settings"
)

// NewsTime is how long the words of what just happened are news.
const NewsTime = 5 * time.Second

// Options are what a line says besides the desk.
type Options struct {
	Clock, Date string // forms of the time, as Go or strftime have them; empty for none
	Rows        []settings.LineRow
	// Idle tells that no line is shown: rows do not run, and the time is only told where
	// somebody asks for it.
	Idle bool
}

// Source is what lines say, kept together for all who show it. Its methods can be called on
// any goroutine. It does nothing until Show is called.
type Source struct {
	mu     sync.Mutex
	opt    Options
	desk   *desk.Desk
	seeing sync.Mutex
	seen   *draw.Overview // of desk, or of an earlier one; guarded by seeing
	facts  Facts
	until  time.Time // the news is any
	clock  *time.Timer
	fade   *time.Timer // ends the news
	feeds  []*feed
	told   map[chan struct{}]bool // true for one that is told of the time where no line is shown
	ended  bool
	now    func() time.Time
}

// NewSource makes a source.
func NewSource(opt Options) *Source {
	s := &Source{told: map[chan struct{}]bool{}, now: time.Now}
	s.Configure(opt)
	return s
}

// Configure takes other options. The commands of rows that are as they were go on.
func (s *Source) Configure(opt Options) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.ended {
		return
	}
	s.opt = opt
	was := s.feeds
	s.feeds = nil
	for _, row := range opt.Rows {
		if opt.Idle {
			break
		}
		i := slices.IndexFunc(was, func(f *feed) bool { return f.row == row })
		if i >= 0 {
			s.feeds, was = append(s.feeds, was[i]), slices.Delete(was, i, i+1)
			continue
		}
		s.feeds = append(s.feeds, newFeed(row, s.said))
	}
	for _, f := range was {
		f.stop()
	}
	s.facts.Rows = nil
	for _, f := range s.feeds {
		s.facts.Rows = append(s.facts.Rows, f.says())
	}
	s.tick()
	s.tell()
}

// said takes in what the rows say now.
func (s *Source) said() {
	s.mu.Lock()
	defer s.mu.Unlock()
	rows := make([]Said, len(s.feeds))
	for i, f := range s.feeds {
		rows[i] = f.says()
	}
	if !slices.Equal(rows, s.facts.Rows) {
		s.facts.Rows = rows
		s.tell()
	}
}

// Show takes in the desk as it is now.
func (s *Source) Show(d *desk.Desk) {
	s.mu.Lock()
	s.desk = d
	s.tell()
	s.mu.Unlock()
}

// SayFor takes in the words of what just happened, which are news for so long.
func (s *Source) SayFor(long time.Duration, words string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.facts.News, s.until = desk.CleanText(words, desk.MaxTitle), s.now().Add(long)
	if s.fade != nil {
		s.fade.Stop()
	}
	s.fade = time.AfterFunc(long, s.endNews)
	s.tell()
}

func (s *Source) endNews() {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.facts.News != "" && !s.now().Before(s.until) {
		s.facts.News = ""
		s.tell()
	}
}

// Keys takes in what is to be known of the keyboard: the keys pressed so far of several, how
// many chords another program has, and its layout.
func (s *Source) Keys(typed string, taken int, layout string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	f := &s.facts
	if f.Keys != typed || f.Taken != taken || f.Keyboard != layout {
		f.Keys, f.Taken, f.Keyboard = typed, taken, layout
		s.tell()
	}
}

// tick waits for the moment at which the time reads otherwise. There is no timer without a
// clock, nor where nobody sees it.
func (s *Source) tick() {
	if s.clock != nil {
		s.clock.Stop()
		s.clock = nil
	}
	seen := !s.opt.Idle || slices.Contains(slices.Collect(maps.Values(s.told)), true)
	if s.opt.Clock == "" && s.opt.Date == "" || s.ended || !seen {
		return
	}
	now := s.now()
	every := time.Minute
	if later := now.Truncate(time.Minute).Add(time.Second); Time(s.opt.Clock, later) != Time(s.opt.Clock, later.Add(time.Second)) {
		every = time.Second
	}
	s.clock = time.AfterFunc(now.Truncate(every).Add(every).Sub(now), func() {
		s.mu.Lock()
		defer s.mu.Unlock()
		s.tick()
		s.tell()
	})
}

// Time writes a time in a form as Go has it ("15:04"), or as strftime has it ("%H:%M").
func Time(form string, at time.Time) string {
	if strings.Contains(form, "%") {
		return desk.CleanText(strftime.Format(form, at), desk.MaxName)
	}
	return desk.CleanText(at.Format(form), desk.MaxName)
}

// Changed gives a value whenever the lines may say something else, until stop is called. One
// that is not taken is left out for the next. Always has the time be told also where no line
// is shown.
func (s *Source) Changed(always bool) (changed <-chan struct{}, stop func()) {
	c := make(chan struct{}, 1)
	s.mu.Lock()
	s.told[c] = always
	s.tick()
	s.mu.Unlock()
	return c, func() {
		s.mu.Lock()
		delete(s.told, c)
		s.tick()
		s.mu.Unlock()
	}
}

func (s *Source) tell() {
	for c := range s.told {
		select {
		case c <- struct{}{}:
		default:
		}
	}
}

// Line is what the line on a monitor says now, on that where you are for letter 0. It is
// false before there is a desk, and for a monitor that is not there.
func (s *Source) Line(letter byte) (Line, bool) {
	s.mu.Lock()
	d, f := s.desk, s.facts
	f.Clock, f.Date = Time(s.opt.Clock, s.now()), Time(s.opt.Date, s.now())
	s.mu.Unlock()
	if d == nil {
		return Line{}, false
	}
	if letter == 0 {
		letter = d.At
	}
	if !d.Connected(letter) {
		return Line{}, false
	}
	s.seeing.Lock() // who shows a desk does not wait for this
	defer s.seeing.Unlock()
	if s.seen == nil || s.seen.Desk != d {
		s.seen, _ = draw.OverviewOf(d, s.seen)
	}
	if letter != d.At {
		f.News, f.Keys = "", ""
	}
	return Of(s.seen, letter, f), true
}

// End ends the commands of rows, and all timers.
func (s *Source) End() {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.ended = true
	for _, f := range s.feeds {
		f.stop()
	}
	s.feeds = nil
	for _, t := range []*time.Timer{s.clock, s.fade} {
		if t != nil {
			t.Stop()
		}
	}
}
