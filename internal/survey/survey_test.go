package survey

import (
	"bytes"
	"fmt"
	"reflect"
	"slices"
	"strings"
	"testing"
	"time"

	"zatlas/internal/desk"
	"zatlas/internal/testkit/desks"
)

// zone is one with summer time: on 29 March 2026 02:00 becomes 03:00, on 25 October
// 03:00 becomes 02:00.
func zone(t testing.TB) *time.Location {
	t.Helper()
	z, err := time.LoadLocation("Europe/Berlin")
	if err != nil {
		t.Fatal(err)
	}
	return z
}

// span reads "day hour:minute:second seconds place app", a place being 2Subtitles,
// or 2 where it has no name.
func span(t testing.TB, line string) Span {
	t.Helper()
	f := strings.Fields(line)
	at, err := time.ParseInLocation("2006-01-02 15:04:05", f[0]+" "+f[1], zone(t))
	if err != nil {
		t.Fatal(err)
	}
	var s Span
	if _, err := fmt.Sscan(f[2], &s.Seconds); err != nil {
		t.Fatal(err)
	}
	s.Start, s.Number, s.Workspace, s.Monitor, s.App = at, int(f[3][0]-'0'), f[3][1:], 'A', f[4]
	return s
}

func spansOf(t testing.TB, lines ...string) (all []Span) {
	t.Helper()
	for _, l := range lines {
		all = append(all, span(t, l))
	}
	return all
}

// figures are a report in one line: the seconds of each workspace, by those slots
// that have any, then the apps, then the switches.
func figures(r *Report) string {
	var b strings.Builder
	for _, s := range r.Slots {
		if sum(s.Seconds) > 0 {
			fmt.Fprintf(&b, "%s %v ", s.Label, s.Seconds)
		}
	}
	for _, w := range r.Workspaces {
		fmt.Fprintf(&b, "| %d %s %d ", w.Number, w.Label, w.Seconds)
	}
	for _, a := range r.Apps {
		fmt.Fprintf(&b, "| %s %d ", a.Label, a.Seconds)
	}
	fmt.Fprintf(&b, "| %d %v", r.Switched, r.Switches)
	return b.String()
}

func TestReport(t *testing.T) {
	for name, c := range map[string]struct {
		period Period
		day    string
		later  int
		spans  []string
		want   string
	}{
		"an hour is split": {Day, "2026-11-26", 0, []string{"2026-11-26 09:50:00 1200 1Programme Ledger"},
			"09 [600] 10 [600] | 1 Programme 1200 | Ledger 1200 | 0 [[0]]"},
		"over midnight, the day before": {Day, "2026-11-27", -1, []string{"2026-11-26 23:50:00 1500 2 Till"},
			"23 [600] | 2 2 600 | Till 600 | 0 [[0]]"},
		"over midnight, the day after": {Day, "2026-11-27", 0, []string{"2026-11-26 23:50:00 1500 2 Till"},
			"00 [900] | 2 2 900 | Till 900 | 0 [[0]]"},
		"over midnight, in the week": {Week, "2026-11-27", 0, []string{"2026-11-26 23:50:00 1500 2 Till"},
			"Thu 26 [600] Fri 27 [900] | 2 2 1500 | Till 1500 | 0 [[0]]"},
		"an hour that is not": {Day, "2026-03-29", 0, []string{"2026-03-29 01:30:00 3600 1A Ledger"},
			"01 [1800] 03 [1800] | 1 A 3600 | Ledger 3600 | 0 [[0]]"},
		"an hour twice": {Day, "2026-10-25", 0, []string{"2026-10-25 01:30:00 9000 1A Ledger"},
			"01 [1800] 02 [3600] 02 [3600] | 1 A 9000 | Ledger 9000 | 0 [[0]]"},
		"switches": {Day, "2026-11-26", 0, []string{
			"2026-11-26 09:00:00 60 1A X", "2026-11-26 09:01:30 60 2B Y", "2026-11-26 09:02:30 60 1A X", // a pause of half a minute
			"2026-11-26 09:04:30 60 2B Y",                                // one of a minute is too long
			"2026-11-26 09:05:30 60 2B Z", "2026-11-26 09:06:30 60 3 X"}, // on the same one; to one without a name
			"09 [120 180 60] | 1 A 120 | 2 B 180 | 3 3 60 | X 180 | Y 120 | Z 60 | 3 [[0 1 0] [1 0 1] [0 0 0]]"},
		"a workspace that was moved": {Week, "2026-11-26", 0, []string{"2026-11-25 09:00:00 60 1A X", "2026-11-26 09:00:00 60 2A X"},
			"Wed 25 [60] Thu 26 [60] | 2 A 120 | X 120 | 0 [[0]]"},
		"a clock set back": {Day, "2026-11-26", 0, []string{"2026-11-26 09:00:00 600 1A X", "2026-11-26 09:05:00 600 1A X"},
			"09 [1200] | 1 A 1200 | X 1200 | 0 [[0]]"},
		"four weeks": {Weeks, "2026-11-27", 0, []string{"2026-11-02 09:00:00 60 1A X", "2026-11-01 09:00:00 60 1A X", "2026-11-29 09:00:00 5 1A X"},
			"Mon 2 [60] Sun 29 [5] | 1 A 65 | X 65 | 0 [[0]]"},
		"nothing": {Weeks, "2026-11-27", -1, nil, "| 0 []"},
	} {
		at, _ := time.ParseInLocation(time.DateOnly, c.day, zone(t))
		d := Data{Spans: spansOf(t, c.spans...)}
		d.Sort()
		if got := figures(NewReport(d, c.period, at.Add(11*time.Hour), c.later)); got != c.want {
			t.Errorf("%s:\n%s\nwant\n%s", name, got, c.want)
		}
	}
}

