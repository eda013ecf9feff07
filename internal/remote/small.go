package remote

import (
	"context"
	"encoding/json"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strings"

	"zatlas/internal/desk"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/stray"
)

// Small questions have small answers: who asks them needs no desk, however many windows it has.

// State is how much there is, and where you are.
type State struct {
	Workspaces int      `json:"workspaces"`
	Windows    int      `json:"windows"`
	Lost       int      `json:"lost"`     // of these
	Number     int      `json:"number"`   // of the workspace you are on, from 1
	Monitor    string   `json:"monitor"`  // its letter
	Pictures   int      `json:"pictures"` // windows of which there is a picture
	Pictured   []string `json:"pictured"` // their apps
	Bytes      int      `json:"bytes"`    // of all pictures
}

// completion is how the last word of a line can go on; see lang.Completion.
type completion struct {
	Begun string   `json:"begun"`
	Words []string `json:"words"`
	Kinds []string `json:"kinds"`
}

// latest is what a keeper shows now; not ok where it has gone, which is answered.
func latest(w http.ResponseWriter, r *http.Request, k keeper.Access) (u keeper.Update, ok bool) {
	ctx, cancel := context.WithCancel(r.Context())
	defer cancel()
	if u, ok = <-k.Watch(ctx); !ok {
		reply(w, http.StatusServiceUnavailable, failed(keeper.ErrGone))
	}
	return u, ok
}

func (s *Server) state(w http.ResponseWriter, r *http.Request, k keeper.Access) {
	u, ok := latest(w, r, k)
	if !ok {
		return
	}
	d := u.Desk
	windows, bytes := s.album.Held()
	now := State{Workspaces: len(d.Workspaces), Windows: len(d.Windows), Number: d.Current() + 1, Monitor: string(rune(d.At)), Pictures: len(windows), Bytes: bytes}
	for _, w := range d.Windows {
		if d.Lost(w).Cause != stray.None {
			now.Lost++
		}
	}
	for _, id := range windows {
		if w := d.Window(id); w != nil && !slices.Contains(now.Pictured, w.App) {
			now.Pictured = append(now.Pictured, w.App)
		}
	}
	reply(w, http.StatusOK, now)
}

// complete answers how a line of commands can go on. Plates are asked for where it is about them.
func complete(w http.ResponseWriter, r *http.Request, k keeper.Access) {
	u, ok := latest(w, r, k)
	if !ok {
		return
	}
	d, line := u.Desk, r.FormValue("line")
	if strings.Contains(line, "plate") {
		plates := map[string]*desk.Plate{}
		shelf, _ := k.Plates(r.Context())
		for _, s := range shelf {
			if s.Plate != nil {
				plates[s.Plate.Name] = s.Plate
			}
		}
		d = d.WithPlates(plates)
	}
	reply(w, http.StatusOK, completion(lang.Complete(line, d)))
}

// fetch gets an answer that is called something.
func (c *Client) fetch(ctx context.Context, path, called string, answer any) error {
	resp, err := c.get(ctx, path)
	if err != nil {
		return err
	}
	defer resp.Body.Close()
	if err := json.NewDecoder(resp.Body).Decode(answer); err != nil {
		return fmt.Errorf("the keeper's %s cannot be read: %w", called, err)
	}
	return nil
}

// State tells how much there is.
func (c *Client) State(ctx context.Context) (s State, err error) {
	err = c.fetch(ctx, "/state", "state", &s)
	s.Monitor = clean(s.Monitor)
	for i, app := range s.Pictured {
		s.Pictured[i] = clean(app)
	}
	return s, err
}

// Complete is lang.Complete on the keeper's desk.
func (c *Client) Complete(ctx context.Context, line string) (lang.Completion, error) {
	var answer completion
	err := c.fetch(ctx, "/complete?"+url.Values{"line": {line}}.Encode(), "list of words", &answer)
	for _, words := range [][]string{answer.Words, answer.Kinds} {
		for i, word := range words {
			words[i] = clean(word)
		}
	}
	return lang.Completion(answer), err
}
