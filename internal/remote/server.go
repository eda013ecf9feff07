package remote

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"runtime"
	"slices"
	"sync"
	"syscall"
	"time"

	"zatlas/internal/desk"
	"zatlas/internal/keeper"
	"zatlas/internal/lang"
	"zatlas/internal/picture"
	"zatlas/internal/scene"
	"zatlas/internal/status"
)

// maxRequest is the longest request read, in bytes.
const maxRequest = 64 << 10

// Server serves a keeper on a socket.
type Server struct {
	source   *status.Source // of lines; nil for none
	album    *picture.Album // nil for none
	path     string
	listener ownUserOnly
	http     *http.Server
	closing  sync.Once
	closed   chan struct{}
}

// openSocket opens the socket, which is nobody else's from its first moment on.
func openSocket(path string) (net.Listener, error) {
	mask := syscall.Umask(0o177)
	defer syscall.Umask(mask)
	l, err := net.Listen("unix", path)
	if err != nil {
		return nil, fmt.Errorf("opening the socket: %w", err)
	}
	return l, nil
}

// lookEvery is how often it is looked whether the socket is there.
const lookEvery = 800 * time.Millisecond

// keepThere makes the socket anew where somebody has removed it: a keeper that cannot be
// reached cannot be told anything.
func (s *Server) keepThere() {
	tick := time.NewTicker(lookEvery)
	defer tick.Stop()
	for {
		select {
		case <-tick.C:
		case <-s.closed:
			return
		}
		if err := checkSocket(s.path); !errors.Is(err, fs.ErrNotExist) || makeFolder(filepath.Dir(s.path)) != nil {
			continue
		}
		l, err := openSocket(s.path)
		if err != nil {
			continue
		}
		go s.http.Serve(ownUserOnly{l, s.listener.log})
	}
}

// Listen opens the socket. One that a keeper left behind is replaced; one that
// a keeper answers on is an error.
func Listen(path string, k keeper.Access, log *slog.Logger) (*Server, error) {
	if path != "" {
		if err := makeFolder(filepath.Dir(path)); err != nil {
			return nil, fmt.Errorf("the folder for the socket: %w", err)
		}
	}
	if err := checkSocket(path); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return nil, err
	}
	if c, err := net.DialTimeout("unix", path, time.Second); err == nil {
		c.Close()
		return nil, fmt.Errorf("%w at %s", ErrTaken, path)
	}
	if err := os.Remove(path); err != nil && !os.IsNotExist(err) {
		return nil, fmt.Errorf("the socket of an earlier keeper: %w", err)
	}
	l, err := openSocket(path)
	if err != nil {
		return nil, err
	}
	s := &Server{path: path, listener: ownUserOnly{l, log}, closed: make(chan struct{})}
	born := time.Now().UnixNano()
	mux := http.NewServeMux()
	names := &named{answer: map[string]*answer{}}
	mux.HandleFunc("POST /do", func(w http.ResponseWriter, r *http.Request) { do(w, r, k, born, names) })
	mux.HandleFunc("GET /done", names.done)
	mux.HandleFunc("GET /desk", func(w http.ResponseWriter, r *http.Request) { snapshot(w, r, k) })
	mux.HandleFunc("GET /ping", func(w http.ResponseWriter, r *http.Request) {
		if err := k.Ping(r.Context()); err != nil {
			reply(w, http.StatusServiceUnavailable, failed(err))
			return
		}
		reply(w, http.StatusOK, pong{runtime.NumGoroutine()})
	})
	mux.HandleFunc("GET /log", func(w http.ResponseWriter, r *http.Request) { logbook(w, r, k) })
	mux.HandleFunc("GET /apps", func(w http.ResponseWriter, r *http.Request) { listApps(w, r, k) })
	mux.HandleFunc("GET /plates", func(w http.ResponseWriter, r *http.Request) { listPlates(w, r, k) })
	mux.HandleFunc("GET /keys", func(w http.ResponseWriter, r *http.Request) { listKeys(w, r, k) })
	mux.HandleFunc("POST /key", func(w http.ResponseWriter, r *http.Request) { key(w, r, k) })
	watching := make(chan struct{}, maxWatching)
	watched := func(follow func(w http.ResponseWriter, r *http.Request)) http.HandlerFunc {
		return func(w http.ResponseWriter, r *http.Request) {
			select {
			case watching <- struct{}{}:
				defer func() { <-watching }()
				follow(w, r)
			default:
				reply(w, http.StatusServiceUnavailable, failed(&keeper.Failure{Code: keeper.NoAnswer, Words: fmt.Sprintf("%d screens and programs are told the news already, and more are not", maxWatching)}))
			}
		}
	}
	mux.HandleFunc("GET /events", watched(func(w http.ResponseWriter, r *http.Request) { events(w, r, k, born) }))
	mux.HandleFunc("GET /picture", watched(s.pictures))
	mux.HandleFunc("GET /state", func(w http.ResponseWriter, r *http.Request) { s.state(w, r, k) })
	mux.HandleFunc("GET /complete", func(w http.ResponseWriter, r *http.Request) { complete(w, r, k) })
	mux.HandleFunc("GET /line", watched(func(w http.ResponseWriter, r *http.Request) { s.line(w, r, k) }))
	s.http = &http.Server{
		Handler: versioned(mux), ErrorLog: slog.NewLogLogger(log.Handler(), slog.LevelDebug), ConnState: newGate(maxConnections).follow,
		ReadHeaderTimeout: patience, ReadTimeout: patience, IdleTimeout: 4 * patience,
	}
	return s, nil
}

