package standards

import (
	"fmt"
	"strings"
)

// Undone is what of the standards the keeper does not do, and why.
var Undone = [][2]string{
	{"_NET_WM_STATE_SHADED, _NET_WM_ACTION_SHADE", "the keeper draws no title bars, so there is nothing to roll a window up to"},
	{"_NET_WM_SYNC_REQUEST", "a resize by the pointer already sends one request a frame; a slow client is drawn late but not torn"},
	{"_NET_DESKTOP_LAYOUT, _NET_DESKTOP_VIEWPORT with values, large desktops", "workspaces are a row in the user's order, each as large as its monitors"},
	{"_NET_VIRTUAL_ROOTS", "there is only one root"},
	{"_NET_WM_ICON_GEOMETRY, _NET_WM_HANDLED_ICONS, WM_ICON_SIZE", "only the screens show minimised windows"},
	{"_NET_WM_VISIBLE_NAME, _NET_WM_VISIBLE_ICON_NAME", "names are shown as they are, without control characters"},
	{"_NET_WM_FULL_PLACEMENT", "a program places its floating windows. One that opens out of reach is brought in, and rescue brings back one that moves there"},
	{"_NET_STARTUP_INFO_BEGIN from others", "the keeper sends these for the programs it starts; it needs none from others, and shows no busy pointer"},
	{"_NET_WM_CM_Sn, _NET_SYSTEM_TRAY_Sn", "other programs do compositing and the tray"},
	{"session management (ICCCM 5.2, WM_SAVE_YOURSELF)", "the keeper keeps the arrangement; programs keep their own state"},
	{"WM_COLORMAP_NOTIFY", "colormaps are installed with the focus"},
}

// Page is the clauses and what is not done, as a page of the documentation.
func Page() string {
	var b strings.Builder
	clauses := append(ICCCM(), EWMH()...)
	fmt.Fprintf(&b, `# The standards, clause by clause

These rows come from the *Inter-Client Communication Conventions Manual* 2.0 and the *Extended Window Manager Hints* 1.5.
`+"`go test ./internal/host/x11/standards`"+` tries each of them on a real X server, from outside: it knows nothing of the keeper.
All %d hold. `+"`make docs`"+` writes this page.

`, len(clauses))
	for _, part := range []struct {
		name    string
		clauses []Clause
	}{{"ICCCM 2.0", ICCCM()}, {"EWMH 1.5", EWMH()}} {
		fmt.Fprintf(&b, "## %s\n\n| section | what holds |\n| --- | --- |\n", part.name)
		for _, c := range part.clauses {
			fmt.Fprintf(&b, "| %s | %s |\n", c.Number, c.Says)
		}
		b.WriteString("\n")
	}
	b.WriteString("## Not done\n\n| what | why |\n| --- | --- |\n")
	for _, u := range Undone {
		fmt.Fprintf(&b, "| %s | %s |\n", u[0], u[1])
	}
	return b.String()
}
