package main

import (
	"strings"
	"syscall"
	"testing"

	"zatlas/internal/testkit"
)

// shownOf are the windows of ours by that title that are shown.
func shownOf(t *testing.T, s *testkit.Server, title string) (ids []string) {
	t.Helper()
	for line := range strings.Lines(testkit.Run(t, s.Env, "xwininfo", "-root", "-tree")) {
		if id, _, found := strings.Cut(strings.TrimSpace(line), " \""+title+"\""); found && s.Seen(id) {
			ids = append(ids, id)
		}
	}
	return ids
}

// The words that tell of the atlas chord show on a display that was never kept, and not
// on one that was.
func TestFirstStartNamesTheAtlasChord(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	keeper := s.Keeper(t)
	strip := func() bool { return len(shownOf(t, s, "Zealous Atlas message")) == 1 }
	testkit.Until(t, "words show", strip)
	testkit.Until(t, "they go", func() bool { return !strip() })
	keeper.Process.Signal(syscall.SIGTERM)
	testkit.Until(t, "its process is gone", func() bool { return keeper.Process.Signal(syscall.Signal(0)) != nil })
	s.Keeper(t)
	s.Do(t, "add")
	if strip() {
		t.Error("words show at the second start")
	}
}

// After a chord that splits, an outline shows where the next window opens, for a while;
// it goes on to the next place when one opens.
func TestNextPlaceIsOutlined(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	s.Settings(t, "[chords]\n\"Atlas+Y\" = \"split down\"\n")
	s.Keeper(t)
	x := s.NewX(t)
	client(t, s, "one", "xterm")
	outline := func() (r [4]int) {
		sides := shownOf(t, s, "Zealous Atlas outline")
		if len(sides) != 4 {
			return r
		}
		r = [4]int{1 << 20, 1 << 20, 0, 0}
		for _, id := range sides {
			px, py, w, h, _, _ := s.Info(id)
			r = [4]int{min(r[0], px), min(r[1], py), max(r[2], px+w), max(r[3], py+h)}
		}
		return r
	}
	if r := outline(); r != [4]int{} {
		t.Errorf("an outline shows at %v before", r)
	}
	x.Press(testkit.Super, 'y')
	testkit.Until(t, "the lower half is outlined", func() bool { return outline() == [4]int{0, 540, 1920, 1080} })
	testkit.Until(t, "the outline goes", func() bool { return outline() == [4]int{} })
	where(t, s, client(t, s, "two", "xterm"), true, 0, 540, 1920, 540)
}