func TestReportWords(t *testing.T) {
	at := time.Date(2026, 11, 26, 12, 0, 0, 0, time.UTC)
	d := Data{Spans: []Span{
		{at, 24000, 1, "Programme", 'A', "Ledger"}, {at.Add(24000 * time.Second), 60, 2, "Subtitles", 'A', "Bench"},
		{at.Add(24060 * time.Second), 60, 1, "Programme", 'A', "Ledger"},
	}, Tallies: []Tally{
		{"2026-11-26", Open, "12", 26}, {"2026-11-26", Open, "13", 31}, {"2026-11-26", Fullest, "13", 9}, {"2026-11-26", Found, "", 4}, {"2026-11-26", Rescued, "", 3},
		{"2026-11-26", Done, Pair("send", "key"), 12}, {"2026-11-26", Done, Pair("send", "chord"), 4}, {"2026-11-26", Done, Pair("go", "chord"), 9},
		{"2026-11-26", Switched, Pair("Programme", "Guests"), 5}, {"2026-11-25", Found, "", 50},
	}}
	r := NewReport(d, Day, at, 0)
	for _, c := range [][2]string{
		{r.Sentence(), "6 h 42 min in front of 2 apps; Programme 100%; 2 switches, 100% of them between 1 and 2."},
		{r.HoursWords(), "6 h 42 min in all; Programme 6 h 41 min; the most from 12 h on, 1 h."},
		{r.AppsWords(), "Ledger 6 h 41 min, 100%."},
		{r.SwitchWords(), "2 switches, 100% of them between 1 and 2; 5 with those passed on the way."},
		{r.CrowdWords(), "At most 31 windows open, from 13 h on; the fullest sheet had 9, from 13 h on."},
		{r.LostWords(), "4 windows were lost; 3 brought back by rescue."},
		{r.DoneWords(), "25 commands; send the most, 16 times; 52% by chord."},
		{r.Title(), "Thursday, 26 November 2026"},
		{NewReport(d, Week, at, 0).Title(), "Week 48, 23 November to 29 November 2026"},
		{NewReport(d, Week, at, 1).Sentence(), "Nothing is kept of this time."},
		{fmt.Sprint(r.Sources, r.Deeds), "[chord key] [{send 16 [4 12]} {go 9 [9 0]}]"},
	} {
		if c[0] != c[1] {
			t.Errorf("it says %q, want %q", c[0], c[1])
		}
	}
}

