package remote_test

import (
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"zatlas/internal/desk"
	"zatlas/internal/host/sim"
	"zatlas/internal/keeper"
	"zatlas/internal/remote"
	"zatlas/internal/scene"
	"zatlas/internal/testkit"
	"zatlas/internal/testkit/desks"
)

// serve serves the demo desk on a socket of the test's own.
func serve(t *testing.T) (string, *remote.Server) {
	path, s, _ := served(t, keeper.Options{})
	return path, s
}

func served(t *testing.T, opt keeper.Options) (string, *remote.Server, *keeper.Keeper) {
	t.Helper()
	d := desks.Demo(t)
	k := keeper.New(d, sim.New(), opt)
	go k.Run(t.Context())
	path := filepath.Join(t.TempDir(), "run", "test.sock")
	s, err := remote.Listen(path, k, slog.New(slog.DiscardHandler))
	if err != nil {
		t.Fatal(err)
	}
	go s.Serve()
	t.Cleanup(func() { s.Close() })
	return path, s, k
}

func dial(t *testing.T, path string) *remote.Client {
	t.Helper()
	c, err := remote.Dial(path)
	if err != nil {
		t.Fatal(err)
	}
	return c
}

func TestClients(t *testing.T) {
	path, s := serve(t)
	a, b := dial(t, path), dial(t, path)
	ctx, cancel := context.WithTimeout(t.Context(), 20*time.Second)
	defer cancel()
	news := b.Watch(ctx)
	first := <-news
	if first.Desk == nil || len(first.Desk.Windows) != 26 {
		t.Fatalf("the first news is %+v", first)
	}
	o, err := a.Do(ctx, desks.Command(t, "carry 3"), keeper.Screen)
	if err != nil || o.Err != nil || o.Result.Words != "Carried Reel Ledger · Running order to 3 Box office." || !o.Result.Goes || len(o.Result.Windows) != 1 {
		t.Errorf("carry 3: %+v %v", o, err)
	}
	sent := time.Now()
	for u := range news {
		if u.Desk.Current() == 2 {
			if u.Words != o.Result.Words || u.Source != keeper.Screen {
				t.Errorf("the news say %q by %s", u.Words, u.Source)
			}
			break
		}
	}
	t.Logf("another client saw it after %v", time.Since(sent))
	d, err := b.Desk(ctx)
	if err != nil || d.Ref(d.Window(11)) != "A3" {
		t.Errorf("the desk: %v", err)
	}
	tried, err := a.Try(ctx, desks.Command(t, "undo"))
	if err != nil || tried.Err != nil || tried.Desk.Ref(tried.Desk.Window(11)) != "A1" {
		t.Errorf("tried undo: %+v %v", tried.Result, err)
	}
	lines, err := b.Log(ctx)
	if err != nil || len(lines) != 2 || lines[1].Words != o.Result.Words || lines[1].Source != keeper.Screen || lines[1].Back.Verb != "" {
		t.Errorf("the logbook is %+v, %v", lines, err)
	}
	o, err = a.Do(ctx, desks.Command(t, "go 77"), keeper.Line)
	if err != nil || o.Err == nil || o.Err.Error() != "there is no workspace 77: there are 6; add makes one" {
		t.Errorf("go 77: %+v %v", o, err)
	}
	s.Close()
	for range news { // ends
	}
	if _, err := a.Do(ctx, desks.Command(t, "go 1"), keeper.Line); !errors.Is(err, remote.ErrNoKeeper) {
		t.Errorf("without a server: %v", err)
	}
	if _, err := os.Stat(path); !os.IsNotExist(err) {
		t.Errorf("the socket is left behind: %v", err)
	}
}

func TestModes(t *testing.T) {
	path, _ := serve(t)
	for file, want := range map[string]os.FileMode{path: 0o600, filepath.Dir(path): 0o700} {
		info, err := os.Stat(file)
		if err != nil || info.Mode().Perm() != want {
			t.Errorf("%s: %v %v, want %v", file, info.Mode(), err, want)
		}
	}
}

