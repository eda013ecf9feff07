package survey

import (
	"fmt"
	"regexp"
	"strconv"
	"sync"
	"time"
)

var agoForm = sync.OnceValue(func() *regexp.Regexp { return regexp.MustCompile(`^([1-9][0-9]{0,5})([mhd])$`) })

// ParseSince reads a day, or how long ago something was.
func ParseSince(text string, now time.Time) (time.Time, error) {
	if day, err := time.ParseInLocation(time.DateOnly, text, now.Location()); err == nil {
		return day, nil
	}
	m := agoForm().FindStringSubmatch(text)
	if m == nil {
		return now, fmt.Errorf("%q is no day such as 2026-11-20 and no while such as 30m, 2h or 3d", text)
	}
	n, _ := strconv.Atoi(m[1]) // digits, by the form
	if m[2] == "d" {
		return now.AddDate(0, 0, -n), nil
	}
	return now.Add(-time.Duration(n) * map[string]time.Duration{"m": time.Minute, "h": time.Hour}[m[2]]), nil
}
