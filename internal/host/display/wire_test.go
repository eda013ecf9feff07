package display

import (
	"bytes"
	"encoding/binary"
	"io"
	"net"
	"strings"
	"testing"

	"github.com/jezek/xgb/xproto"
)

func TestParseDisplay(t *testing.T) {
	for name, want := range map[string]address{
		":0":             {network: "unix", path: "/tmp/.X11-unix/X0"},
		":12.3":          {network: "unix", path: "/tmp/.X11-unix/X12", number: 12, screen: 3},
		"unix:1":         {network: "unix", path: "/tmp/.X11-unix/X1", number: 1},
		"unix/foyer:1":   {network: "unix", path: "/tmp/.X11-unix/X1", number: 1},
		"foyer:2.1":      {network: "tcp", path: "foyer:6002", host: "foyer", number: 2, screen: 1},
		"tcp/foyer:0":    {network: "tcp", path: "foyer:6000", host: "foyer"},
		"/run/foyer/x:7": {network: "unix", path: "/run/foyer/x:7", number: 7},
	} {
		if got, err := parseDisplay(name); err != nil || got != want {
			t.Errorf("%q is read as %+v, %v", name, got, err)
		}
	}
	for _, name := range []string{"", "0", ":", ":x", ":0.", ":-1", ":0 ", " :0", "a b:0", "a\x1b:0", ":0.1.2"} {
		if got, err := parseDisplay(name); err == nil {
			t.Errorf("%q is read as %+v", name, got)
		}
	}
}

// entry is an entry of an authority file.
func entry(family uint16, fields ...string) []byte {
	b := binary.BigEndian.AppendUint16(nil, family)
	for _, f := range fields {
		b = append(binary.BigEndian.AppendUint16(b, uint16(len(f))), f...)
	}
	return b
}

func TestFindCookie(t *testing.T) {
	data := bytes.Join([][]byte{
		entry(familyLocal, "foyer", "0", "OTHER-1", "no"), entry(familyLocal, "foyer", "0", cookieName, "first"),
		entry(familyLocal, "annexe", "0", cookieName, "annexe's"), entry(familyInternet, "\x0a\x00\x00\x07", "1", cookieName, "by number"),
		entry(familyWild, "", "3", cookieName, "for all"),
	}, nil)
	for _, c := range []struct {
		a    address
		want string
	}{
		{address{}, "first"}, {address{number: 3}, "for all"}, {address{number: 2}, ""}, {address{host: "10.0.0.7", number: 1}, "by number"},
		{address{host: "10.0.0.8", number: 1}, ""}, {address{host: "localhost"}, "first"},
	} {
		if got := findCookie(data, c.a, "foyer"); string(got) != c.want {
			t.Errorf("for %+v it is %q, want %q", c.a, got, c.want)
		}
	}
	for n := range data {
		findCookie(data[:n], address{number: 99}, "foyer") // ends, whatever is cut off
	}
}

// stream is a connection on which a server has said something.
type stream struct {
	net.Conn
	io.Reader
}

func (s stream) Read(p []byte) (int, error) { return s.Reader.Read(p) }

// message is one of 32 bytes and more.
func message(code byte, fill byte, more int) []byte {
	b := bytes.Repeat([]byte{fill}, 32+more)
	b[0] = code
	binary.LittleEndian.PutUint32(b[4:], uint32(more/4))
	return b
}

