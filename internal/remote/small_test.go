package remote_test

import (
	"fmt"
	"log/slog"
	"path/filepath"
	"strings"
	"testing"

	"zatlas/internal/desk"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/picture"
	"zatlas/internal/remote"
)

// What is asked in few words is answered in few: how much there is, and how a line goes on.
func TestSmallQuestions(t *testing.T) {
	t.Parallel()
	path, _, k := served(t, keeper.Options{})
	c := dial(t, path)
	d := (<-k.Watch(t.Context())).Desk
	album := picture.NewAlbum(nil)
	album.Put(11, picture.New(10, 10, picture.RGB{}))
	album.Put(13, picture.New(10, 10, picture.RGB{}))
	pictured := filepath.Join(t.TempDir(), "run", "album.sock")
	s, err := remote.Listen(pictured, k, slog.New(slog.DiscardHandler))
	if err != nil {
		t.Fatal(err)
	}
	s.Pictures(album)
	go s.Serve()
	t.Cleanup(func() { s.Close() })
	for n, c := range []*remote.Client{c, dial(t, pictured)} {
		got, err := c.State(t.Context())
		if err != nil || got.Workspaces != len(d.Workspaces) || got.Windows != len(d.Windows) || got.Lost != 3 || got.Number != 1 || got.Monitor != "A" {
			t.Errorf("the state is %+v, %v", got, err)
		}
		if want := [][]string{nil, {"Reel Ledger", "Screening Times"}}[n]; fmt.Sprint(got.Pictured) != fmt.Sprint(want) || got.Pictures != len(want) {
			t.Errorf("pictured are %v, %d windows, and not %v", got.Pictured, got.Pictures, want)
		}
	}
	for _, line := range []string{"", "se", "send ", "send 2 of app:", `focus "Re`, "plate lay ", lang.ToQuery + "title:", "nonsense here"} {
		got, err := c.Complete(t.Context(), line)
		if want := lang.Complete(line, d); err != nil || fmt.Sprint(got) != fmt.Sprint(want) {
			t.Errorf("%q goes on with\n%v, %v\nand not\n%v", line, got, err, want)
		}
	}
	if o, err := k.Do(t.Context(), desk.Command{Verb: "plate", Args: []desk.Arg{{Kind: desk.Keyword, Word: "save"}, {Kind: desk.Name, Word: "Festival"}}}, keeper.Line); err != nil || o.Err != nil {
		t.Fatal(err, o.Err)
	}
	if got, err := c.Complete(t.Context(), "plate lay "); err != nil || !strings.Contains(fmt.Sprint(got.Words), "Festival") {
		t.Errorf("after plate lay: %v, %v", got, err)
	}
}
