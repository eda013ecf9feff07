package alongside_test

import (
	"testing"

	"zatlas/internal/testkit"
)

// No goroutine outlives the tests.
func TestMain(m *testing.M) { testkit.Main(m) }