// What happens is a line: the time, then a focus as place and app, "-" for none;
// "key" for a key now; "still 7" for no key for so many minutes; "stop". Spans are
// told as they end.
func TestTracker(t *testing.T) {
	for name, c := range map[string][2]string{
		"one after another":   {"09:00:00 1A X; 09:01:00 1A X; 09:02:00 2B Y; 09:02:30 -; 09:04:00 stop", "09:00:00 120 1A X; 09:02:00 30 2B Y"},
		"less than a second":  {"09:00:00 1A X; 09:00:10 2B Y; 09:00:10 3 Z; 09:00:20 stop", "09:00:00 10 1A X; 09:00:10 10 3 Z"},
		"away":                {"09:00:00 1A X; 09:01:00 key; 09:05:00 still 4; 09:06:00 still 5; 09:30:00 still 29; 09:31:00 key; 09:32:00 stop", "09:00:00 60 1A X; 09:31:00 60 1A X"},
		"away, focus moves":   {"09:00:00 1A X; 09:01:00 key; 09:06:00 still 5; 09:07:00 2B Y; 09:08:00 still 7; 09:10:00 still 1; 09:11:00 stop", "09:00:00 60 1A X; 09:09:00 120 2B Y"},
		"the computer sleeps": {"09:00:00 1A X; 09:01:00 key; 13:00:00 key; 13:01:00 stop", "09:00:00 60 1A X; 13:00:00 60 1A X"},
		"the clock set back":  {"09:00:00 1A X; 09:02:00 key; 08:00:00 key; 08:01:00 stop", "09:00:00 120 1A X; 08:00:00 60 1A X"},
		"told a little late":  {"09:00:00 1A X; 09:01:01 key; 09:01:00 2B Y; 09:02:00 stop", "09:00:00 61 1A X; 09:01:01 59 2B Y"},
		"stopped":             {"09:00:00 1A X; 09:01:00 stop; 09:02:00 stop", "09:00:00 60 1A X"},
	} {
		tr := Tracker{Away: 5 * time.Minute}
		var ended []Span
		for _, event := range strings.Split(c[0], "; ") {
			f := strings.Fields(event)
			at, err := time.Parse(time.TimeOnly, f[0])
			if err != nil {
				t.Fatal(err)
			}
			switch f[1] {
			case "key":
				ended = append(ended, tr.Input(at, at)...)
			case "still":
				minutes, _ := time.ParseDuration(f[2] + "m")
				ended = append(ended, tr.Input(at, at.Add(-minutes))...)
			case "stop":
				ended = append(ended, tr.Stop(at)...)
			case "-":
				ended = append(ended, tr.Focus(at, Focus{})...)
			default:
				ended = append(ended, tr.Focus(at, Focus{int(f[1][0] - '0'), f[1][1:], 'A', f[2]})...)
			}
		}
		var got []string
		for _, s := range ended {
			got = append(got, fmt.Sprintf("%s %d %d%s %s", s.Start.Format(time.TimeOnly), s.Seconds, s.Number, s.Workspace, s.App))
		}
		if strings.Join(got, "; ") != c[1] {
			t.Errorf("%s:\n%s\nwant\n%s", name, strings.Join(got, "; "), c[1])
		}
	}
	tr := Tracker{Away: time.Hour}
	at := time.Unix(1000, 500)
	tr.Focus(at, Focus{1, "", 'A', "X"})
	if s, ok := tr.Now(at.Add(40 * time.Second)); !ok || s.Seconds != 40 || s.Start.Unix() != 1000 {
		t.Errorf("open is %+v, %v", s, ok)
	}
}

func TestFocusHasNoTitle(t *testing.T) {
	d := desks.Demo(t)
	if got, want := FocusOf(d), (Focus{1, "Programme", 'A', "Reel Ledger"}); got != want {
		t.Errorf("the focus is %+v, want %+v", got, want)
	}
	d, _ = d.With(desk.Changed{ID: d.Focus, Change: func(w *desk.Window) { w.App = "" }})
	if got := FocusOf(d); got.App != nameless {
		t.Errorf("an app without a name is called %q", got.App)
	}
}

func TestCSVRoundTrip(t *testing.T) {
	at := time.Date(2026, 11, 26, 9, 0, 0, 0, time.FixedZone("", 3600))
	spans := []Span{{at, 60, 1, "Box, office", 'A', `Reel "Ledger"`}, {at.Add(time.Minute), 0, 99, "", 'Z', "Ünïcode 日本"}}
	var b bytes.Buffer
	if err := WriteCSV(&b, spans); err != nil {
		t.Fatal(err)
	}
	want := "start,seconds,number,workspace,monitor,app\r\n2026-11-26T09:00:00+01:00,60,1,\"Box, office\",A,\"Reel \"\"Ledger\"\"\"\r\n2026-11-26T09:01:00+01:00,0,99,,Z,Ünïcode 日本\r\n"
	if b.String() != want {
		t.Errorf("written is\n%s\nwant\n%s", b.String(), want)
	}
	got, err := ReadCSV(strings.NewReader("\ufeff" + want))
	if err != nil || len(got) != 2 || !got[0].Start.Equal(at) || got[0].App != spans[0].App || got[1].App != spans[1].App {
		t.Errorf("read is %+v, %v", got, err)
	}
}

