package display

import (
	"errors"
	"fmt"
	"time"

	"github.com/jezek/xgb"
	"github.com/jezek/xgb/screensaver"
	"github.com/jezek/xgb/xproto"
)

// Idle asks a display for how long nothing was typed and the pointer stood still (MIT-SCREEN-
// SAVER). It has a connection of its own, since the keeper's never waits for an answer that is
// not about windows.
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
