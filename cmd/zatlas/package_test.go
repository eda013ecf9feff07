//go:build package

package main

import (
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"zatlas/internal/testkit"
)

// The Debian package that PACKAGE names, in a clean root with nothing but what it
// declares: the session starts the keeper on a display, the atlas window comes up by its
// chord, and nothing of it is left when it is purged.
func TestPackage(t *testing.T) {
	t.Parallel()
	deb := os.Getenv("PACKAGE")
	if deb == "" {
		t.Fatal("PACKAGE names no package: make package makes one and runs this")
	}
	root := t.TempDir()
	site, suite, _ := strings.Cut(strings.Fields(testkit.Run(t, nil, "sh", "-c", "apt-get indextargets --format '$(SITE),$(RELEASE)'"))[0], ",")
	testkit.Run(t, nil, "debootstrap", "--variant=minbase", suite, root, site)
	testkit.Run(t, nil, "cp", deb, filepath.Join(root, "zatlas.deb"))
	// What is mounted in the root is so for each command alone: nothing that goes wrong
	// here can reach what is outside it.
	const enter = `mount --rbind /dev "$0/dev" && mount -t proc proc "$0/proc" && mkdir -p "$0/tmp/.X11-unix" &&
		mount --bind /tmp/.X11-unix "$0/tmp/.X11-unix" && exec chroot "$@"`
	inside := func(user string, command ...string) []string {
		words := []string{"--mount", "sh", "-c", enter, root}
		if user != "" {
			words = append(words, "--userspec="+user+":"+user)
		}
		return append(append(words, root), command...)
	}
	asRoot := func(command string) string {
		t.Helper()
		return testkit.Run(t, []string{"DEBIAN_FRONTEND=noninteractive", "LC_ALL=C"}, "unshare", inside("", "sh", "-c", command)...)
	}
	asRoot("apt-get update -q && apt-get install -qy /zatlas.deb && useradd --create-home --user-group visitor")
	for file := range strings.Lines(asRoot("dpkg -L zealous-atlas")) {
		if _, err := os.Lstat(filepath.Join(root, strings.TrimSpace(file))); err != nil {
			t.Errorf("the package has a file that was not installed: %v", err)
		}
	}
	// The session is started as the entry for display managers says.
	entry, err := os.ReadFile(filepath.Join(root, "usr/share/xsessions/zealous-atlas.desktop"))
	_, after, _ := strings.Cut(string(entry), "\nExec=")
	session, _, _ := strings.Cut(after, "\n")
	if err != nil || session == "" {
		t.Fatalf("the entry of the session: %v\n%s", err, entry)
	}
	s := testkit.NewServer(t)
	env := []string{"env", "-i", "HOME=/home/visitor", "USER=visitor", "PATH=/usr/local/bin:/usr/bin:/bin", "DISPLAY=" + s.Display}
	asVisitor := func(command ...string) (string, error) {
		out, err := exec.Command("unshare", inside("visitor", append(env, command...)...)...).CombinedOutput()
		return string(out), err
	}
	keeper := testkit.Spawn(t, nil, "unshare", inside("visitor", append(env, session)...)...)
	testkit.Until(t, "the keeper answers", func() bool { _, err := asVisitor("zatlas", "line"); return err == nil })
	if out, err := asVisitor("zatlas", "do", `run xterm -T "Running order"`); err != nil {
		t.Fatalf("%v\n%s", err, out)
	}
	testkit.Until(t, "a window is on the desk", func() bool {
		out, _ := asVisitor("zatlas", "list", "title:=\"Running order\"")
		return strings.Contains(out, "A1")
	})
	if out, err := asVisitor("zatlas", "doctor"); err != nil || !strings.Contains(out, "xterm, with DejaVu Sans Mono") {
		t.Errorf("doctor: %v\n%s", err, out)
	}
	x := s.NewX(t)
	x.Press(testkit.Super, testkit.Space)
	testkit.Until(t, "the atlas window is up and drawn", func() bool {
		out, _ := testkit.TryRun(s.Env, "xwininfo", "-root", "-tree")
		for line := range strings.Lines(out) {
			if window := strings.Fields(line); strings.Contains(line, `"Zealous Atlas [`) {
				return s.Seen(window[0]) && x.HasColour(window[0], 0xd9a441)
			}
		}
		return false
	})
	if out, err := asVisitor("zatlas", "do", "end"); err != nil {
		t.Errorf("end: %v\n%s", err, out)
	}
	if status, printed := keeper.End(); status != 0 {
		t.Errorf("the session ended with %d: %s", status, printed)
	}
	log, err := os.ReadFile(filepath.Join(root, "home/visitor/.local/state/zealous-atlas/session.log"))
	if err != nil || !strings.Contains(string(log), "the keeper was ended") {
		t.Errorf("the log of the session: %v\n%s", err, log)
	}
	asRoot("apt-get purge -qy zealous-atlas && rm /zatlas.deb")
	if left := asRoot("find / -xdev -path /proc -prune -o -path /dev -prune -o -path /home -prune -o -path '/var/log/*' -prune -o " +
		"\\( -iname '*zatlas*' -o -iname '*zealous*' \\) -print"); left != "" {
		t.Errorf("after it was purged there is still\n%s", left)
	}
}
