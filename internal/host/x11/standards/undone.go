package standards

import (
	"fmt"
	"strings"
)

// Undone is what of the standards the keeper does not do, and why.
var Undone = [][2]string{
	{"_NET_WM_STATE_SHADED, _NET_WM_ACTION_SHADE", "no title bars are drawn, and so there is nothing to roll a window up to"},
	{"_NET_WM_SYNC_REQUEST", "a resize by the pointer is one request a frame already; a client that is slow is drawn late, and not torn"},
	{"_NET_DESKTOP_LAYOUT, _NET_DESKTOP_VIEWPORT with values, large desktops", "workspaces are a row in the user's order, each as large as its monitors"},
	{"_NET_VIRTUAL_ROOTS", "windows are children of the root, and there is no other"},
	{"_NET_WM_ICON_GEOMETRY, _NET_WM_HANDLED_ICONS, WM_ICON_SIZE", "nothing is drawn of minimised windows outside of the screens"},
	{"_NET_WM_VISIBLE_NAME, _NET_WM_VISIBLE_ICON_NAME", "names are shown as they are, cleaned of what no terminal should see"},
	{"_NET_WM_FULL_PLACEMENT", "a program places its floating windows. One that opens out of reach is brought in, and rescue brings back one that moves there"},
	{"_NET_STARTUP_INFO_BEGIN from others", "what the keeper starts is told of; of what others start it needs nothing, and shows no busy pointer"},
	{"_NET_WM_CM_Sn, _NET_SYSTEM_TRAY_Sn", "compositing and the tray are other programs' work, and are left alone"},
	{"session management (ICCCM 5.2, WM_SAVE_YOURSELF)", "the arrangement is kept by the keeper, and programs are left to keep themselves"},
	{"WM_COLORMAP_NOTIFY", "colormaps are installed with the focus"},
}

// Page is the clauses and what is not done, as a page of the documentation.
func Page() string {
	var b strings.Builder
	clauses := append(ICCCM(), EWMH()...)
	fmt.Fprintf(&b, `# The standards, clause by clause

What the keeper is held to of the *Inter-Client Communication Conventions Manual* 2.0 and the *Extended Window Manager
Hints* 1.5, as seen from outside: each row is tried on a real X server by `+"`go test ./internal/host/x11/standards`"+`, which knows
nothing of the keeper. All %d hold. `+"`make docs`"+` writes this page.

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