func TestListen(t *testing.T) {
	path, _ := serve(t)
	if _, err := remote.Listen(path, nil, slog.New(slog.DiscardHandler)); err == nil || !strings.Contains(err.Error(), "answers") {
		t.Errorf("a second server: %v", err)
	}
	// One that a keeper killed left behind is replaced.
	dead := filepath.Join(closed(t), "dead.sock")
	l, err := net.Listen("unix", dead)
	if err != nil {
		t.Fatal(err)
	}
	l.(*net.UnixListener).SetUnlinkOnClose(false)
	l.Close()
	if _, err := remote.Dial(dead); !errors.Is(err, remote.ErrNoKeeper) {
		t.Errorf("dialling a dead socket: %v", err)
	}
	s, err := remote.Listen(dead, nil, slog.New(slog.DiscardHandler))
	if err != nil {
		t.Fatalf("a socket left behind: %v", err)
	}
	s.Close()
	// A folder that is a link to somewhere else is not trusted.
	link := filepath.Join(t.TempDir(), "link")
	if err := os.Symlink(t.TempDir(), link); err != nil {
		t.Fatal(err)
	}
	if _, err := remote.Listen(filepath.Join(link, "x.sock"), nil, slog.New(slog.DiscardHandler)); err == nil {
		t.Error("a linked folder is trusted")
	}
}

// Whatever is sent to the socket is answered, and nothing happens by it.
func TestBadRequests(t *testing.T) {
	path, _ := serve(t)
	client := &http.Client{Transport: &http.Transport{DialContext: func(context.Context, string, string) (net.Conn, error) {
		return net.Dial("unix", path)
	}}}
	for body, want := range map[string]int{
		``:                                   http.StatusBadRequest,
		`{`:                                  http.StatusBadRequest,
		`[]`:                                 http.StatusBadRequest,
		`{"command": "go 2", "extra": 1}`:    http.StatusBadRequest,
		`{"command": "fly"}`:                 http.StatusBadRequest,
		`{"command": "go 77"}`:               http.StatusConflict,
		`{"command": "go \u001b]0;x\u0007"}`: http.StatusBadRequest,
		`{"command": "` + strings.Repeat("x", 1<<20) + `"}`: http.StatusBadRequest,
		`{"command": "go 1"}`:                               http.StatusOK,
	} {
		resp, err := client.Post("http://keeper/do", "application/json", strings.NewReader(body))
		if err != nil {
			t.Errorf("%.40s: %v", body, err)
			continue
		}
		text, _ := io.ReadAll(resp.Body)
		resp.Body.Close()
		if resp.StatusCode != want {
			t.Errorf("%.40s: %s, want %d: %s", body, resp.Status, want, text)
		}
	}
	for _, p := range []string{"/", "/do", "/nothing"} {
		resp, err := client.Get("http://keeper" + p)
		if err != nil || resp.StatusCode < 400 {
			t.Errorf("GET %s: %v %v", p, resp, err)
		}
	}
}

func TestSocketPath(t *testing.T) {
	t.Setenv("XDG_RUNTIME_DIR", "/run/user/7")
	for display, want := range map[string]string{
		":0": "/run/user/7/zealous-atlas/display--0.sock", ":0.1": "/run/user/7/zealous-atlas/display--0.sock",
		":12": "/run/user/7/zealous-atlas/display--12.sock", "host:1.0": "/run/user/7/zealous-atlas/display-host-1.sock",
		"../../x:1": "/run/user/7/zealous-atlas/display-..-..-x-1.sock",
	} {
		if got := remote.SocketPath(display); got != want {
			t.Errorf("SocketPath(%q) = %s, want %s", display, got, want)
		}
	}
	t.Setenv("XDG_STATE_HOME", "/home/me/state")
	for _, unset := range []string{"", "relative"} {
		t.Setenv("XDG_RUNTIME_DIR", unset)
		if got := remote.SocketPath(":0"); got != "/home/me/state/zealous-atlas/run/display--0.sock" {
			t.Errorf("without a folder of the run time: %s", got)
		}
	}
}

