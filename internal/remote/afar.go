package remote

import (
	"bytes"
	"cmp"
	"context"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"os"
	"os/exec"
	"regexp"
	"strings"
	"sync"
	"time"

	"zatlas/internal/desk"
	"zatlas/internal/keeper"
)

// Place is a desk on another machine: a host as ssh takes it, and a display there.
type Place struct{ Host, Display string }

var (
	hostForm = sync.OnceValue(func() *regexp.Regexp {
		return regexp.MustCompile(`^(?:[A-Za-z0-9_][A-Za-z0-9._-]*@)?[A-Za-z0-9_][A-Za-z0-9._-]*$`)
	})
	displayForm = sync.OnceValue(func() *regexp.Regexp { return regexp.MustCompile(`^:[0-9]{1,5}(?:\.[0-9]{1,3})?$`) })
)

// ParsePlace reads [USER@]HOST[:DISPLAY]; the display is :0 where none is named.
func ParsePlace(text string) (Place, error) {
	host, display, named := strings.Cut(text, ":")
	p := Place{host, ":0"}
	if named {
		p.Display = ":" + display
	}
	if !hostForm().MatchString(p.Host) {
		return Place{}, fmt.Errorf("%q names no machine: they are written as host, user@host or host:1", desk.CleanText(text, 80))
	}
	return p, CheckDisplay(p.Display)
}

// CheckDisplay faults what is not a display of the machine itself, as :0 or :0.1.
func CheckDisplay(name string) error {
	if !displayForm().MatchString(name) {
		return fmt.Errorf("%q is no display of a machine's own: they are written as :0 or :0.1", desk.CleanText(name, 80))
	}
	return nil
}

// String is the place as it is written.
func (p Place) String() string { return p.Host + p.Display }

// command is what reaches the desk there: nothing is asked by it, no password and no key.
func (p Place) command() []string {
	return []string{"ssh", "-o", "BatchMode=yes", "--", p.Host, "zatlas", "relay", p.Display}
}

// Afar reaches a keeper of another machine.
type Afar struct {
	*Client
	place Place
}

var _ keeper.Access = (*Afar)(nil)

// DialAfar finds the keeper at a place, and checks that it speaks our version of the
// protocol.
func DialAfar(ctx context.Context, p Place) (*Afar, error) {
	last := &lastWords{}
	dial := func(context.Context, string, string) (net.Conn, error) { return openPipe(p.command(), last) }
	a := &Afar{&Client{http: &http.Client{Transport: &http.Transport{DialContext: dial}}, why: last.because, capped: true}, p}
	ctx, cancel := context.WithTimeout(ctx, afarTime)
	defer cancel()
	if _, err := a.Desk(ctx); err != nil {
		return nil, fmt.Errorf("the desk of %s: %w", p, err)
	}
	return a, nil
}

// afarTime is how long a machine may take to answer at first.
const afarTime = 30 * time.Second

// Close ends the connections.
func (a *Afar) Close() { a.http.CloseIdleConnections() }

// notAfar are the verbs that are not for the machine that is looked at from here.
var notAfar = map[string]bool{"run": true, "pin": true, "reload": true, "end": true, "restart": true}

// refused is why a command is not for there; nil where it is.
func (a *Afar) refused(c desk.Command) error {
	if !notAfar[c.Verb] {
		return nil
	}
	return &keeper.Failure{Code: keeper.NotHere, Words: fmt.Sprintf("%s is not available on another machine's desk: do it there", c.Verb)}
}

// Do has the keeper there carry out a command.
func (a *Afar) Do(ctx context.Context, c desk.Command, source keeper.Source) (keeper.Outcome, error) {
	if err := a.refused(c); err != nil {
		return keeper.Outcome{Source: source, Err: err}, nil
	}
	return a.Client.Do(ctx, c, source)
}

// DoNamed has it carry out a command under a name.
func (a *Afar) DoNamed(ctx context.Context, c desk.Command, name string) (keeper.Outcome, error) {
	if err := a.refused(c); err != nil {
		return keeper.Outcome{Source: keeper.Line, Err: err}, nil
	}
	return a.Client.DoNamed(ctx, c, name)
}

// Try asks the keeper there what a command would do.
func (a *Afar) Try(ctx context.Context, c desk.Command) (keeper.Outcome, error) {
	if err := a.refused(c); err != nil {
		return keeper.Outcome{Source: keeper.Screen, Err: err}, nil
	}
	return a.Client.Try(ctx, c)
}

