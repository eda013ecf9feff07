package x11

import (
	"bytes"
	"log/slog"
	"sync"
	"sync/atomic"
	"time"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/xproto"

	"zatlas/internal/desk"
	"zatlas/internal/scene"
)

// rememberEvery is how long a desk that was written on the root stays there at least:
// of those that come meanwhile the last is written.
const rememberEvery = 50 * time.Millisecond

// memory writes the desk on the root for a later keeper, in a goroutine: with thousands of
// windows that takes longer than everything else a command does.
type memory struct {
	conn     *xgb.Conn
	log      *slog.Logger
	on       property
	text     xproto.Atom
	wanted   chan *desk.Desk // of one place: the last one counts
	ending   chan struct{}   // closed by end
	once     sync.Once
	ended    chan struct{}
	requests atomic.Int64 // that changed the property and have not been told by written
	scenes   scene.Writer
}

func newMemory(h *Host) *memory {
	m := &memory{
		conn: h.conn, log: h.log, on: property{h.root, h.atoms[aDesk]}, text: h.atoms[aUTF8],
		wanted: make(chan *desk.Desk, 1), ending: make(chan struct{}), ended: make(chan struct{}),
	}
	go m.run()
	return m
}

// remember has a desk written soon. It never waits.
func (m *memory) remember(d *desk.Desk) {
	select {
	case <-m.wanted: // one that is older
	default:
	}
	m.wanted <- d
}

// written is how often the property was changed since the last call.
func (m *memory) written() int { return int(m.requests.Swap(0)) }

// end writes what waits, where the display is still there, and ends. It may be called
// again.
func (m *memory) end(there bool) {
	if !there {
		select {
		case <-m.wanted:
		default:
		}
	}
	m.once.Do(func() { close(m.ending) })
	<-m.ended
}

func (m *memory) run() {
	defer close(m.ended)
	for {
		select {
		case d := <-m.wanted:
			m.write(d)
		case <-m.ending:
			select {
			case d := <-m.wanted:
				m.write(d)
			default:
			}
			return
		}
		select {
		case <-time.After(rememberEvery):
		case <-m.ending:
		}
	}
}

func (m *memory) write(d *desk.Desk) {
	var b bytes.Buffer
	if err := m.scenes.Write(&b, d); err != nil {
		m.log.Error("the desk could not be written down", "error", err.Error())
		return
	}
	// A request holds at most 256 KiB; a property cut off in the middle is
	// read as none.
	const part = 200 << 10
	mode := byte(xproto.PropModeReplace)
	for data := b.Bytes(); len(data) > 0; mode = xproto.PropModeAppend {
		n := min(len(data), part)
		m.requests.Add(1)
		xproto.ChangeProperty(m.conn, mode, m.on.window, m.on.atom, m.text, 8, uint32(n), data[:n])
		data = data[n:]
	}
}