// Another user is refused, whatever the modes of the files say. Only root can
// be another user to find out.
func TestOtherUsersAreRefused(t *testing.T) {
	if path := os.Getenv("REMOTE_TEST_SOCKET"); path != "" {
		otherUser(path)
		return
	}
	path, _ := serve(t)
	if os.Getuid() != 0 {
		t.Skip("only root can try as another user")
	}
	for file := filepath.Dir(path); file != "/tmp" && file != "/"; file = filepath.Dir(file) {
		if err := os.Chmod(file, 0o755); err != nil {
			t.Fatal(err)
		}
	}
	if err := os.Chmod(path, 0o666); err != nil {
		t.Fatal(err)
	}
	// This test's program, where that user can run it.
	self, err := os.ReadFile(os.Args[0])
	if err != nil {
		t.Fatal(err)
	}
	program := filepath.Join(filepath.Dir(path), "other")
	if err := os.WriteFile(program, self, 0o755); err != nil {
		t.Fatal(err)
	}
	cmd := exec.Command(program, "-test.run=TestOtherUsersAreRefused")
	cmd.Dir = "/"
	cmd.Env = append(os.Environ(), "REMOTE_TEST_SOCKET="+path)
	cmd.SysProcAttr = &syscall.SysProcAttr{Credential: &syscall.Credential{Uid: 65534, Gid: 65534}}
	out, err := cmd.CombinedOutput()
	if err != nil || !strings.Contains(string(out), "connected and refused") {
		t.Errorf("another user: %v\n%s", err, out)
	}
}

// otherUser tries the socket as whoever runs it, and says what happened.
func otherUser(path string) {
	conn, err := net.Dial("unix", path)
	if err != nil {
		fmt.Println("not even connected:", err)
		return
	}
	defer conn.Close()
	fmt.Fprint(conn, "GET /desk HTTP/1.1\r\nHost: keeper\r\n\r\n")
	answer, _ := io.ReadAll(conn)
	if len(answer) == 0 {
		fmt.Println("connected and refused")
		return
	}
	fmt.Printf("answered: %s\n", answer)
}

// closed is a folder of the test's own that is closed to others.
func closed(t *testing.T) string {
	t.Helper()
	dir := t.TempDir()
	if err := os.Chmod(dir, 0o700); err != nil {
		t.Fatal(err)
	}
	return dir
}

// listenAt listens on a socket as something that is no keeper.
func listenAt(t *testing.T, path string) net.Listener {
	t.Helper()
	l, err := net.Listen("unix", path)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { l.Close() })
	return l
}

// A client says nothing to a socket that may be somebody else's.
func TestClientTrustsNobody(t *testing.T) {
	open := t.TempDir()
	if err := os.Chmod(open, 0o755); err != nil {
		t.Fatal(err)
	}
	heard := make(chan string, 8)
	l := listenAt(t, filepath.Join(open, "open.sock"))
	go func() {
		for {
			c, err := l.Accept()
			if err != nil {
				return
			}
			heard <- "a connection"
			c.Close()
		}
	}()
	if _, err := remote.Dial(filepath.Join(open, "open.sock")); err == nil || !strings.Contains(err.Error(), "not trusted") {
		t.Errorf("in a folder that others look into: %v", err)
	}
	select {
	case what := <-heard:
		t.Errorf("it got %s", what)
	default:
	}
	dir := closed(t)
	text := filepath.Join(dir, "text.sock")
	if err := os.WriteFile(text, []byte("dear to somebody"), 0o600); err != nil {
		t.Fatal(err)
	}
	if _, err := remote.Dial(text); err == nil || !strings.Contains(err.Error(), text) {
		t.Errorf("a regular file: %v", err)
	}
	if _, err := remote.Listen(text, nil, slog.New(slog.DiscardHandler)); err == nil || !strings.Contains(err.Error(), text) {
		t.Errorf("listening where a file is: %v", err)
	}
	if data, err := os.ReadFile(text); string(data) != "dear to somebody" {
		t.Errorf("the file is %q, %v", data, err)
	}
	long := filepath.Join(dir, strings.Repeat("x", 120))
	if _, err := remote.Dial(long); err == nil || !strings.Contains(err.Error(), "too long") {
		t.Errorf("a long path: %v", err)
	}
}

