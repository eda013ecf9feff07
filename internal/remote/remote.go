// Package remote lets screens and commands of other processes reach a keeper:
// HTTP and JSON over a Unix socket that only its own user can open, with
// snapshots of the desk as server-sent events.
package remote

import (
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"syscall"
)

// Folder is where the sockets of a user's keepers are: in $XDG_RUNTIME_DIR,
// else in the folder for temporary files under the user's number.
func Folder() string {
	if dir := os.Getenv("XDG_RUNTIME_DIR"); dir != "" {
		return filepath.Join(dir, "zealous-atlas")
	}
	return filepath.Join(os.TempDir(), fmt.Sprintf("zealous-atlas-%d", os.Getuid()))
}

var notPlain = regexp.MustCompile(`[^A-Za-z0-9.]+`)

// SocketPath is the socket of the keeper of a display, as in $DISPLAY. The
// number of a screen makes no difference.
func SocketPath(display string) string {
	host, number, _ := strings.Cut(display, ":")
	number, _, _ = strings.Cut(number, ".")
	return filepath.Join(Folder(), "display-"+notPlain.ReplaceAllString(host+"-"+number, "-")+".sock")
}

// makeFolder makes the folder, which must be ours and closed to all others.
func makeFolder(dir string) error {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return err
	}
	info, err := os.Lstat(dir)
	if err != nil {
		return err
	}
	st, ok := info.Sys().(*syscall.Stat_t)
	if !info.IsDir() || !ok || int(st.Uid) != os.Getuid() {
		return fmt.Errorf("%s is not a folder of this user's own", dir)
	}
	if info.Mode().Perm() != 0o700 {
		return os.Chmod(dir, 0o700)
	}
	return nil
}

// ErrNoKeeper is the error where no keeper answers.
var ErrNoKeeper = errors.New("no keeper runs on this display")

// ErrTaken is the error where a keeper answers on a socket already.
var ErrTaken = errors.New("a keeper answers already")

// gone tells whether an error of a connection means that nobody listens.
func gone(err error) bool {
	return errors.Is(err, fs.ErrNotExist) || errors.Is(err, syscall.ECONNREFUSED)
}

// The messages, as JSON.
type (
	doRequest struct {
		Command string `json:"command"`
		Source  string `json:"source"`
		// Dry asks only what the command would do.
		Dry bool `json:"dry,omitempty"`
		// Hand is the use of a mode that the command belongs to, 0 for none.
		Hand int64 `json:"hand,omitempty"`
	}
	// logLine is a line of the logbook. Back is the command that leads to it,
	// empty where that is here; Gone says that none does.
	logLine struct {
		At     int64  `json:"at"` // milliseconds since 1970
		Source string `json:"source"`
		Words  string `json:"words"`
		Back   string `json:"back,omitempty"`
		Gone   bool   `json:"gone,omitempty"`
	}
	// newsHead is what an update says besides the desk.
	newsHead struct {
		Words   string `json:"words,omitempty"`
		Undo    string `json:"undo,omitempty"`
		Redo    string `json:"redo,omitempty"`
		Reloads int    `json:"reloads,omitempty"`
		Screen  string `json:"screen,omitempty"`
		Asked   int    `json:"asked,omitempty"`
	}
	doReply struct {
		Words string `json:"words,omitempty"`
		Goes  bool   `json:"goes,omitempty"`
		// Windows are the ids of those the command was about.
		Windows   []int `json:"windows,omitempty"`
		Workspace int   `json:"workspace,omitempty"`
		Serial    int   `json:"serial,omitempty"`
		// Error is why the command failed, and Fault says that its words
		// could not be read.
		Error string `json:"error,omitempty"`
		// Desk is, of a command only tried, the desk as it would be: a scene.
		Desk  json.RawMessage `json:"desk,omitempty"`
		Fault bool            `json:"fault,omitempty"`
	}
)
