package standards

import (
	"os"
	"strings"
	"testing"

	_ "zatlas/internal/host/x11" // so that a change of it has this run again
	_ "zatlas/internal/keeper"
	"zatlas/internal/testkit"
)

func TestMain(m *testing.M) { testkit.Main(m) }

// Every clause holds with the keeper.
func TestKeeper(t *testing.T) {
	t.Parallel()
	s := testkit.NewServer(t)
	s.Keeper(t)
	p, err := NewProbe(s.Display)
	if err != nil {
		t.Fatal(err)
	}
	defer p.Close()
	all := append(ICCCM(), EWMH()...)
	if len(all) < 150 {
		t.Errorf("there are %d clauses", len(all))
	}
	only := os.Getenv("CLAUSE")
	failed := 0
	for _, c := range all {
		if !strings.Contains(c.Number+" "+c.Says, only) {
			continue
		}
		if seen := p.Try(c); seen != "" {
			failed++
			t.Errorf("%s %s: %s", c.Number, c.Says, seen)
		}
	}
	if only == "" {
		for _, a := range p.cards(p.root, "_NET_SUPPORTED") {
			if name := p.name(a); !p.tried(name) {
				t.Errorf("%s is in _NET_SUPPORTED, and no clause tries it", name)
			}
		}
	}
	t.Logf("%d of %d clauses hold", len(all)-failed, len(all))
}
