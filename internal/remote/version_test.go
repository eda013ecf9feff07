package remote_test

import (
	"context"
	"errors"
	"log/slog"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"zatlas/internal/host/sim"
	"zatlas/internal/keeper"
	"zatlas/internal/remote"
	"zatlas/internal/testkit/desks"
)

// An error is of the same kind on both ends of the socket, and says the same.
func TestErrorsKeepTheirKind(t *testing.T) {
	path, _, k := served(t, keeper.Options{Real: true})
	client := dial(t, path)
	for line, want := range map[string]keeper.Code{
		"go 77": keeper.Refused, "plug C": keeper.RealMonitors, `open "Nothing Of The Kind"`: keeper.UnknownApp, "reload": keeper.NotHere, "go 2": keeper.Done,
	} {
		for _, ask := range []struct {
			how string
			do  func(keeper.Access) (keeper.Outcome, error)
		}{
			{"tried", func(a keeper.Access) (keeper.Outcome, error) { return a.Try(t.Context(), desks.Command(t, line)) }},
			{"done", func(a keeper.Access) (keeper.Outcome, error) {
				return a.Do(t.Context(), desks.Command(t, line), keeper.Screen)
			}},
		} {
			if line == "reload" && ask.how == "tried" {
				continue // it is only read when it is done
			}
			far, err := ask.do(client)
			if err != nil {
				t.Fatal(err)
			}
			near, err := ask.do(k)
			if err != nil {
				t.Fatal(err)
			}
			if keeper.CodeOf(near.Err) != want || keeper.CodeOf(far.Err) != want {
				t.Errorf("%s, %s: %q here and %q there, want %q", line, ask.how, keeper.CodeOf(near.Err), keeper.CodeOf(far.Err), want)
			}
			if want != keeper.Done && near.Err.Error() != far.Err.Error() {
				t.Errorf("%s, %s: %v here and %v there", line, ask.how, near.Err, far.Err)
			}
		}
	}
	o, err := client.Do(t.Context(), desks.Command(t, "plug C"), keeper.Screen)
	if err != nil || !errors.Is(o.Err, keeper.ErrRealMonitors) {
		t.Errorf("plug C over the socket: %v, %v", o.Err, err)
	}
}

// A keeper that has ended behind its socket is gone on both ends.
func TestGoneKeepsItsKind(t *testing.T) {
	d := desks.Demo(t)
	k := keeper.New(d, sim.New(), keeper.Options{})
	ended, end := context.WithCancel(t.Context())
	end()
	k.Run(ended)
	path := filepath.Join(t.TempDir(), "run", "test.sock")
	s, err := remote.Listen(path, k, slog.New(slog.DiscardHandler))
	if err != nil {
		t.Fatal(err)
	}
	go s.Serve()
	defer s.Close()
	for _, a := range []keeper.Access{k, dial(t, path)} {
		_, done := a.Do(t.Context(), desks.Command(t, "go 2"), keeper.Line)
		_, tried := a.Try(t.Context(), desks.Command(t, "go 2"))
		_, log := a.Log(t.Context())
		_, list := a.Apps(t.Context())
		for i, err := range []error{done, tried, log, list} {
			if !errors.Is(err, keeper.ErrGone) || err.Error() != keeper.ErrGone.Error() {
				t.Errorf("%T, question %d: %v", a, i, err)
			}
		}
	}
}

// A server of another version says so, and does nothing; and so does a client to one.
func TestOtherVersions(t *testing.T) {
	path, _ := serve(t)
	raw := &http.Client{Transport: &http.Transport{DialContext: func(context.Context, string, string) (net.Conn, error) {
		return net.Dial("unix", path)
	}}}
	req, err := http.NewRequest(http.MethodPost, "http://keeper/do", strings.NewReader(`{"command": "add"}`))
	if err != nil {
		t.Fatal(err)
	}
	req.Header.Set("Zatlas-Protocol", "77")
	resp, err := raw.Do(req)
	if err != nil || resp.StatusCode != http.StatusUpgradeRequired || resp.Header.Get("Zatlas-Protocol") != remote.Version {
		t.Fatalf("a request of version 77: %v, %v", resp, err)
	}
	resp.Body.Close()
	if d, err := dial(t, path).Desk(t.Context()); err != nil || len(d.Workspaces) != 6 {
		t.Errorf("it was carried out: %d workspaces, %v", len(d.Workspaces), err)
	}

	if d, err := dial(t, stranger(t, "7.77")).Desk(t.Context()); keeper.CodeOf(err) == keeper.OtherVersion {
		t.Errorf("a keeper of a later minor version is refused: %v, %v", d, err)
	}
	for theirs, renew := range map[string]string{"77": "this one is older", "4": "the keeper is older", "": "end both"} {
		if _, err := dial(t, stranger(t, theirs)).Desk(t.Context()); err == nil || !strings.Contains(err.Error(), renew) {
			t.Errorf("a keeper of version %q: %v, want %s", theirs, err, renew)
		}
	}
	for _, theirs := range []string{"77", ""} {
		client := dial(t, stranger(t, theirs))
		_, done := client.Do(t.Context(), desks.Command(t, "go 2"), keeper.Line)
		_, read := client.Log(t.Context())
		for _, err := range []error{done, read, (<-client.Watch(t.Context())).Err} {
			if keeper.CodeOf(err) != keeper.OtherVersion || strings.ContainsRune(err.Error(), '\x1b') {
				t.Errorf("a keeper of version %q: %v", theirs, err)
			}
		}
	}
}

// stranger serves another version of the protocol on a socket.
func stranger(t *testing.T, version string) string {
	t.Helper()
	dir := t.TempDir()
	if err := os.Chmod(dir, 0o700); err != nil {
		t.Fatal(err)
	}
	path := filepath.Join(dir, "x.sock")
	l, err := net.Listen("unix", path)
	if err != nil {
		t.Fatal(err)
	}
	s := &http.Server{Handler: http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		w.Header()["Zatlas-Protocol"] = []string{version}
		w.Write([]byte("{}"))
	})}
	go s.Serve(l)
	t.Cleanup(func() { s.Close() })
	return path
}