// patience is how long a connection may take to send a request, or to take in
// what is sent to it.
const patience = 5 * time.Second

// maxConnections bounds the connections that are open at once.
const maxConnections = 256

// maxWatching bounds those of them that are told the news: the others are for commands.
const maxWatching = maxConnections - 32

// gate bounds the connections of a server: of more, those go that have asked
// nothing yet or nothing any more, the oldest first; else the one that comes.
type gate struct {
	most int
	mu   sync.Mutex
	open map[net.Conn]bool // whether it is being answered
	idle []net.Conn        // those that are not, the longest first
}

func newGate(most int) *gate { return &gate{most: most, open: map[net.Conn]bool{}} }

// follow is told of every change of a connection (http.Server.ConnState).
func (g *gate) follow(c net.Conn, state http.ConnState) {
	g.mu.Lock()
	defer g.mu.Unlock()
	if _, is := g.open[c]; !is && state != http.StateNew {
		return // it had to go, and is still told of: it must not have another go
	}
	g.idle = slices.DeleteFunc(g.idle, func(o net.Conn) bool { return o == c })
	switch state {
	case http.StateNew, http.StateIdle:
		g.open[c] = false
		g.idle = append(g.idle, c)
	case http.StateActive:
		g.open[c] = true
	default:
		delete(g.open, c)
	}
	if len(g.open) > g.most && len(g.idle) > 0 {
		first := g.idle[0]
		g.idle = g.idle[1:]
		delete(g.open, first)
		first.Close()
	}
}

// Serve answers until Close is called.
func (s *Server) Serve() error {
	go s.keepThere()
	if err := s.http.Serve(s.listener); !errors.Is(err, http.ErrServerClosed) {
		return err
	}
	return nil
}

// closing is how long Close waits for answers that are on their way.
const closing = 600 * time.Millisecond

// Close ends every connection, once what was asked is answered, and removes the
// socket.
func (s *Server) Close() error {
	s.closing.Do(func() { close(s.closed) })
	ctx, cancel := context.WithTimeout(context.Background(), closing)
	defer cancel()
	if s.http.Shutdown(ctx) == nil {
		return nil
	}
	return s.http.Close()
}

// ownUserOnly drops connections of other users, whatever the modes of the
// files say.
type ownUserOnly struct {
	net.Listener
	log *slog.Logger
}

