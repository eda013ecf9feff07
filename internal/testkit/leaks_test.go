package testkit

import (
	"strings"
	"testing"
)

func TestMain(m *testing.M) { Main(m) }

// A goroutine that is left is found, and one that ended is not.
func TestLeaks(t *testing.T) {
	hold := make(chan bool)
	go func() { <-hold }()
	if !Soon(func() bool { return strings.Contains(strings.Join(leaks(), "\n"), "TestLeaks") }) {
		t.Errorf("it is not among %q", leaks())
	}
	close(hold)
	Until(t, "it is gone", func() bool { return len(leaks()) <= 1 }) // the test runner waits
}
