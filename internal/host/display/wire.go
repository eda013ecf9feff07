// Package display is a connection to an X display, and how what other programs have
// there is read: monitors, docks, what windows say of themselves. Hosts are made of it.
package display

import (
	"bufio"
	"encoding/binary"
	"errors"
	"fmt"
	"io"
	"net"
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"time"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/file"
)

// Name is a display's name, that of $DISPLAY where it is empty.
func Name(name string) string {
	if name == "" {
		return os.Getenv("DISPLAY")
	}
	return name
}

// address is what a display's name stands for.
type address struct {
	network, path  string // as net.Dial takes them
	host           string // empty for this machine
	number, screen int
}

var displayForm = sync.OnceValue(func() *regexp.Regexp {
	return regexp.MustCompile(`^(?:(tcp|unix)/)?([^\s\pC]*):([0-9]{1,5})(?:\.([0-9]{1,3}))?$`)
})

// parseDisplay reads a display's name: [HOST]:NUMBER[.SCREEN], or the path of a
// socket before the number.
func parseDisplay(name string) (address, error) {
	m := displayForm().FindStringSubmatch(name)
	if m == nil {
		return address{}, fmt.Errorf("no X display answers to %q, which names no display: they are written as :0, :0.1 or HOST:0", name)
	}
	a := address{host: m[2]}
	a.number, _ = strconv.Atoi(m[3]) // digits, by the form
	a.screen, _ = strconv.Atoi(m[4])
	switch {
	case strings.HasPrefix(a.host, "/"):
		a.network, a.path, a.host = "unix", a.host+":"+m[3], ""
	case m[1] == "unix" || a.host == "" && m[1] == "" || a.host == "unix":
		a.network, a.path, a.host = "unix", "/tmp/.X11-unix/X"+strconv.Itoa(a.number), ""
	default:
		a.network, a.path = "tcp", net.JoinHostPort(a.host, strconv.Itoa(6000+a.number))
	}
	return a, nil
}

// answerTime is how long a server may take to let us in.
const answerTime = 10 * time.Second

// Connect opens a connection to the display of that name, in the form of
// $DISPLAY. What the server says passes through a wire.
func Connect(name string) (*xgb.Conn, *Wire, error) {
	a, err := parseDisplay(name)
	if err != nil {
		return nil, nil, err
	}
	xgb.Logger.SetOutput(io.Discard) // it would write over the screens
	under, err := net.DialTimeout(a.network, a.path, answerTime)
	if err != nil {
		return nil, nil, fmt.Errorf("no X display answers at %s: %w", name, plain(err))
	}
	under.SetDeadline(time.Now().Add(answerTime))
	w := newWire(under, a)
	conn, err := xgb.NewConnNet(w)
	if err != nil {
		under.Close()
		var late net.Error
		if errors.As(err, &late) && late.Timeout() {
			err = fmt.Errorf("its server does not answer within %v", answerTime)
		}
		return nil, nil, fmt.Errorf("the X display %s lets nobody in: %w", name, err)
	}
	under.SetDeadline(time.Time{})
	conn.DisplayNumber, conn.DefaultScreen = a.number, a.screen
	if n := len(xproto.Setup(conn).Roots); a.screen >= n {
		conn.Close()
		return nil, nil, fmt.Errorf("the X display %s has no screen %d: they are numbered 0 to %d", name, a.screen, n-1)
	}
	return conn, w, nil
}

// plain is an error of the network without the addresses, which the sentence
// around it names already.
func plain(err error) error {
	var op *net.OpError
	if errors.As(err, &op) {
		return op.Err
	}
	return err
}

// Wire stands between the X library and the server. It tells what the server says from what
// another client made up by SendEvent. The library does not, and any client may send any event
// to the root.
//
// Of events made up it lets through those that conventions ask for: messages;
// requests to be configured (ICCCM 4.1.5), and notices of being unmapped, by
// which a client withdraws its window (4.1.4). The latter arrive with no
// window in Event, so that they are never taken for the server's.
//
// The library keeps one table of the events and errors of extensions for all
// connections of a process, and writes to it while they read. So it is never told
// of any: the wire turns what an extension sends into what the protocol itself has.
type Wire struct {
	net.Conn
	in    *bufio.Reader
	hello []byte // goes out in the place of what the library would begin with
	met   bool   // the server's answer to that is being handed out
	head  []byte // what is left of the message being handed out
	body  int64  // how many bytes of it are still to be read

	mu      sync.Mutex
	noting  bool     // from Note to Forget
	answers [][]byte // where the library has those that came meanwhile

	screens  atomic.Pointer[screens] // nil until these are asked for
	keyboard atomic.Uint32           // the event of the keyboard's extension; 0 until it is asked for
	damage   atomic.Uint32           // the event of DAMAGE, the same
	saver    atomic.Uint32           // the event of MIT-SCREEN-SAVER, the same
	shape    atomic.Uint32           // the event of SHAPE, the same
}

