// Package remote lets screens and commands of other processes reach a keeper: by HTTP and JSON
// over a Unix socket that only its own user can open. Snapshots of the desk are server-sent
// events.
package remote

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"net"
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"sync"
	"syscall"

	"zatlas/internal/desk"
	"zatlas/internal/file"
	"zatlas/internal/keeper"
)

// Folder is where the sockets of a user's keepers are: in $XDG_RUNTIME_DIR,
// else in the folder of this program's state. It is empty where neither is known.
func Folder() string {
	if dir := os.Getenv("XDG_RUNTIME_DIR"); filepath.IsAbs(dir) {
		return filepath.Join(dir, "zealous-atlas")
	}
	dir := file.StateFolder()
	if dir == "" {
		return ""
	}
	return filepath.Join(dir, "run")
}

var notPlain = sync.OnceValue(func() *regexp.Regexp { return regexp.MustCompile(`[^A-Za-z0-9.]+`) })

// SocketPath is the socket of the keeper of a display, as in $DISPLAY. The
// number of a screen makes no difference.
func SocketPath(display string) string {
	host, number, _ := strings.Cut(display, ":")
	number, _, _ = strings.Cut(number, ".")
	folder := Folder()
	if folder == "" {
		return ""
	}
	return filepath.Join(folder, "display-"+notPlain().ReplaceAllString(host+"-"+number, "-")+".sock")
}

// makeFolder makes the folder, which must be ours and closed to all others.
func makeFolder(dir string) error {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return err
	}
	err := checkFolder(dir)
	if errors.Is(err, errOpen) {
		if err := os.Chmod(dir, 0o700); err != nil {
			return err
		}
		return checkFolder(dir)
	}
	return err
}

// errOpen is the fault of a folder that others may write to or look into.
var errOpen = errors.New("others have access to it")

// checkFolder tells whether a folder is ours and closed to all others.
func checkFolder(dir string) error {
	info, err := os.Lstat(dir)
	if err != nil {
		return err
	}
	st, ok := info.Sys().(*syscall.Stat_t)
	if !info.IsDir() || !ok || int(st.Uid) != os.Getuid() {
		return fmt.Errorf("%s is not a folder of this user's own", dir)
	}
	if info.Mode().Perm()&0o077 != 0 {
		return fmt.Errorf("%s is not trusted: %w", dir, errOpen)
	}
	return nil
}

// maxPath is the longest path of a socket, in bytes.
const maxPath = len(syscall.RawSockaddrUnix{}.Path) - 1

// checkSocket tells whether what is at a path may be a keeper's socket. The
// error is fs.ErrNotExist where there is nothing.
func checkSocket(path string) error {
	if path == "" {
		return errors.New("no folder for the socket is known: set XDG_RUNTIME_DIR or HOME")
	}
	if len(path) > maxPath {
		return fmt.Errorf("the path of the socket is too long: %s has %d bytes, and %d can be. Set XDG_RUNTIME_DIR to a shorter one", path, len(path), maxPath)
	}
	if err := checkFolder(filepath.Dir(path)); err != nil {
		return err
	}
	info, err := os.Lstat(path)
	if err == nil && info.Mode()&fs.ModeSocket == 0 {
		return fmt.Errorf("%s stands where the socket is to be, and is none. Move it away", path)
	}
	return err
}

// reach connects to a keeper's socket, and tells before a byte is sent whether
// it is this user who answers.
func reach(ctx context.Context, path string) (net.Conn, error) {
	if err := checkSocket(path); err != nil {
		return nil, err
	}
	conn, err := (&net.Dialer{}).DialContext(ctx, "unix", path)
	if err != nil {
		return nil, err
	}
	uid, err := peer(conn)
	if err == nil && uid != os.Getuid() {
		err = fmt.Errorf("user %d answers at %s, and not this one", uid, path)
	}
	if err != nil {
		conn.Close()
		return nil, err
	}
	return conn, nil
}

// peer is the user at the other end of a socket.
func peer(c net.Conn) (int, error) {
	cred, err := otherEnd(c)
	if err != nil {
		return -1, err
	}
	return int(cred.Uid), nil
}