// A socket that another user has made is not spoken to. Only root can be another
// user to find out.
func TestClientTrustsNoOtherUser(t *testing.T) {
	if path := os.Getenv("REMOTE_TEST_STRANGER"); path != "" {
		if err := syscall.Listen(3, 5); err != nil { // whoever does is the one at the other end
			t.Fatal(err)
		}
		l, err := net.FileListener(os.NewFile(3, "socket"))
		if err != nil {
			t.Fatal(err)
		}
		c, err := l.Accept()
		if err != nil {
			t.Fatal(err)
		}
		data, _ := io.ReadAll(c)
		fmt.Printf("heard %d bytes\n", len(data))
		return
	}
	if os.Getuid() != 0 {
		t.Skip("only root can try as another user")
	}
	// The socket is made by a process of another user, in a folder of ours: so it
	// is the one at the other end who must be looked at.
	dir := closed(t)
	path := filepath.Join(dir, "stranger.sock")
	fd, err := syscall.Socket(syscall.AF_UNIX, syscall.SOCK_STREAM, 0)
	if err != nil {
		t.Fatal(err)
	}
	if err := syscall.Bind(fd, &syscall.SockaddrUnix{Name: path}); err != nil {
		t.Fatal(err)
	}
	self, err := os.ReadFile(os.Args[0])
	if err != nil {
		t.Fatal(err)
	}
	program := filepath.Join(t.TempDir(), "other")
	for file := filepath.Dir(program); file != "/tmp" && file != "/"; file = filepath.Dir(file) {
		os.Chmod(file, 0o755)
	}
	if err := os.WriteFile(program, self, 0o755); err != nil {
		t.Fatal(err)
	}
	cmd := exec.Command(program, "-test.run=TestClientTrustsNoOtherUser$")
	cmd.Dir = "/"
	cmd.Env = append(os.Environ(), "REMOTE_TEST_STRANGER="+path)
	cmd.ExtraFiles = []*os.File{os.NewFile(uintptr(fd), "socket")}
	cmd.SysProcAttr = &syscall.SysProcAttr{Credential: &syscall.Credential{Uid: 65534, Gid: 65534}}
	var out strings.Builder
	cmd.Stdout, cmd.Stderr = &out, &out
	if err := cmd.Start(); err != nil {
		t.Fatal(err)
	}
	for end := time.Now().Add(20 * time.Second); ; time.Sleep(5 * time.Millisecond) {
		_, err = remote.Dial(path)
		if err != nil && strings.Contains(err.Error(), "user 65534 answers") {
			break
		}
		if time.Now().After(end) {
			t.Fatalf("dialled with %v\n%s", err, &out)
		}
	}
	if err := cmd.Wait(); err != nil || !strings.Contains(out.String(), "heard 0 bytes") {
		t.Errorf("the stranger: %v\n%s", err, &out)
	}
}

// Connections that ask nothing, or half a thing, or take nothing in, are bounded
// and hold nobody up.
func TestIdleConnections(t *testing.T) {
	t.Parallel()
	path, _ := serve(t)
	var conns []net.Conn
	for i := range 600 {
		c, err := net.Dial("unix", path)
		if err != nil {
			t.Fatalf("connection %d: %v", i, err)
		}
		defer c.Close()
		conns = append(conns, c)
		switch i % 3 {
		case 1:
			fmt.Fprint(c, "POST /do HTTP/1.1\r\nHost: keeper\r\nContent-Le")
		case 2:
			fmt.Fprint(c, "POST /do HTTP/1.1\r\nHost: keeper\r\nContent-Length: 100\r\n\r\n{")
		}
	}
	for range 3 {
		a := dial(t, path)
		if o, err := a.Do(t.Context(), desks.Command(t, "go 1"), keeper.Line); err != nil || o.Err != nil {
			t.Errorf("beside them: %v %v", err, o.Err)
		}
	}
	// The first ones had to go.
	conns[0].SetReadDeadline(time.Now().Add(20 * time.Second))
	if _, err := conns[0].Read(make([]byte, 1)); err != io.EOF {
		t.Errorf("the first connection reads %v", err)
	}
	// Half a request is given up after a while.
	last := conns[len(conns)-1]
	last.SetReadDeadline(time.Now().Add(30 * time.Second))
	if _, err := io.ReadAll(last); err != nil {
		t.Errorf("half a request: %v", err)
	}
}

