package display

import (
	"errors"
	"fmt"
	"time"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/screensaver"
	"github.com/jezek/xgb/xproto"
)

// Idle asks a display how long nothing was typed and the pointer stood still, by the
// extension MIT-SCREEN-SAVER, over a connection of its own: the keeper's own waits for
// no answer that is not about windows.
type Idle struct {
	conn *xgb.Conn
	root xproto.Window
}

// NewIdle connects to the display of that name, in the form of $DISPLAY.
func NewIdle(name string) (*Idle, error) {
	conn, _, err := Connect(Name(name))
	if err != nil {
		return nil, err
	}
	if _, ok := Extension(conn, "MIT-SCREEN-SAVER"); !ok {
		conn.Close()
		return nil, errors.New("the X server is without MIT-SCREEN-SAVER")
	}
	return &Idle{conn, xproto.Setup(conn).DefaultScreen(conn).Root}, nil
}

// Time is how long it is.
func (i *Idle) Time() (time.Duration, error) {
	r, err := screensaver.QueryInfo(i.conn, xproto.Drawable(i.root)).Reply()
	if err != nil {
		return 0, fmt.Errorf("asking how long nothing was typed: %w", err)
	}
	return time.Duration(r.MsSinceUserInput) * time.Millisecond, nil
}

// Close closes the connection.
func (i *Idle) Close() { i.conn.Close() }
