package file_test

import (
	"errors"
	"io/fs"
	"net"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"testing"

	"zatlas/internal/file"
)

func TestRead(t *testing.T) {
	dir := t.TempDir()
	at := func(name string) string { return filepath.Join(dir, name) }
	for name, text := range map[string]string{"empty": "", "full": "12345678", "long": "123456789"} {
		if err := os.WriteFile(at(name), []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	l, err := net.Listen("unix", at("socket"))
	if err != nil {
		t.Fatal(err)
	}
	defer l.Close()
	for _, err := range []error{
		syscall.Mkfifo(at("pipe"), 0o600), os.Symlink(at("full"), at("link")), os.Symlink("/dev/zero", at("zero")),
		os.Symlink(at("loop"), at("loop")), os.Symlink(at("pipe"), at("to pipe")),
	} {
		if err != nil {
			t.Fatal(err)
		}
	}
	for _, c := range []struct {
		name, text string
		err        error
		says       string
	}{
		{"empty", "", nil, ""}, {"full", "12345678", nil, ""}, {"link", "12345678", nil, ""},
		{"long", "", file.ErrTooLong, "at most 8 bytes"},
		{"none", "", fs.ErrNotExist, "none"}, {"loop", "", syscall.ELOOP, "loop"},
		{".", "", file.ErrNotRegular, "a folder"}, {"pipe", "", file.ErrNotRegular, "a pipe"}, {"to pipe", "", file.ErrNotRegular, "a pipe"},
		{"socket", "", syscall.ENXIO, "socket"}, {"zero", "", file.ErrNotRegular, "a device"},
	} {
		data, err := file.Read(at(c.name), 8)
		if string(data) != c.text || !errors.Is(err, c.err) || err != nil && !strings.Contains(err.Error(), c.says) {
			t.Errorf("%s: %q, %v", c.name, data, err)
		}
		if err != nil && !strings.Contains(err.Error(), at(c.name)) {
			t.Errorf("%s: the error names no path: %v", c.name, err)
		}
		if got := file.Check(at(c.name)); c.err == file.ErrNotRegular && !errors.Is(got, c.err) || c.name == "none" && got != nil {
			t.Errorf("%s is checked as %v", c.name, got)
		}
	}
	if _, err := file.Read("/dev/zero", file.MaxSettings); err == nil {
		t.Error("a device is read")
	}
	if err := os.WriteFile(at("settings"), make([]byte, file.MaxSettings+1), 0o600); err != nil {
		t.Fatal(err)
	}
	if _, err := file.Read(at("settings"), file.MaxSettings); !errors.Is(err, file.ErrTooLong) || !strings.Contains(err.Error(), "1 MB") {
		t.Errorf("a long file: %v", err)
	}
}
