package settings

import (
	"regexp"
	"strings"
	"testing"
)

// What a setting says is short: on its row a phrase of at most 60 letters, and where it is
// explained no sentence of over 25 words. One that is a figure with a unit names the unit.
func TestTextsOfSettings(t *testing.T) {
	sentence := regexp.MustCompile(`[.:;!?]\s`)
	for _, c := range Choices() {
		if n := len([]rune(c.Help)); n > 60 || n == 0 || strings.HasSuffix(c.Help, ".") || strings.ToUpper(c.Help[:1]) == c.Help[:1] {
			t.Errorf("%s: %q is no phrase of at most 60 letters", c.Name(), c.Help)
		}
		for _, s := range sentence.Split(c.About, -1) {
			if n := len(strings.Fields(s)); n > 25 {
				t.Errorf("%s: %d words in a sentence: %s", c.Name(), n, s)
			}
		}
		unit := strings.TrimSuffix(c.Unit, "s")
		if unit != "" && !strings.Contains(c.About, unit) && !strings.Contains(strings.ToLower(c.About), unit) {
			t.Errorf("%s: %q does not say that it is in %s", c.Name(), c.About, c.Unit)
		}
		for _, stale := range []string{"so long", "Whether ", "fewer than none", "stands for itself", "where it is not"} {
			if strings.Contains(c.Help+" "+c.About, stale) {
				t.Errorf("%s says %q: %s", c.Name(), stale, c.About)
			}
		}
	}
}