func (l ownUserOnly) Accept() (net.Conn, error) {
	for {
		c, err := l.Listener.Accept()
		if err != nil {
			return nil, err
		}
		uid, err := peer(c)
		if err == nil && uid == os.Getuid() {
			return c, nil
		}
		l.log.Warn("a connection of another user was refused", "user", uid)
		c.Close()
	}
}

// do carries out what is asked for, or tells what it would do. What has a name goes on when
// nobody waits for it any more.
func do(w http.ResponseWriter, r *http.Request, k keeper.Access, born int64, names *named) {
	var req doRequest
	dec := json.NewDecoder(http.MaxBytesReader(w, r.Body, maxRequest))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&req); err != nil {
		reply(w, http.StatusBadRequest, doReply{Error: "the request cannot be read: " + err.Error(), Code: keeper.Unreadable})
		return
	}
	c, err := lang.ParseCommand(req.Command)
	if err != nil {
		reply(w, http.StatusBadRequest, failed(err))
		return
	}
	c.Hand = req.Hand
	unhurried(w)
	if req.Name == "" || req.Dry {
		status, answer := carryOut(r.Context(), k, born, req, c)
		reply(w, status, answer)
		return
	}
	a, err := names.begin(req.Name)
	if err != nil {
		reply(w, http.StatusBadRequest, failed(err))
		return
	}
	a.is(carryOut(context.WithoutCancel(r.Context()), k, born, req, c))
	reply(w, a.status, a.reply)
}

// carryOut does what is asked for, and gives the answer.
func carryOut(ctx context.Context, k keeper.Access, born int64, req doRequest, c desk.Command) (status int, r doReply) {
	source := keeper.Line
	if keeper.Source(req.Source) == keeper.Screen {
		source = keeper.Screen
	}
	var o keeper.Outcome
	var whole, change bytes.Buffer
	var err error
	if req.Dry {
		switch o, err = k.Try(ctx, c); {
		case err != nil || o.Err != nil:
		case req.Since == point{born, o.Serial} && o.From != nil:
			err = scene.WriteSince(&change, o.Desk, o.From)
		default:
			err = scene.Write(&whole, o.Desk)
		}
	} else {
		o, err = k.Do(ctx, c, source)
	}
	switch {
	case err != nil:
		return http.StatusServiceUnavailable, failed(err)
	case o.Err != nil:
		return http.StatusConflict, failed(o.Err)
	}
	return http.StatusOK, doReply{Words: o.Result.Words, Goes: o.Result.Goes, Windows: o.Result.Windows, Workspace: o.Result.Workspace, Serial: o.Serial, Desk: whole.Bytes(), Change: change.Bytes()}
}

// versioned answers those that speak our version of the protocol. A request that
// names none is that of a tool for HTTP, and is answered.
func versioned(h http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set(versionHeader, Version)
		if r.Method == http.MethodGet {
			unhurried(w)
		}
		if theirs := r.Header.Get(versionHeader); theirs != "" {
			if err := agree(theirs, "the screen or command"); err != nil {
				reply(w, http.StatusUpgradeRequired, failed(err))
				return
			}
		}
		h.ServeHTTP(w, r)
	})
}

// unhurried lets a request that was read wait for the keeper as long as that takes. The limit on
// reading would end it, and the one on writing starts when there is something to write.
func unhurried(w http.ResponseWriter) { http.NewResponseController(w).SetReadDeadline(time.Time{}) }

// hurried bounds how long the other end may take for what is written to it.
func hurried(w http.ResponseWriter) {
	http.NewResponseController(w).SetWriteDeadline(time.Now().Add(patience))
}

// reply answers with a message, as JSON.
func reply(w http.ResponseWriter, status int, message any) {
	hurried(w)
	w.Header().Set("Content-Type", "application/json")
	w.WriteHeader(status)
	json.NewEncoder(w).Encode(message)
}

// failed is the answer of a failure.
func failed(err error) doReply { return doReply{Error: err.Error(), Code: keeper.CodeOf(err)} }

