package remote

import (
	"net"
	"net/http"
	"testing"
)

// A connection that had to go is told of once more by its own goroutine: that makes no
// other one go.
func TestGate(t *testing.T) {
	g := newGate(2)
	conn := func() (c net.Conn, open func() bool) {
		c, other := net.Pipe()
		t.Cleanup(func() { other.Close() })
		gone := make(chan bool)
		go func() { other.Read(make([]byte, 1)); close(gone) }()
		return c, func() bool {
			select {
			case <-gone:
				return false
			default:
				g.mu.Lock()
				defer g.mu.Unlock()
				_, is := g.open[c]
				return is
			}
		}
	}
	first, firstOpen := conn()
	second, secondOpen := conn()
	third, thirdOpen := conn()
	g.follow(first, http.StateNew)
	g.follow(second, http.StateNew)
	g.follow(third, http.StateNew)
	if firstOpen() || !secondOpen() || !thirdOpen() {
		t.Fatal("of three the first does not go")
	}
	g.follow(first, http.StateActive) // it had read a request by then
	g.follow(first, http.StateClosed)
	if !secondOpen() || !thirdOpen() {
		t.Error("one that is gone made another go")
	}
	g.follow(second, http.StateActive)
	g.follow(third, http.StateActive)
	fourth, fourthOpen := conn()
	if g.follow(fourth, http.StateNew); fourthOpen() || !secondOpen() || !thirdOpen() {
		t.Error("while all are answered another one does not have to go")
	}
	second.Close()
	third.Close()
}
