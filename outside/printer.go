package outside

import (
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"time"
)

// Printer is a folder from which a print server takes PDF files; in a demonstration it is one that nobody empties.
type Printer struct{ Folder string }

const (
	printerPrefix = "meldung-"
	printerEnd    = ".pdf"
)

// Print puts a page into the folder, whole or not at all, under a name; a second one of that name takes its place.
// It returns the name in the folder.
func (p Printer) Print(name string, content []byte) (file string, err error) {
	file = printerPrefix + name + printerEnd
	if err := PutWhole(p.Folder, file, content); err != nil {
		return "", errors.New("the printer’s folder can’t be written")
	}
	return file, nil
}

// PutWhole puts a file into a folder, which is made where it is missing: whole or not at all, in the place of one of its
// name, for this user alone.
func PutWhole(folder, file string, content []byte) error {
	if err := os.MkdirAll(folder, 0o700); err != nil {
		return fmt.Errorf("making a folder: %w", err)
	}
	fresh, err := os.CreateTemp(folder, ".writing-*")
	if err != nil {
		return fmt.Errorf("writing a file: %w", err)
	}
	_, err = fresh.Write(content)
	err = errors.Join(err, fresh.Sync(), fresh.Close())
	if err == nil {
		err = os.Rename(fresh.Name(), filepath.Join(folder, file))
	}
	if err != nil {
		return fmt.Errorf("writing a file: %w", errors.Join(err, os.Remove(fresh.Name())))
	}
	return nil
}

// Has reports whether a file is still in the folder.
func (p Printer) Has(file string) bool {
	if file != filepath.Base(file) || !ours(file) {
		return false
	}
	_, err := os.Stat(filepath.Join(p.Folder, file))
	return err == nil
}

// Read returns a file that is still in the folder; nil for one that has been taken.
func (p Printer) Read(file string) ([]byte, error) {
	if !p.Has(file) {
		return nil, nil
	}
	content, err := os.ReadFile(filepath.Join(p.Folder, file))
	if errors.Is(err, fs.ErrNotExist) {
		return nil, nil
	}
	return content, err
}

func ours(file string) bool {
	return strings.HasPrefix(file, printerPrefix) && strings.HasSuffix(file, printerEnd)
}

// Clear removes what has lain in the folder since before a time: it names students, and nobody has come for it.
func (p Printer) Clear(before time.Time) error {
	files, err := os.ReadDir(p.Folder)
	if err != nil && !errors.Is(err, fs.ErrNotExist) {
		return fmt.Errorf("looking into the printer's folder: %w", err)
	}
	for _, f := range files {
		info, err := f.Info()
		if err != nil || !ours(f.Name()) || !info.ModTime().Before(before) {
			continue // it was taken meanwhile, or is not ours, or is new
		}
		if err := os.Remove(filepath.Join(p.Folder, f.Name())); err != nil && !errors.Is(err, fs.ErrNotExist) {
			return fmt.Errorf("clearing the printer's folder: %w", err)
		}
	}
	return nil
}