// screens says by which events the server tells that monitors have changed: the
// number of the first of the two that RandR has. They come as a ConfigureNotify of
// the root, which tells of the root's own size otherwise.
type screens struct {
	first byte
	root  xproto.Window
}

// Extension asks for an extension, so that requests of it can be sent.
func Extension(conn *xgb.Conn, name string) (first byte, ok bool) {
	reply, err := xproto.QueryExtension(conn, uint16(len(name)), name).Reply()
	if err != nil || !reply.Present {
		return 0, false
	}
	conn.ExtLock.Lock()
	defer conn.ExtLock.Unlock()
	conn.Extensions[name] = reply.MajorOpcode
	return reply.FirstEvent, true
}

// TellScreens has it told when monitors change, by the first of RandR's events: as a
// ConfigureNotify of the root.
func (w *Wire) TellScreens(first byte, root xproto.Window) { w.screens.Store(&screens{first, root}) }

// TellKeyboard has it told when there is another keyboard, by the event of the
// keyboard's extension: as a MappingNotify.
func (w *Wire) TellKeyboard(event byte) { w.keyboard.Store(uint32(event)) }

// TellDamage has it told what is drawn in windows, by the event of DAMAGE: as an Expose of them.
func (w *Wire) TellDamage(event byte) { w.damage.Store(uint32(event)) }

// TellSaver has it told when the screen saver comes and goes, by the event of its extension: as
// a VisibilityNotify of the root, with the saver's state.
func (w *Wire) TellSaver(event byte) { w.saver.Store(uint32(event)) }

// TellShape has it told when windows have another shape, by the event of SHAPE: as a
// GravityNotify of them.
func (w *Wire) TellShape(event byte) { w.shape.Store(uint32(event)) }

// turned is an event of an extension as one of the protocol itself; false where it is none that
// was asked for.
func (w *Wire) turned(b []byte) bool {
	switch kind := b[0]; {
	case uint32(kind) == w.keyboard.Load(): // another keyboard, or another map of it
		b[0], b[1] = xproto.MappingNotify, 0
		return true
	case uint32(kind) == w.damage.Load(): // the window is where an Expose has it
		b[0], b[1] = xproto.Expose, 0
		return true
	case uint32(kind) == w.shape.Load():
		copy(b[8:12], b[4:8])
		b[0], b[1] = xproto.GravityNotify, 0
		return true
	case uint32(kind) == w.saver.Load():
		copy(b[4:8], b[8:12])
		b[0], b[8] = xproto.VisibilityNotify, b[1]
		return true
	}
	s := w.screens.Load()
	if s == nil || b[0] != s.first && b[0] != s.first+1 {
		return false
	}
	clear(b[4:])
	b[0] = xproto.ConfigureNotify
	binary.LittleEndian.PutUint32(b[4:], uint32(s.root))
	binary.LittleEndian.PutUint32(b[8:], uint32(s.root))
	return true
}

func newWire(c net.Conn, a address) *Wire {
	return &Wire{Conn: c, in: bufio.NewReaderSize(c, readerSize), hello: hello(a)}
}

// readerSize is the size in bytes of the buffer that is read into.
const readerSize = 16 << 10

// Write sends what the library says.
func (w *Wire) Write(p []byte) (int, error) {
	if w.hello == nil {
		return w.Conn.Write(p)
	}
	// The library reads the authority of a display by name only.
	said := w.hello
	w.hello = nil
	if _, err := w.Conn.Write(said); err != nil {
		return 0, err
	}
	return len(p), nil
}

// Read hands out what the server says.
func (w *Wire) Read(p []byte) (int, error) {
	for len(w.head) == 0 && w.body == 0 {
		if err := w.next(); err != nil {
			return 0, err
		}
	}
	if len(w.head) > 0 {
		n := copy(p, w.head)
		w.head = w.head[n:]
		return n, nil
	}
	n, err := w.pass(p[:min(int64(len(p)), w.body)])
	w.body -= int64(n)
	return n, err
}

// pass hands out a part of a long answer, and keeps nothing of it.
func (w *Wire) pass(p []byte) (n int, err error) {
	if there := min(w.in.Buffered(), len(p)); there > 0 {
		b, _ := w.in.Peek(there) // the reader's own
		n = copy(p, b)
		clear(b)
		w.in.Discard(n)
	} else {
		n, err = w.Conn.Read(p)
	}
	w.mu.Lock()
	if w.noting {
		w.answers = append(w.answers, p[:n])
	}
	w.mu.Unlock()
	return n, err
}