// Of events that nobody reads the connection ends.
func TestNobodyReads(t *testing.T) {
	t.Parallel()
	path, _ := serve(t)
	c, err := net.Dial("unix", path)
	if err != nil {
		t.Fatal(err)
	}
	defer c.Close()
	fmt.Fprint(c, "GET /events HTTP/1.1\r\nHost: keeper\r\n\r\n")
	a := dial(t, path)
	for end := time.Now().Add(40 * time.Second); ; {
		for i := range 40 {
			if o, err := a.Do(t.Context(), desks.Command(t, fmt.Sprint("go ", i%2+1)), keeper.Line); err != nil || o.Err != nil {
				t.Fatalf("beside it: %v %v", err, o.Err)
			}
		}
		// A write to it fails once the server has closed it.
		if _, err := c.Write([]byte("\r\n")); err != nil {
			return
		}
		if time.Now().After(end) {
			t.Fatal("the connection is still open")
		}
	}
}

// What a screen in another process has after each change is what the keeper has, and
// what it is told of a change is small.
func TestNewsAreChanges(t *testing.T) {
	path, _, k := served(t, keeper.Options{})
	ctx, cancel := context.WithCancel(t.Context())
	defer cancel()
	client := dial(t, path)
	news := client.Watch(ctx)
	u := <-news
	for _, line := range []string{
		"go 4", "carry 2", "send 3 of #11", "minimise", "restore of all", "rename Foyer", "add Annexe", "remove 2", "layout tabs",
		"pull B", "go 1", "plug B", "undo 3", "bare", "bare",
	} {
		here, err := k.Do(ctx, desks.Command(t, line), keeper.Screen)
		if err = errors.Join(err, here.Err); err != nil {
			t.Fatal(line, err)
		}
		for u.Serial < here.Serial {
			u = <-news
		}
		near := <-k.Watch(ctx)
		if u.Serial == near.Serial && !scene.Equal(u.Desk, near.Desk) {
			t.Errorf("after %s the copy is another desk", line)
		}
		for before, tried := (keeper.Outcome{}), false; !tried; {
			before, _ = k.Try(ctx, desks.Command(t, "maximise on of #21"))
			far, err := client.Try(ctx, desks.Command(t, "maximise on of #21"))
			if err = errors.Join(err, far.Err); err != nil {
				t.Fatal(line, err)
			}
			near, _ := k.Try(ctx, desks.Command(t, "maximise on of #21"))
			// Desks tell since when a window has the focus: a second may have passed.
			if tried = scene.Equal(before.Desk, near.Desk); tried && !scene.Equal(far.Desk, near.Desk) {
				t.Errorf("after %s, what is tried leads to another desk there", line)
			}
		}
	}
}

// News that do not follow on those before have the whole asked for anew.
func TestGap(t *testing.T) {
	d := desks.Demo(t)
	var whole strings.Builder
	if err := scene.Write(&whole, d); err != nil {
		t.Fatal(err)
	}
	whole2 := strings.ReplaceAll(strings.TrimSpace(whole.String()), "\n", "\ndata: ")
	path := filepath.Join(closed(t), "gap.sock")
	l := listenAt(t, path)
	var asked atomic.Int32
	mux := http.NewServeMux()
	mux.HandleFunc("GET /events", func(w http.ResponseWriter, r *http.Request) {
		n := asked.Add(1)
		w.Header().Set("Zatlas-Protocol", remote.Version)
		fmt.Fprintf(w, "id: %d\nevent: key\ndata: {\"born\":1,\"words\":\"whole %d\"}\ndata: %s\n\n", 10*n, n, whole2)
		fmt.Fprintf(w, "id: 99\nevent: key\ndata: {\"born\":1,\"from\":98}\ndata: {\"format\":\"zealous-atlas/change/1\"}\n\n")
		http.NewResponseController(w).Flush()
		<-r.Context().Done()
	})
	server := &http.Server{Handler: mux}
	go server.Serve(l)
	t.Cleanup(func() { server.Close() })
	ctx, cancel := context.WithTimeout(t.Context(), 20*time.Second)
	defer cancel()
	news := dial(t, path).Watch(ctx)
	for _, want := range []string{"whole 1", "whole 2", "whole 3"} {
		if u := <-news; u.Words != want || u.Desk == nil {
			t.Fatalf("the news are %q, want %q", u.Words, want)
		}
	}
}

// slow is a keeper that takes longer for a command than a connection may for its request.
type slow struct {
	keeper.Access
	time  time.Duration
	comes func() // is called when a command has come
}

func (s slow) Do(ctx context.Context, c desk.Command, source keeper.Source) (keeper.Outcome, error) {
	s.comes()
	select {
	case <-time.After(s.time):
		return s.Access.Do(ctx, c, source)
	case <-ctx.Done():
		return keeper.Outcome{}, ctx.Err()
	}
}

