package remote

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"net/http"

	"zatlas/internal/draw"
	"zatlas/internal/keeper"
	"zatlas/internal/status"
)

// Lines has what lines say be asked for at a source of theirs, in the place of what the desk
// alone tells. It is called before Serve.
func (s *Server) Lines(source *status.Source) { s.source = source }

// line answers with what the line says where you are, as JSON in a line; with ?follow again
// whenever that changes.
func (s *Server) line(w http.ResponseWriter, r *http.Request, k keeper.Access) {
	ctx, cancel := context.WithCancel(r.Context())
	defer cancel()
	conn, last := http.NewResponseController(w), ""
	follow := r.URL.Query().Has("follow")
	w.Header().Set("Content-Type", "application/x-ndjson")
	for l := range s.lines(ctx, k) {
		text, err := json.Marshal(l)
		if err != nil {
			return
		}
		if string(text) != last {
			last = string(text)
			hurried(w)
			if _, err := fmt.Fprintln(w, last); err != nil || conn.Flush() != nil {
				return
			}
		}
		if !follow {
			return
		}
	}
}

// lines gives what the line says now, and what it says from then on.
func (s *Server) lines(ctx context.Context, k keeper.Access) <-chan status.Line {
	out := make(chan status.Line)
	give := func(l status.Line) bool {
		select {
		case out <- l:
			return true
		case <-ctx.Done():
			return false
		}
	}
	go func() {
		defer close(out)
		if s.source == nil {
			var seen *draw.Overview
			for u := range k.Watch(ctx) {
				seen, _ = draw.OverviewOf(u.Desk, seen)
				if !give(status.Of(seen, u.Desk.At, status.Facts{})) {
					return
				}
			}
			return
		}
		changed, stop := s.source.Changed(true)
		defer stop()
		for ctx.Err() == nil {
			if l, ok := s.source.Line(0); ok && !give(l) {
				return
			}
			select {
			case <-changed:
			case <-ctx.Done():
			}
		}
	}()
	return out
}

// Line gives what the keeper's line says where you are, and with follow again whenever that
// changes, until give has an error or the keeper is gone.
func (c *Client) Line(ctx context.Context, follow bool, give func(status.Line) error) error {
	path := "/line"
	if follow {
		path += "?follow=true"
	}
	resp, err := c.get(ctx, path)
	if err != nil {
		return err
	}
	defer resp.Body.Close()
	in := bufio.NewScanner(resp.Body)
	in.Buffer(nil, maxAnswer)
	for in.Scan() {
		var l status.Line
		if err := json.Unmarshal(in.Bytes(), &l); err != nil {
			return fmt.Errorf("the keeper's line cannot be read: %w", err)
		}
		if err := give(l.Clean()); err != nil {
			return err
		}
	}
	return in.Err()
}