func TestCSVFaults(t *testing.T) {
	const good = "2026-11-26T09:00:00Z,60,1,Foyer,A,Ledger\n"
	for row, want := range map[string]string{
		"":                                      "line 1: the header start,seconds,number,workspace,monitor,app is missing",
		"start,seconds\n":                       "line 1: the header must be start,seconds,number,workspace,monitor,app",
		"H" + good + "2026,60,1,F,A,L\n":        `line 3: start "2026" is no time such as 2026-11-27T09:30:00+01:00`,
		"H2026-11-26T09:00:00Z,-1,1,F,A,L\n":    `line 2: seconds "-1" is no whole number from 0 to 31622400`,
		"H2026-11-26T09:00:00Z,1,0,F,A,L\n":     `line 2: number "0" is no whole number from 1 to 99`,
		"H2026-11-26T09:00:00Z,1,1,F,AB,L\n":    `line 2: monitor "AB" is no letter A to Z`,
		"H2026-11-26T09:00:00Z,1,1,F,A,\n":      "line 2: app is empty",
		"H2026-11-26T09:00:00Z,1,1,F,A\n":       "line 2: 5 fields, and 6 are wanted: start,seconds,number,workspace,monitor,app",
		"H2026-11-26T09:00:00Z,1,1,F,A,\"L\n":   "line 2: a quote that is not closed, or text after one",
		"H2026-11-26T09:00:00Z,1,1,F\"o,A,L\n":  "line 2: a quote within a field that does not begin with one",
		"H2026-11-26T09:00:00Z,1,1,\xff,A,L\n":  "line 2: workspace is too long, or no UTF-8",
		"H" + good + good + "\n\n" + good + "x": "line 7: 1 fields, and 6 are wanted: start,seconds,number,workspace,monitor,app",
	} {
		if spans, err := ReadCSV(strings.NewReader(strings.Replace(row, "H", strings.Join(header, ",")+"\n", 1))); err == nil || err.Error() != want || spans != nil {
			t.Errorf("%q: %v\nwant %s", row, err, want)
		}
	}
}

func FuzzCSV(f *testing.F) {
	f.Add([]byte("start,seconds,number,workspace,monitor,app\r\n2026-11-26T09:00:00+01:00,60,1,\"a,\nb\",A,\"x\"\"\"\r\n"))
	f.Add([]byte("\xef\xbb\xbfstart,seconds"))
	f.Fuzz(func(t *testing.T, in []byte) {
		spans, err := ReadCSV(bytes.NewReader(in))
		if err != nil {
			if !strings.HasPrefix(err.Error(), "line ") {
				t.Errorf("the fault has no line: %v", err)
			}
			return
		}
		var b bytes.Buffer
		if err := WriteCSV(&b, spans); err != nil {
			t.Fatal(err)
		}
		again, err := ReadCSV(&b)
		if err != nil || len(again) != len(spans) {
			t.Fatalf("what was written is read as %d of %d spans: %v", len(again), len(spans), err)
		}
		for i := range again {
			if again[i].App != spans[i].App || !again[i].Start.Equal(spans[i].Start) {
				t.Errorf("%+v comes back as %+v", spans[i], again[i])
			}
		}
	})
}

// The demo's use is the same for the same moment, and has its story.
func TestDemo(t *testing.T) {
	now := time.Date(2026, 11, 27, 16, 0, 0, 0, time.UTC)
	d := Demo(now)
	if !reflect.DeepEqual(d, Demo(now)) {
		t.Error("the same moment gives other data")
	}
	if !slices.IsSortedFunc(d.Spans, func(a, b Span) int { return a.Start.Compare(b.Start) }) {
		t.Error("the spans are not in order")
	}
	r := NewReport(d, Weeks, now, 0)
	pair := r.Switches[0][1] + r.Switches[1][0]
	if late := r.Workspaces[5]; late.Label != "Late night" || late.Seconds*100 > 5*r.Seconds || pair*100 < 30*r.Switched {
		t.Errorf("Late night has %d of %d seconds, and %d of %d switches are between 1 and 2", late.Seconds, r.Seconds, pair, r.Switched)
	}
	if r.Seconds < 80*3600 || r.Found == 0 || len(r.Deeds) < 5 || r.To.Before(now) {
		t.Errorf("of three weeks there are %s", r.Sentence())
	}
}
