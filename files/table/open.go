package table

import (
	"archive/zip"
	"bufio"
	"bytes"
	"crypto/rand"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"maps"
	"os"
	"path"
	"path/filepath"
	"slices"
	"strings"
	"time"
)

// What is unpacked from an archive at most.
const (
	mostBytes = 64 << 20  // from one file
	mostInAll = 256 << 20 // from all together
	mostFiles = 200
)

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
	return unpack(content, func(name string) (string, bool) {
		base := path.Base(name)
		return base, strings.HasSuffix(base, ".csv")
	})
}

// UnzipAll reads every file of a zip archive, by its name with the folders.
func UnzipAll(content []byte) (Files, error) {
	return unpack(content, func(name string) (string, bool) { return strings.TrimPrefix(path.Clean("/"+name), "/"), true })
}

// unpack reads files of a zip archive within bounds: those that are wanted, each under the name that it is to have.
func unpack(content []byte, wanted func(name string) (as string, is bool)) (Files, error) {
	archive, err := zip.NewReader(bytes.NewReader(content), int64(len(content)))
	if err != nil {
		return nil, fmt.Errorf("this is neither a folder nor a zip archive: %w", err)
	}
	out := Files{}
	sum := 0
	for _, f := range archive.File {
		name, is := wanted(f.Name)
		if f.FileInfo().IsDir() || !is {
			continue
		}
		if _, twice := out[name]; twice {
			return nil, fmt.Errorf("%s is in the archive twice, in two folders: which is meant can't be told", name)
		}
		if len(out) == mostFiles {
			return nil, fmt.Errorf("the archive has more than %d files", mostFiles)
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
		if sum += len(text); sum > mostInAll {
			return nil, fmt.Errorf("the files of the archive are larger than %d MB together", mostInAll>>20)
		}
		out[name] = text
	}
	return out, nil
}

// Zip writes the files as an archive.
func (f Files) Zip(to io.Writer) error {
	archive := zip.NewWriter(to)
	for _, name := range f.Names() {
		w, err := archive.Create(name)
		if err != nil {
			return err
		}
		if _, err := w.Write(f[name]); err != nil {
			return err
		}
	}
	return archive.Close()
}

// WriteFolder writes files to a folder; see WriteContents.
func WriteFolder(folder string, files Files) error { return WriteContents(folder, files.Contents()) }

// WriteContents writes files to a folder, which is made when missing; other files
// in it stay. They appear when all are complete: where one can't be written, the
// folder is left as it was.
func WriteContents(folder string, files Contents) (err error) {
	var undo []func()
	defer func() {
		if err != nil {
			for _, back := range slices.Backward(undo) {
				back()
			}
		}
	}()
	made, err := makeFolder(folder)
	undo = append(undo, func() { removeEmpty(made) })
	if err != nil {
		return err
	}
	names := slices.Sorted(maps.Keys(files))
	parts := map[string]string{}
	for _, name := range names {
		part := filepath.Join(folder, newName(name))
		undo = append(undo, func() { _ = os.Remove(part) })
		if err := writeWhole(part, files[name]); err != nil {
			return fmt.Errorf("writing %s: %w", filepath.Join(folder, name), err)
		}
		parts[name] = part
	}
	var befores []string
	for _, name := range names {
		before := filepath.Join(folder, newName(name))
		back, err := replace(filepath.Join(folder, name), parts[name], before)
		if err != nil {
			return fmt.Errorf("writing %s: %w", filepath.Join(folder, name), err)
		}
		undo, befores = append(undo, back), append(befores, before)
	}
	for _, before := range befores {
		_ = os.Remove(before) // not there where there was none before
	}
	return nil
}

// newName returns a temporary name that no file has, not even one left by another run.
func newName(name string) string { return "." + name + "." + rand.Text() }

// makeFolder makes a folder with those above it and returns those that were missing, the
// topmost first.
func makeFolder(folder string) (missing []string, err error) {
	for at := filepath.Clean(folder); ; at = filepath.Dir(at) {
		// A link that leads nowhere is there: it is neither made nor taken away.
		if _, err := os.Lstat(at); err == nil || at == filepath.Dir(at) {
			break
		}
		missing = append(missing, at)
	}
	slices.Reverse(missing)
	if err := os.MkdirAll(folder, 0o700); err != nil {
		return missing, fmt.Errorf("making %s: %w", folder, err)
	}
	return missing, nil
}

// removeEmpty takes folders away that hold nothing, the last one first.
func removeEmpty(folders []string) {
	for _, f := range slices.Backward(folders) {
		_ = os.Remove(f)
	}
}

// writeWhole writes a new file and sees it safely stored.
func writeWhole(name string, content Content) error {
	f, err := os.OpenFile(name, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	to := bufio.NewWriterSize(f, 1<<16)
	err = content(to)
	return errors.Join(err, to.Flush(), f.Sync(), f.Close())
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

// Open opens a file: files are a folder, as those on a disk are.
func (f Files) Open(name string) (fs.File, error) {
	content, there := f[name]
	if !there {
		return nil, &fs.PathError{Op: "open", Path: name, Err: fs.ErrNotExist}
	}
	return &openFile{bytes.NewReader(content), name, len(content)}, nil
}

type openFile struct {
	*bytes.Reader
	name string
	size int
}

func (f *openFile) Stat() (fs.FileInfo, error) { return f, nil }
func (f *openFile) Close() error               { return nil }
func (f *openFile) Name() string               { return f.name }
func (f *openFile) Size() int64                { return int64(f.size) }
func (f *openFile) Mode() fs.FileMode          { return 0o400 }
func (f *openFile) ModTime() time.Time         { return time.Time{} }
func (f *openFile) IsDir() bool                { return false }
func (f *openFile) Sys() any                   { return nil }