// errChords is the failure of what asks for chords.
var errChords error = &keeper.Failure{Code: keeper.NotHere, Words: "the chords of another machine's display are for its own keyboard"}

// Keys has no chords.
func (a *Afar) Keys(context.Context) ([]keeper.Key, error) { return nil, nil }

// Key has no chords.
func (a *Afar) Key(context.Context, keeper.KeyAsk) (keeper.Key, error) {
	return keeper.Key{}, errChords
}

// lastWords are what a program said last before it failed.
type lastWords struct {
	mu   sync.Mutex
	text []byte
}

// maxWords bounds what is kept of that, in bytes.
const maxWords = 4 << 10

// Write keeps the end of what is said.
func (l *lastWords) Write(p []byte) (int, error) {
	l.mu.Lock()
	defer l.mu.Unlock()
	l.text = append(l.text, p...)
	l.text = bytes.Clone(l.text[max(0, len(l.text)-maxWords):])
	return len(p), nil
}

// because is an error with the last line said.
func (l *lastWords) because(err error) error {
	l.mu.Lock()
	defer l.mu.Unlock()
	lines := strings.Split(strings.TrimSpace(string(l.text)), "\n")
	if line := clean(strings.TrimSpace(lines[len(lines)-1])); line != "" {
		return errors.New(strings.TrimSuffix(strings.TrimPrefix(line, "zatlas: "), "."))
	}
	return err
}

// pipe is a connection over the standard input and output of a program.
type pipe struct {
	in, out *os.File
	process *exec.Cmd
	once    sync.Once
	ended   chan struct{}
}

// openPipe starts a program to speak through.
func openPipe(command []string, said io.Writer) (net.Conn, error) {
	theirIn, in, err := os.Pipe()
	if err != nil {
		return nil, err
	}
	defer theirIn.Close()
	out, theirOut, err := os.Pipe()
	if err != nil {
		in.Close()
		return nil, err
	}
	defer theirOut.Close()
	p := &pipe{in: in, out: out, process: exec.Command(command[0], command[1:]...), ended: make(chan struct{})}
	p.process.Stdin, p.process.Stdout, p.process.Stderr = theirIn, theirOut, said
	if err := p.process.Start(); err != nil {
		in.Close()
		out.Close()
		return nil, fmt.Errorf("starting %s: %w", command[0], cmp.Or(errors.Unwrap(err), err))
	}
	go func() { p.process.Wait(); close(p.ended) }()
	return p, nil
}

func (p *pipe) Read(b []byte) (int, error)  { return p.out.Read(b) }
func (p *pipe) Write(b []byte) (int, error) { return p.in.Write(b) }

// Close ends the program.
func (p *pipe) Close() error {
	p.once.Do(func() {
		p.in.Close()
		p.out.Close()
		p.process.Process.Kill()
		<-p.ended
	})
	return nil
}

// pipeAddress says that a pipe has no address.
type pipeAddress struct{}

func (pipeAddress) Network() string { return "pipe" }
func (pipeAddress) String() string  { return "pipe" }

func (p *pipe) LocalAddr() net.Addr  { return pipeAddress{} }
func (p *pipe) RemoteAddr() net.Addr { return pipeAddress{} }
func (p *pipe) SetDeadline(t time.Time) error {
	return errors.Join(p.in.SetDeadline(t), p.out.SetDeadline(t))
}
func (p *pipe) SetReadDeadline(t time.Time) error  { return p.out.SetReadDeadline(t) }
func (p *pipe) SetWriteDeadline(t time.Time) error { return p.in.SetWriteDeadline(t) }

// Relay carries what is said on one end to the keeper at a socket, and back, until one of
// them has said all.
func Relay(ctx context.Context, path string, in io.Reader, out io.Writer) error {
	conn, err := reach(ctx, path)
	if err != nil {
		if gone(err) {
			return ErrNoKeeper
		}
		return fmt.Errorf("reaching the keeper: %w", err)
	}
	defer conn.Close()
	done := make(chan error, 2)
	go func() { _, err := io.Copy(conn, in); done <- err }()
	go func() { _, err := io.Copy(out, conn); done <- err }()
	select {
	case err = <-done:
	case <-ctx.Done():
	}
	return err
}
