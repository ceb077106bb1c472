package table

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io"
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

// WriteFolder writes files to a folder, which is made when missing. Each appears
// only when it is complete.
func WriteFolder(folder string, files Files) error {
	if err := os.MkdirAll(folder, 0o755); err != nil {
		return fmt.Errorf("making %s: %w", folder, err)
	}
	var made []string
	for _, name := range files.Names() {
		temporary := filepath.Join(folder, "."+name+".part")
		made = append(made, temporary)
		if err := os.WriteFile(temporary, files[name], 0o644); err != nil {
			for _, m := range made {
				_ = os.Remove(m)
			}
			return fmt.Errorf("writing %s: %w", name, err)
		}
	}
	for _, name := range files.Names() {
		if err := os.Rename(filepath.Join(folder, "."+name+".part"), filepath.Join(folder, name)); err != nil {
			return fmt.Errorf("writing %s: %w", name, err)
		}
	}
	return nil
}
