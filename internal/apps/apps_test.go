package apps

import (
	"os"
	"path/filepath"
	"reflect"
	"slices"
	"strings"
	"testing"
	"time"
)

func TestCommandLine(t *testing.T) {
	for _, c := range []struct {
		line string
		want []string // nil where it is at fault
	}{
		{"hall-plan", []string{"hall-plan"}},
		{"/usr/bin/hall-plan  --seats   400", []string{"/usr/bin/hall-plan", "--seats", "400"}},
		{"hall-plan %f", []string{"hall-plan"}}, {"hall-plan %F", []string{"hall-plan"}}, {"hall-plan %u", []string{"hall-plan"}}, {"hall-plan %U", []string{"hall-plan"}},
		{"hall-plan %d %D %n %N %v %m", []string{"hall-plan"}},
		{"hall-plan %i", []string{"hall-plan", "--icon", "plan-icon"}},
		{"hall-plan --name=%c --from=%k", []string{"hall-plan", "--name=Hall Plan", "--from=/a b/plan.desktop"}},
		{"hall-plan 100%%", []string{"hall-plan", "100%"}},
		{"hall-plan --file=%f", []string{"hall-plan", "--file="}},
		{`hall-plan "a b" ""`, []string{"hall-plan", "a b", ""}},
		{`hall-plan "say \"hi\" \$HOME \` + "`" + ` \\"`, []string{"hall-plan", "say \"hi\" $HOME ` \\"}},
		{`hall-plan "50%% of"`, []string{"hall-plan", "50% of"}},
		{`"/opt/hall plan/run" --x`, []string{"/opt/hall plan/run", "--x"}},
		{"hall-plan ~/x", []string{"hall-plan", "~/x"}}, // as it stands: no shell reads it
		{"", nil}, {"  ", nil}, {`""`, nil}, {"%f", nil},
		{`hall-plan "open`, nil}, {`hall-plan "a"b`, nil}, {`hall-plan "$HOME"`, nil}, {`hall-plan "%f"`, nil}, {"hall-plan `x`", nil},
		{"hall-plan %", nil}, {"hall-plan %q", nil}, {"hall-plan; rm", nil}, {"hall-plan | less", nil}, {"hall-plan $(x)", nil}, {"hall-plan > out", nil},
		{"bin/hall-plan", nil}, {"A=b hall-plan", nil},
	} {
		got, err := Command(c.line, "Hall Plan", "plan-icon", "/a b/plan.desktop")
		if (err != nil) != (c.want == nil) || c.want != nil && !reflect.DeepEqual(got, c.want) {
			t.Errorf("%q gives %q, %v; want %q", c.line, got, err, c.want)
		}
	}
	if got, _ := Command("hall-plan %i", "n", "", ""); !reflect.DeepEqual(got, []string{"hall-plan"}) {
		t.Errorf("without an icon: %q", got)
	}
}

func TestParse(t *testing.T) {
	const head = "# a comment\n[Desktop Entry]\nType=Application\nName=Hall Plan\nName[de]=Saalplan\nName[de_AT]=Saalplan AT\nName[sr@latin]=Sala\nExec=hall-plan\n"
	for _, c := range []struct{ locale, want string }{
		{"", "Hall Plan"}, {"C", "Hall Plan"}, {"de", "Saalplan"}, {"de_DE.UTF-8", "Saalplan"}, {"de_AT.UTF-8@euro", "Saalplan AT"},
		{"sr_RS@latin", "Sala"}, {"sr", "Hall Plan"},
	} {
		if app, err := Parse([]byte(head), "", c.locale, ""); err != nil || app.Name != c.want {
			t.Errorf("in %q its name is %q, %v", c.locale, app.Name, err)
		}
	}
	for _, c := range []struct {
		more   string
		hidden bool
	}{
		{"NoDisplay=true\n", true}, {"Hidden=true\n", true}, {"NoDisplay=false\n", false}, {"TryExec=/none/such\n", true}, {"TryExec=sh\n", false},
		{"OnlyShowIn=Quill;Atlas;\n", false}, {"OnlyShowIn=Quill;\n", true}, {"NotShowIn=Atlas;\n", true}, {"NotShowIn=Quill;\n", false},
		{"[Desktop Action New]\nName=Other\nNoDisplay=true\n", false},
	} {
		if app, err := Parse([]byte(head+c.more), "", "", "Atlas:Other"); err != nil || app.Hidden != c.hidden || app.Name != "Hall Plan" {
			t.Errorf("%q: %+v, %v", c.more, app, err)
		}
	}
	for _, text := range []string{
		"", "Name=x\n", "[Desktop Action]\nName=x\n", "[Desktop Entry\nName=x\n", "[Desktop Entry]\nName\n",
		"[Desktop Entry]\nType=Link\nName=x\nURL=y\n", "[Desktop Entry]\nType=Application\nExec=x\n", "[Desktop Entry]\nType=Application\nName=x\n",
		"[Desktop Entry]\nType=Application\nName=x\nName=y\nExec=x\n", "[Desktop Entry]\nType=Application\nName=\xff\nExec=x\n",
	} {
		if app, err := Parse([]byte(text), "", "", ""); err == nil {
			t.Errorf("%q is read as %+v", text, app)
		}
	}
	app, err := Parse([]byte("[Desktop Entry]\nType=Application\nName=A\\sB\nExec=x\nPath=/tmp/a\\\\b\nTerminal=true\nStartupWMClass=Plan\n"), "", "", "")
	if err != nil || app.Name != "A B" || app.Dir != `/tmp/a\b` || !app.Terminal || !app.Runs("plan") || app.Runs("") {
		t.Errorf("%+v, %v", app, err)
	}
}

func TestInstalled(t *testing.T) {
	mine, all := t.TempDir(), t.TempDir()
	put := func(dir, name, text string) {
		path := filepath.Join(dir, "applications", name)
		os.MkdirAll(filepath.Dir(path), 0o700)
		if err := os.WriteFile(path, []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	entry := func(name, more string) string {
		return "[Desktop Entry]\nType=Application\nName=" + name + "\nExec=true\n" + more
	}
	put(all, "plan.desktop", entry("Hall Plan", ""))
	put(all, "sub/till.desktop", entry("Ticket Till", ""))
	put(all, "radio.desktop", entry("Tin Radio", ""))
	put(all, "bad.desktop", "[Desktop Entry\n")
	put(all, "big.desktop", entry("Big", strings.Repeat("#", maxFile)))
	put(all, "notes.txt", entry("Notes", ""))
	put(mine, "plan.desktop", entry("My Plan", ""))
	put(mine, "radio.desktop", entry("Tin Radio", "Hidden=true\n"))
	env := map[string]string{"XDG_DATA_HOME": mine, "XDG_DATA_DIRS": "relative:" + all + ":/none/such"}
	var got []string
	x := Index{Getenv: func(k string) string { return env[k] }}
	if err := x.Renew(t.Context()); err != nil {
		t.Fatal(err)
	}
	for _, a := range x.Installed().Apps {
		got = append(got, a.ID+"="+a.Name)
	}
	if want := []string{"plan=My Plan", "sub-till=Ticket Till"}; !slices.Equal(got, want) {
		t.Errorf("installed are %v, want %v", got, want)
	}
	env = map[string]string{"HOME": "/home/me"}
	if got := Folders(func(k string) string { return env[k] }); !slices.Equal(got, []string{"/home/me/.local/share/applications", "/usr/local/share/applications", "/usr/share/applications"}) {
		t.Errorf("the usual folders are %v", got)
	}
}

func TestRank(t *testing.T) {
	names := []string{"Screening Times", "Hall Plan", "Trailer Cutter", "Ticket Till", "Tin Radio", "Poster Board", "Print Traffic"}
	now := time.Now()
	for _, c := range []struct {
		typed  string
		chosen map[string]Choice
		want   string // the best
		n      int    // how many fit
	}{
		{"hall plan", nil, "Hall Plan", 1},
		{"t", nil, "Trailer Cutter", 6},
		{"ti", nil, "Ticket Till", 5},
		{"ti", map[string]Choice{"Tin Radio": {5, now}}, "Tin Radio", 5},
		{"ti", map[string]Choice{"Screening Times": {9, now}}, "Ticket Till", 5},
		{"ti", map[string]Choice{"Tin Radio": {30, now.Add(-100 * 7 * 24 * time.Hour)}, "Ticket Till": {3, now}}, "Ticket Till", 5},
		{"cut", nil, "Trailer Cutter", 1}, {"pbd", nil, "Poster Board", 1}, {"zz", nil, "", 0}, {"tra pri", nil, "Print Traffic", 1},
	} {
		got := Rank(names, c.typed, c.chosen, now)
		if len(got) != c.n || c.n > 0 && got[0] != c.want {
			t.Errorf("%q gives %v, want %q first of %d", c.typed, got, c.want, c.n)
		}
	}
}

func FuzzParse(f *testing.F) {
	f.Add("[Desktop Entry]\nType=Application\nName=x\nName[de]=y\nExec=\"a b\" %U %i\nTerminal=true\n", "de_AT.UTF-8@x")
	f.Add("[Desktop Entry]\nType=Application\nName=x\nExec=%%\\\\\n[", "")
	f.Fuzz(func(t *testing.T, text, locale string) {
		app, err := Parse([]byte(text), "/p", locale, "A:B")
		if err == nil && !app.Hidden && (app.Name == "" || len(app.Command) == 0 || app.Command[0] == "") {
			t.Errorf("%q is read as %+v", text, app)
		}
	})
}

// A command is parted as a shell parts it, and what is not closed is faulted.
func TestWords(t *testing.T) {
	for line, want := range map[string][]string{
		"": nil, " a  b\tc\n": {"a", "b", "c"}, `'a b' "c d"`: {"a b", "c d"}, `a\ b`: {"a b"}, `"a\"b" 'c\d'`: {`a"b`, `c\d`}, `x ''`: {"x", ""}, `a'b'"c"`: {"abc"},
	} {
		if got, err := Words(line); err != nil || !slices.Equal(got, want) {
			t.Errorf("%q is %q, %v, want %q", line, got, err, want)
		}
	}
	for _, line := range []string{`a "b`, `a 'b`, `a "`, `a\`} {
		if got, err := Words(line); err == nil {
			t.Errorf("%q is %q", line, got)
		}
	}
}