// A command is answered however long it takes.
func TestSlowCommand(t *testing.T) {
	t.Parallel()
	_, _, k := served(t, keeper.Options{})
	path := filepath.Join(t.TempDir(), "run", "slow.sock")
	s, err := remote.Listen(path, slow{k, 6 * time.Second, func() {}}, slog.New(slog.DiscardHandler))
	if err != nil {
		t.Fatal(err)
	}
	go s.Serve()
	t.Cleanup(func() { s.Close() })
	if o, err := dial(t, path).Do(t.Context(), desks.Command(t, "go 2"), keeper.Line); err != nil || o.Err != nil {
		t.Errorf("a command that takes its time: %v, %v", err, o.Err)
	}
}

// A command with a name goes on when nobody waits for it, and is asked about again.
func TestNamedCommand(t *testing.T) {
	t.Parallel()
	_, _, k := served(t, keeper.Options{})
	path := filepath.Join(t.TempDir(), "run", "slow.sock")
	came := make(chan bool, 10)
	s, err := remote.Listen(path, slow{k, time.Second, func() { came <- true }}, slog.New(slog.DiscardHandler))
	if err != nil {
		t.Fatal(err)
	}
	go s.Serve()
	t.Cleanup(func() { s.Close() })
	c := dial(t, path)
	for name, line := range map[string]string{"one": "rename 1 Foyer", "two": "send 99"} {
		ctx, cancel := context.WithCancel(t.Context())
		go func() { <-came; cancel() }()
		command := desks.Command(t, line)
		if o, err := c.DoNamed(ctx, command, name); err == nil {
			t.Fatalf("%s was answered at once: %v", line, o)
		}
		for range 2 {
			o, err := c.Done(t.Context(), name)
			if err != nil || (o.Err == nil) != (name == "one") || name == "one" && (!strings.Contains(o.Result.Words, "Foyer") || o.Serial == 0) {
				t.Errorf("%s is told as %+v, %v", line, o, err)
			}
		}
		if o, err := c.DoNamed(t.Context(), command, name); err != nil || o.Err == nil {
			t.Errorf("a name is taken twice: %v, %v", o, err)
		}
	}
	if o, err := c.Done(t.Context(), "four"); err != nil || o.Err == nil || !strings.Contains(o.Err.Error(), "not arrived") {
		t.Errorf("a name that nobody gave: %+v, %v", o, err)
	}
	if o, err := c.DoNamed(t.Context(), desks.Command(t, "go 1"), strings.Repeat("x", 65)); err != nil || o.Err == nil {
		t.Errorf("a name that is too long: %v, %v", o, err)
	}
}

// A socket that somebody removed, with its folder or without, is made again.
func TestSocketIsMadeAgain(t *testing.T) {
	t.Parallel()
	path, _, _ := served(t, keeper.Options{})
	for _, remove := range []func() error{func() error { return os.Remove(path) }, func() error { return os.RemoveAll(filepath.Dir(path)) }} {
		c := dial(t, path)
		if err := remove(); err != nil {
			t.Fatal(err)
		}
		testkit.Until(t, "it is there again", func() bool { _, err := remote.Dial(path); return err == nil })
		if err := c.Ping(t.Context()); err != nil {
			t.Error(err)
		}
		if info, err := os.Stat(path); err != nil || info.Mode().Perm() != 0o600 {
			t.Errorf("its mode is %v, %v", info.Mode(), err)
		}
	}
}

// However many are told the news, commands are answered.
func TestManyWatch(t *testing.T) {
	t.Parallel()
	path, _, _ := served(t, keeper.Options{})
	c := dial(t, path)
	refused := 0
	for range 300 {
		u := <-dial(t, path).Watch(t.Context())
		if u.Err != nil {
			refused++
			if !strings.Contains(u.Err.Error(), "are told the news already") {
				t.Fatal(u.Err)
			}
		}
	}
	if refused == 0 || refused > 100 {
		t.Errorf("of 300 %d are refused", refused)
	}
	for range 20 {
		if o, err := c.Do(t.Context(), desks.Command(t, "go 1"), keeper.Line); err != nil || o.Err != nil {
			t.Fatal(err, o.Err)
		}
	}
}