// otherEnd is who is at the other end of a socket.
func otherEnd(c net.Conn) (cred *syscall.Ucred, err error) {
	raw, err := c.(*net.UnixConn).SyscallConn()
	if err != nil {
		return nil, err
	}
	failed := error(nil)
	err = raw.Control(func(fd uintptr) {
		cred, failed = syscall.GetsockoptUcred(int(fd), syscall.SOL_SOCKET, syscall.SO_PEERCRED)
	})
	return cred, errors.Join(err, failed)
}

// Process is the process that answers at a socket; ok is false where none does.
func Process(path string) (pid int, ok bool) {
	conn, err := reach(context.Background(), path)
	if err != nil {
		return 0, false
	}
	defer conn.Close()
	cred, err := otherEnd(conn)
	if err != nil {
		return 0, false
	}
	return int(cred.Pid), true
}

// ErrNoKeeper is the error where no keeper answers.
var ErrNoKeeper = errors.New("no keeper runs on this display")

// ErrTaken is the error where a keeper answers on a socket already.
var ErrTaken = errors.New("a keeper answers already")

// gone tells whether an error of a connection means that nobody listens.
func gone(err error) bool {
	return errors.Is(err, fs.ErrNotExist) || errors.Is(err, syscall.ECONNREFUSED)
}

// Version is the version of the protocol. The number before the point grows with every
// change by which one end would not understand the other, or misunderstand it; the one
// after it with what is there besides. Both ends send it with all they send, as the header
// of that name.
const (
	Version       = "7.0"
	versionHeader = "Zatlas-Protocol"
)

// agree tells whether the other end speaks a version that goes with ours, by the header it
// sent, and which of the two is to be renewed.
func agree(theirs, who string) error {
	ours, _, _ := strings.Cut(Version, ".")
	major, _, _ := strings.Cut(theirs, ".")
	if major == ours {
		return nil
	}
	n, err := strconv.Atoi(major)
	m, _ := strconv.Atoi(ours)
	renew := "end both, and start them from one program"
	switch {
	case theirs == "":
		theirs = "none that it names"
	case err == nil && n > m:
		renew = "this one is older, and is to be renewed"
	case err == nil:
		renew = who + " is older, and is to be renewed: end it, and start it from this program"
	}
	return &keeper.Failure{Code: keeper.OtherVersion, Words: fmt.Sprintf(
		"%s speaks version %s of the protocol, and this one version %s: %s", who, desk.CleanText(theirs, 40), Version, renew)}
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
		// Since is, of a dry one, the update whose desk the asker has: the answer may
		// be told as a change of it.
		Since point `json:"since,omitzero"`
		// Name is what the asker calls the command, which then goes on when nobody waits
		// for it, and is remembered with its answer; empty for none.
		Name string `json:"name,omitempty"`
	}
	// point is an update of a keeper, which is told from another on the same socket
	// by when it began.
	point struct {
		Born   int64 `json:"born"`
		Serial int   `json:"serial"`
	}
	// pong says that the keeper answers, and how many goroutines it has.
	pong struct {
		Goroutines int `json:"goroutines"`
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
	// plateLine is a plate as its file has it, or one that is at fault.
	plateLine struct {
		Name  string          `json:"name"`
		Plate json.RawMessage `json:"plate,omitempty"`
		Laid  int64           `json:"laid,omitempty"` // milliseconds since 1970, 0 for never
		Fault string          `json:"fault,omitempty"`
	}
	// newsHead is what an update says besides the desk.
	newsHead struct {
		Born int64 `json:"born"`
		// From is the serial of the update that the desk is told as a change of; 0
		// where it is a whole scene.
		From    int    `json:"from,omitempty"`
		Words   string `json:"words,omitempty"`
		Verb    string `json:"verb,omitempty"`
		Undo    string `json:"undo,omitempty"`
		Redo    string `json:"redo,omitempty"`
		Step    int    `json:"step,omitempty"`
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
		// Error is why the command failed, and Code what kind of failure that is.
		Error string      `json:"error,omitempty"`
		Code  keeper.Code `json:"code,omitempty"`
		// Desk is, of a command only tried, the desk as it would be: a scene, or a
		// change of the desk asked with.
		Desk   json.RawMessage `json:"desk,omitempty"`
		Change json.RawMessage `json:"change,omitempty"`
	}
)
