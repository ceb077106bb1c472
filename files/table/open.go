package table

import (
	"archive/zip"
	"bytes"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"strings"
)

// mostBytes bounds what is unpacked from one file of an archive.
const mostBytes = 64 << 20

// Open reads the CSV files of a folder or a zip archive.
func Open(where string) (Files, error) {
	info, err := os.Stat(where)
	if err != nil {
		return nil, fmt.Errorf("opening %s: %w", where, err)
	}
	if !info.IsDir() {
		content, err := os.ReadFile(where)
		if err != nil {
			return nil, fmt.Errorf("reading %s: %w", where, err)
		}
		return Unzip(content)
	}
	entries, err := os.ReadDir(where)
	if err != nil {
		return nil, fmt.Errorf("reading %s: %w", where, err)
	}
	out := Files{}
	for _, e := range entries {
		if e.IsDir() || !strings.HasSuffix(e.Name(), ".csv") {
			continue
		}
		if out[e.Name()], err = os.ReadFile(filepath.Join(where, e.Name())); err != nil {
			return nil, fmt.Errorf("reading %s: %w", e.Name(), err)
		}
	}
	return out, nil
}

// Unzip reads the CSV files of a zip archive, whatever folder they are in.
func Unzip(content []byte) (Files, error) {
	archive, err := zip.NewReader(bytes.NewReader(content), int64(len(content)))
	if err != nil {
		return nil, fmt.Errorf("this is neither a folder nor a zip archive: %w", err)
	}
	out := Files{}
	for _, f := range archive.File {
		name := path.Base(f.Name)
		if f.FileInfo().IsDir() || !strings.HasSuffix(name, ".csv") {
			continue
		}
		r, err := f.Open()
		if err != nil {
			return nil, fmt.Errorf("unpacking %s: %w", f.Name, err)
		}
		text, err := io.ReadAll(io.LimitReader(r, mostBytes+1))
		_ = r.Close()
		if err != nil {
			return nil, fmt.Errorf("unpacking %s: %w", f.Name, err)
		}
		if len(text) > mostBytes {
			return nil, fmt.Errorf("%s is larger than %d MB", f.Name, mostBytes>>20)
		}
		out[name] = text
	}
	return out, nil
}

// WriteFolder writes files to a folder, which is made when missing; other files
// in it stay. They appear when all are complete: where one can't be written, the
// folder is left as it was.
func WriteFolder(folder string, files Files) (err error) {
	made, err := makeFolder(folder)
	if err != nil {
		return err
	}
	defer func() {
		if err != nil && made != "" {
			_ = os.RemoveAll(made) // what was made here and now; nothing else can be in it
		}
	}()
	var undo []func()
	defer func() {
		if err != nil {
			for i := len(undo) - 1; i >= 0; i-- {
				undo[i]()
			}
		}
	}()
	names := files.Names()
	for _, name := range names {
		part := filepath.Join(folder, "."+name+".part")
		undo = append(undo, func() { _ = os.Remove(part) })
		if err := writeWhole(part, files[name]); err != nil {
			return fmt.Errorf("writing %s: %w", filepath.Join(folder, name), err)
		}
	}
	for _, name := range names {
		back, err := replace(filepath.Join(folder, name), filepath.Join(folder, "."+name+".part"), filepath.Join(folder, "."+name+".before"))
		if err != nil {
			return fmt.Errorf("writing %s: %w", filepath.Join(folder, name), err)
		}
		undo = append(undo, back)
	}
	for _, name := range names {
		_ = os.Remove(filepath.Join(folder, "."+name+".before")) // gone already where there was none before
	}
	return nil
}

// makeFolder makes a folder with those above it and returns the topmost that was
// missing; empty when none was.
func makeFolder(folder string) (made string, err error) {
	for at := filepath.Clean(folder); ; at = filepath.Dir(at) {
		if _, err := os.Stat(at); err == nil || at == filepath.Dir(at) {
			break
		}
		made = at
	}
	if err := os.MkdirAll(folder, 0o755); err != nil {
		if made != "" {
			_ = os.RemoveAll(made)
		}
		return "", fmt.Errorf("making %s: %w", folder, err)
	}
	return made, nil
}

// writeWhole writes a file and sees it safely stored.
func writeWhole(name string, content []byte) error {
	f, err := os.OpenFile(name, os.O_CREATE|os.O_TRUNC|os.O_WRONLY, 0o644)
	if err != nil {
		return err
	}
	_, err = f.Write(content)
	return errors.Join(err, f.Sync(), f.Close())
}

// replace puts a new file in the place of an old one and says how to put it back.
func replace(name, part, before string) (back func(), err error) {
	info, err := os.Lstat(name)
	switch {
	case errors.Is(err, fs.ErrNotExist):
		return func() { _ = os.Remove(name) }, os.Rename(part, name)
	case err != nil:
		return nil, err
	case info.IsDir():
		return nil, errors.New("there is a folder of this name")
	}
	if err := os.Rename(name, before); err != nil {
		return nil, err
	}
	back = func() { _ = os.Rename(before, name) }
	if err := os.Rename(part, name); err != nil {
		back()
		return nil, err
	}
	return back, nil
}
