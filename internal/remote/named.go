package remote

import (
	"fmt"
	"net/http"
	"sync"

	"zatlas/internal/keeper"
)

// named are the answers to the commands that were given a name by who asked for them, so
// that they can ask again what became of one. The oldest are forgotten.
type named struct {
	mu     sync.Mutex
	answer map[string]*answer
	order  []string
}

// answer is what a command is answered, once it is.
type answer struct {
	known  chan struct{} // closed when the rest is
	status int
	reply  doReply
}

// maxNamed is how many commands with a name are remembered.
const maxNamed = 1000

// maxNameLength is how long a name may be, in bytes.
const maxNameLength = 64

// begin takes up a command with a name. The error is that of a name which is taken, or too
// long.
func (n *named) begin(name string) (*answer, error) {
	n.mu.Lock()
	defer n.mu.Unlock()
	switch {
	case len(name) > maxNameLength:
		return nil, &keeper.Failure{Code: keeper.Unreadable, Words: fmt.Sprintf("a name of a command has at most %d bytes", maxNameLength)}
	case n.answer[name] != nil:
		return nil, &keeper.Failure{Code: keeper.Refused, Words: "a command of that name was asked for already"}
	}
	if len(n.order) >= maxNamed {
		delete(n.answer, n.order[0])
		n.order = n.order[1:]
	}
	a := &answer{known: make(chan struct{})}
	n.answer[name], n.order = a, append(n.order, name)
	return a, nil
}

func (a *answer) is(status int, r doReply) {
	a.status, a.reply = status, r
	close(a.known)
}

// done answers what became of a command, as it was answered then. Where it goes on, that is
// waited for.
func (n *named) done(w http.ResponseWriter, r *http.Request) {
	n.mu.Lock()
	a := n.answer[r.FormValue("name")]
	n.mu.Unlock()
	if a == nil {
		reply(w, http.StatusConflict, failed(&keeper.Failure{Code: keeper.Refused, Words: "no command of that name is known here: it has not arrived, or the keeper has started since. zatlas log tells what was done"}))
		return
	}
	select {
	case <-a.known:
		reply(w, a.status, a.reply)
	case <-r.Context().Done():
	}
}
