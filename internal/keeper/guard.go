package keeper

import (
	"fmt"
	"log/slog"
	"runtime"
	"runtime/debug"
)

// Guard runs what must not end a keeper by a mistake of ours. It logs each fault
// once, and goes on.
type Guard struct {
	log  *slog.Logger
	told map[string]bool
}

// NewGuard makes a guard that writes to a log.
func NewGuard(log *slog.Logger) *Guard { return &Guard{log: log, told: map[string]bool{}} }

// maxTold bounds the faults that are known to have been logged.
const maxTold = 1000

// Run runs f, and tells whether it came to its end. What says in the log what
// was being done.
func (g *Guard) Run(what string, f func()) (ok bool) {
	defer func() {
		cause := recover()
		if cause == nil {
			return
		}
		// The same way to the same place is the same fault, whatever it says.
		var way [16]uintptr
		key := fmt.Sprint(what, way[:runtime.Callers(0, way[:])])
		if g.told[key] {
			return
		}
		if len(g.told) >= maxTold {
			clear(g.told)
		}
		g.told[key] = true
		g.log.Error("a fault inside, and it goes on", "doing", what, "fault", cause, "stack", string(debug.Stack()))
	}()
	f()
	return true
}
