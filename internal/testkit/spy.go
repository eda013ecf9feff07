package testkit

import (
	bin "encoding/binary"
	"fmt"
	"io"
	"net"
	"path/filepath"
	"strings"
	"sync"
	"testing"

	"github.com/jezek/xgb/xproto"
)

// Spy stands between a display and the clients that are told its name, and keeps what
// they ask for that changes anything for others.
type Spy struct {
	Display string // the name by which the display is reached through it

	mu       sync.Mutex
	requests []string
}

// Spy begins to listen in on the server.
func (s *Server) Spy(t testing.TB) *Spy {
	t.Helper()
	dir := t.TempDir()
	l, err := net.Listen("unix", filepath.Join(dir, "x:7"))
	if err != nil {
		t.Fatal(err)
	}
	spy := &Spy{Display: filepath.Join(dir, "x:7")}
	var all sync.WaitGroup
	var mu sync.Mutex
	var open []net.Conn
	all.Go(func() {
		for {
			c, err := l.Accept()
			if err != nil {
				return
			}
			server, err := net.Dial("unix", "/tmp/.X11-unix/X"+strings.TrimPrefix(s.Display, ":"))
			if err != nil {
				c.Close()
				return
			}
			mu.Lock()
			open = append(open, c, server)
			mu.Unlock()
			all.Go(func() { io.Copy(c, server); c.Close() })
			all.Go(func() { spy.listen(io.TeeReader(c, server)); server.Close() })
		}
	})
	t.Cleanup(func() {
		l.Close()
		mu.Lock()
		for _, c := range open {
			c.Close()
		}
		mu.Unlock()
		all.Wait()
	})
	return spy
}

// listen reads what a client says (X protocol, sections 8 and 1).
func (s *Spy) listen(r io.Reader) {
	head := make([]byte, 12)
	if _, err := io.ReadFull(r, head); err != nil {
		return
	}
	pad := func(n uint16) int64 { return int64(n+3) &^ 3 }
	io.CopyN(io.Discard, r, pad(bin.LittleEndian.Uint16(head[6:]))+pad(bin.LittleEndian.Uint16(head[8:])))
	own := map[uint32]bool{} // windows that it has made, such as the one by which a late manager is asked
	for b := make([]byte, 4); ; {
		if _, err := io.ReadFull(r, b); err != nil {
			return
		}
		rest := make([]byte, 4*max(int(bin.LittleEndian.Uint16(b[2:])), 1)-4)
		if _, err := io.ReadFull(r, rest); err != nil {
			return
		}
		if said := telling(b[0], rest, own); said != "" {
			s.mu.Lock()
			s.requests = append(s.requests, said)
			s.mu.Unlock()
		}
	}
}

// harmless are the requests of the core by which a client only asks, or says what it wants
// to be told.
var harmless = map[byte]bool{
	3: true, 14: true, 15: true, 16: true, 17: true, 20: true, 21: true, 23: true, 38: true, 40: true, 43: true, 44: true, 97: true, 98: true, 99: true, 101: true, 103: true, 119: true, 127: true,
}

// telling is a request in words; empty where it changes nothing for others. A window that the
// client makes and places is its own, and is taken up as such.
func telling(op byte, rest []byte, own map[uint32]bool) string {
	at := func(i int) uint32 {
		if len(rest) < 4*i+4 {
			return 0
		}
		return bin.LittleEndian.Uint32(rest[4*i:])
	}
	switch {
	case harmless[op] || op >= 128: // of extensions: none is used to change anything
		return ""
	case op == 2 && at(1) == xproto.CwEventMask:
		const changes = xproto.EventMaskSubstructureRedirect | xproto.EventMaskResizeRedirect | xproto.EventMaskButtonPress
		if at(2)&changes == 0 {
			return ""
		}
	case op == 1:
		own[at(0)] = true
		return ""
	case op == 12 && own[at(0)]:
		return ""
	case op == 12:
		return fmt.Sprintf("configure %d", at(0))
	case op == 18:
		return fmt.Sprintf("property %d of %d", at(1), at(0))
	case op == 25:
		return fmt.Sprintf("event %d about %d", at(4), at(3))
	}
	return fmt.Sprintf("request %d about %d", op, at(0))
}

// Take gives what was asked for since the last call.
func (s *Spy) Take() []string {
	s.mu.Lock()
	defer s.mu.Unlock()
	r := s.requests
	s.requests = nil
	return r
}