// Note has it remembered from now on where the library keeps long answers.
func (w *Wire) Note() {
	w.mu.Lock()
	w.noting = true
	w.mu.Unlock()
}

// Forget overwrites the long answers that have come since Note, and ends that. The library has
// copied them, and leaves them to the collector, which may leave them as they are for long; they
// may be pictures of what must be forgotten. It is called while nobody waits for one.
func (w *Wire) Forget() {
	w.mu.Lock()
	for _, b := range w.answers {
		clear(b)
	}
	w.noting, w.answers = false, nil
	w.mu.Unlock()
}

// The kinds of messages of a server, by their first byte. Bit 7 of an event
// tells that a client sent it.
const (
	kindError   = 0
	kindReply   = 1
	kindGeneric = 35
	firstExtra  = 64  // of the events of extensions
	firstFault  = 128 // of their errors, by the second byte
	sentBit     = 0x80
)

// next reads the beginning of the next message that is to be handed out.
func (w *Wire) next() error {
	if !w.met {
		w.met = true
		b := make([]byte, 8)
		if _, err := io.ReadFull(w.in, b); err != nil {
			return err
		}
		w.head, w.body = b, 4*int64(binary.LittleEndian.Uint16(b[6:]))
		return nil
	}
	b := make([]byte, 32)
	if _, err := io.ReadFull(w.in, b); err != nil {
		return err
	}
	long := 4 * int64(binary.LittleEndian.Uint32(b[4:]))
	switch kind := b[0] &^ sentBit; {
	case b[0] == kindError:
		if b[1] >= firstFault {
			b[1] = xproto.BadImplementation
		}
	case b[0] == kindReply:
		w.body = long
	case kind == kindGeneric: // of extensions that were not asked for
		_, err := io.CopyN(io.Discard, w.in, long)
		return err
	case b[0]&sentBit == 0 && kind >= firstExtra:
		if !w.turned(b) {
			return nil
		}
	case b[0]&sentBit == 0:
	case kind == xproto.ClientMessage, kind == xproto.ConfigureRequest:
	case kind == xproto.UnmapNotify:
		clear(b[4:8])
	default:
		return nil
	}
	w.head = b
	return nil
}

// Families of addresses in an authority file.
const (
	familyInternet  = 0
	familyInternet6 = 6
	familyLocal     = 256
	familyWild      = 65535
)

const cookieName = "MIT-MAGIC-COOKIE-1"

// hello is how a client begins (X protocol, section 8), with the cookie of the
// user's authority file where that has one for the display.
func hello(a address) []byte {
	name, cookie := "", authority(a)
	if cookie != nil {
		name = cookieName
	}
	b := []byte{'l', 0}
	for _, n := range []int{11, 0, len(name), len(cookie), 0} {
		b = binary.LittleEndian.AppendUint16(b, uint16(n))
	}
	for _, s := range [][]byte{[]byte(name), cookie} {
		b = append(b, s...)
		b = append(b, make([]byte, (4-len(s)%4)%4)...)
	}
	return b
}

// maxAuthority is the most that is read of an authority file, in bytes.
const maxAuthority = 1 << 20

// authority is the cookie for a display; nil where none is known.
func authority(a address) []byte {
	path := os.Getenv("XAUTHORITY")
	if home := os.Getenv("HOME"); path == "" && home != "" {
		path = filepath.Join(home, ".Xauthority")
	}
	data, err := file.Read(path, maxAuthority)
	if err != nil {
		return nil // a server that asks for none lets us in
	}
	host, _ := os.Hostname()
	return findCookie(data, a, host)
}

// findCookie finds the cookie for a display in an authority file. Host is this
// machine's name.
func findCookie(data []byte, a address, host string) []byte {
	var family uint16
	field := func() []byte {
		if len(data) < 2 || len(data)-2 < int(binary.BigEndian.Uint16(data)) {
			data = nil
			return nil
		}
		n := int(binary.BigEndian.Uint16(data))
		f := data[2 : 2+n]
		data = data[2+n:]
		return f
	}
	for len(data) >= 2 {
		family, data = binary.BigEndian.Uint16(data), data[2:]
		where, number, name, cookie := field(), string(field()), string(field()), field()
		fits := family == familyWild
		switch family {
		case familyLocal:
			fits = string(where) == host && (a.host == "" || a.host == "localhost")
		case familyInternet, familyInternet6:
			fits = a.host != "" && net.IP(where).String() == a.host
		}
		if fits && (number == "" || number == strconv.Itoa(a.number)) && name == cookieName && len(cookie) > 0 {
			return cookie
		}
	}
	return nil
}
