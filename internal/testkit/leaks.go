package testkit

import (
	"fmt"
	"os"
	"runtime"
	"strings"
	"testing"
)

// Main runs a package's tests, removes the program that Binary built for them, and fails if
// goroutines of this program are left. It is TestMain of every package that starts some.
func Main(m *testing.M) {
	status := m.Run()
	if built != "" {
		os.RemoveAll(built)
	}
	var left []string
	if status == 0 && !Soon(func() bool { left = leaks(); return len(left) == 0 }) {
		fmt.Fprintf(os.Stderr, "%d goroutines are left after the tests:\n\n%s\n", len(left), strings.Join(left, "\n\n"))
		status = 1
	}
	os.Exit(status)
}

// leaks are the stacks of other goroutines that run, or were started by, code of
// this program.
func leaks() []string {
	stacks := make([]byte, 4<<20)
	stacks = stacks[:runtime.Stack(stacks, true)]
	var left []string
	for i, stack := range strings.Split(string(stacks), "\n\n") {
		if i > 0 && strings.Contains(stack, "zatlas/") && !strings.Contains(stack, "signal.") {
			left = append(left, stack)
		}
	}
	return left
}