func TestWireLetsThrough(t *testing.T) {
	setup := []byte{1, 0, 11, 0, 0, 0, 1, 0, 'x', 'y', 'z', 'w'}
	said := [][]byte{
		setup, message(xproto.KeyPress, 1, 0), message(1, 2, 8), message(0, 3, 0), message(xproto.ClientMessage|sentBit, 4, 0),
		message(xproto.ConfigureRequest|sentBit, 5, 0), message(xproto.UnmapNotify, 6, 0),
	}
	dropped := [][]byte{
		message(xproto.DestroyNotify|sentBit, 7, 0), message(kindGeneric, 8, 12), message(kindGeneric|sentBit, 8, 0), message(xproto.SelectionClear|sentBit, 9, 0),
		message(xproto.KeyPress|sentBit, 9, 0), message(xproto.MapRequest|sentBit, 9, 0),
	}
	withdrawn := message(xproto.UnmapNotify|sentBit, 10, 0)
	in := bytes.Join([][]byte{said[0], dropped[0], bytes.Join(said[1:], nil), bytes.Join(dropped, nil), withdrawn, dropped[1]}, nil)
	got, err := io.ReadAll(newWire(stream{Reader: bytes.NewReader(in)}, address{}))
	clear(withdrawn[4:8])
	want := append(bytes.Join(said, nil), withdrawn...)
	if err != nil || !bytes.Equal(got, want) {
		t.Errorf("through come\n%v, %v, and not\n%v", got, err, want)
	}
}

// What extensions send comes as what the library knows by itself.
func TestWireTurnsExtensions(t *testing.T) {
	setup := []byte{1, 0, 11, 0, 0, 0, 0, 0}
	fault := message(kindError, 152, 0)
	drawn, saved, shaped := message(70, 1, 0), message(71, 1, 0), message(72, 1, 0)
	saved[8] = 2
	in := bytes.Join([][]byte{setup, fault, message(89, 7, 0), message(90, 7, 0), message(91, 7, 0), message(89|sentBit, 7, 0), drawn, saved, shaped}, nil)
	w := newWire(stream{Reader: bytes.NewReader(in)}, address{})
	w.TellDamage(70)
	w.TellSaver(71)
	w.TellShape(72)
	w.screens.Store(&screens{first: 89, root: 0x102})
	got, err := io.ReadAll(w)
	fault[1] = xproto.BadImplementation
	change := make([]byte, 32)
	copy(change, []byte{xproto.ConfigureNotify, 7, 7, 7, 2, 1, 0, 0, 2, 1})
	drawn[0], drawn[1] = xproto.Expose, 0
	copy(saved[4:8], saved[8:12])
	saved[0], saved[8] = xproto.VisibilityNotify, 1
	copy(shaped[8:12], shaped[4:8])
	shaped[0], shaped[1] = xproto.GravityNotify, 0
	if want := bytes.Join([][]byte{setup, fault, change, change, drawn, saved, shaped}, nil); err != nil || !bytes.Equal(got, want) {
		t.Errorf("through come\n%v, %v, and not\n%v", got, err, want)
	}
}

// Whatever comes, the wire ends with it, and lets through no made-up event that
// is none of those allowed.
func FuzzWire(f *testing.F) {
	setup := "\x01\x00\x0b\x00\x00\x00\x01\x00abcd"
	f.Add([]byte(setup + strings.Repeat("\x92", 64)))
	f.Add(append([]byte(setup), message(1, 0xff, 4)...))
	f.Add(append([]byte(setup), message(kindGeneric, 0, 40)...))
	f.Fuzz(func(t *testing.T, in []byte) {
		w := newWire(stream{Reader: bytes.NewReader(in)}, address{})
		head := make([]byte, 8)
		if _, err := io.ReadFull(w, head); err != nil {
			return
		}
		if _, err := io.CopyN(io.Discard, w, 4*int64(binary.LittleEndian.Uint16(head[6:]))); err != nil {
			return
		}
		for b := make([]byte, 32); ; {
			if _, err := io.ReadFull(w, b); err != nil {
				return
			}
			switch kind := b[0] &^ sentBit; {
			case b[0] == kindReply:
				if _, err := io.CopyN(io.Discard, w, 4*int64(binary.LittleEndian.Uint32(b[4:]))); err != nil {
					return
				}
			case kind == kindGeneric:
				t.Errorf("a generic event comes through")
			case b[0]&sentBit != 0 && kind != xproto.ClientMessage && kind != xproto.ConfigureRequest && kind != xproto.UnmapNotify:
				t.Errorf("a made-up event of code %d comes through", kind)
			}
		}
	})
}