func logbook(w http.ResponseWriter, r *http.Request, k keeper.Access) {
	lines, err := k.Log(r.Context())
	if err != nil {
		reply(w, http.StatusServiceUnavailable, failed(err))
		return
	}
	out := make([]logLine, len(lines))
	for i, l := range lines {
		out[i] = logLine{At: l.At.UnixMilli(), Source: string(l.Source), Words: l.Words, Gone: l.Gone}
		if l.Back.Verb != "" {
			out[i].Back = lang.Print(l.Back)
		}
	}
	reply(w, http.StatusOK, out)
}

func listApps(w http.ResponseWriter, r *http.Request, k keeper.Access) {
	list, err := k.Apps(r.Context())
	if err != nil {
		reply(w, http.StatusServiceUnavailable, failed(err))
		return
	}
	reply(w, http.StatusOK, list)
}

func listPlates(w http.ResponseWriter, r *http.Request, k keeper.Access) {
	list, err := k.Plates(r.Context())
	out := make([]plateLine, len(list))
	for i, s := range list {
		if out[i] = (plateLine{Name: s.Fault.Name, Fault: s.Fault.Words}); s.Plate == nil || err != nil {
			continue
		}
		var b bytes.Buffer
		err = scene.WritePlate(&b, s.Plate)
		out[i] = plateLine{Name: s.Plate.Name, Plate: b.Bytes()}
		if !s.Laid.IsZero() {
			out[i].Laid = s.Laid.UnixMilli()
		}
	}
	if err != nil {
		reply(w, http.StatusServiceUnavailable, failed(err))
		return
	}
	reply(w, http.StatusOK, out)
}

func listKeys(w http.ResponseWriter, r *http.Request, k keeper.Access) {
	list, err := k.Keys(r.Context())
	if err != nil {
		reply(w, http.StatusServiceUnavailable, failed(err))
		return
	}
	reply(w, http.StatusOK, list)
}

// key answers what is asked of a chord. It may be waited for.
func key(w http.ResponseWriter, r *http.Request, k keeper.Access) {
	var ask keeper.KeyAsk
	dec := json.NewDecoder(http.MaxBytesReader(w, r.Body, maxRequest))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&ask); err != nil {
		reply(w, http.StatusBadRequest, doReply{Error: "the request cannot be read: " + err.Error(), Code: keeper.Unreadable})
		return
	}
	unhurried(w)
	got, err := k.Key(r.Context(), ask)
	if err != nil {
		reply(w, http.StatusConflict, failed(err))
		return
	}
	reply(w, http.StatusOK, got)
}

func snapshot(w http.ResponseWriter, r *http.Request, k keeper.Access) {
	u, ok := latest(w, r, k)
	if !ok {
		return
	}
	w.Header().Set("Content-Type", "application/json")
	hurried(w)
	scene.Write(w, u.Desk)
}

// events sends an update for every change. The event's id is its serial number, its name is who
// made it; what is to be said and the desk are data. The first desk is a scene, each that
// follows a change of the one before.
func events(w http.ResponseWriter, r *http.Request, k keeper.Access, born int64) {
	w.Header().Set("Content-Type", "text/event-stream")
	conn := http.NewResponseController(w)
	var last keeper.Update
	for u := range k.Watch(r.Context()) {
		var b, desk bytes.Buffer
		err := error(nil)
		if last.Desk == nil {
			err = scene.Write(&desk, u.Desk)
		} else {
			err = scene.WriteSince(&desk, u.Desk, last.Desk)
		}
		if err != nil {
			return
		}
		head, err := json.Marshal(newsHead{born, last.Serial, u.Words, u.Verb, u.Undo, u.Redo, u.Step, u.Reloads, u.Screen, u.Asked})
		if err != nil {
			return
		}
		fmt.Fprintf(&b, "id: %d\nevent: %s\ndata: %s\n", u.Serial, u.Source, head)
		for line := range bytes.Lines(desk.Bytes()) {
			b.WriteString("data: ")
			b.Write(line)
		}
		b.WriteByte('\n')
		hurried(w)
		if _, err := w.Write(b.Bytes()); err != nil {
			return
		}
		if err := conn.Flush(); err != nil {
			return
		}
		last = u
	}
}
