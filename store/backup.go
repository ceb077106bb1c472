package store

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"

	"github.com/jmoiron/sqlx"
)

// Backup copies the database of a data folder, as it is at one moment, to a new file that only
// its owner can read, while others may be reading and writing. The copy is read whole, and held
// against the rules of the tables, before it gets its name.
func Backup(ctx context.Context, folder, to string) (err error) {
	path := filepath.Join(folder, File)
	from, err := OpenToRead(ctx, folder) // says what is wrong with it
	if err != nil {
		return err
	}
	if err := from.Close(); err != nil {
		return err
	}
	if _, err := os.Stat(to); !errors.Is(err, fs.ErrNotExist) {
		return fmt.Errorf("%s is there already: a backup replaces nothing", to)
	}
	part, err := newBeside(to)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, removed(part)) }()
	options := []string{"mode", "ro"}
	if unwritten(path) && !writable(folder) {
		options = append(options, "immutable", "1")
	}
	db, err := sqlx.Open("sqlite", address(path, options...))
	if err != nil {
		return fmt.Errorf("opening %s: %w", path, err)
	}
	_, err = db.ExecContext(ctx, `VACUUM INTO ?`, part)
	if err := errors.Join(err, db.Close()); err != nil {
		return fmt.Errorf("copying %s: %w", path, err)
	}
	if err := Verify(ctx, part); err != nil {
		return fmt.Errorf("the copy is not good: %w", err)
	}
	return settle(part, to)
}

// Verify reads a database file whole and returns what is wrong with it: that it is none of this
// program's, that it is damaged, or that its rows contradict each other.
func Verify(ctx context.Context, path string) error {
	s, err := openFileToRead(ctx, path)
	if err != nil {
		return err
	}
	wrong, err := s.Check(ctx, false)
	if err == nil && len(wrong) > 0 {
		err = fmt.Errorf("%d things are wrong in %s, first %s", len(wrong), path, wrong[0])
	}
	return errors.Join(err, s.Close())
}

// Restore puts a backup in the place of the database of a data folder, which the caller has
// locked. What was there is kept under another name, which is returned; empty where there was
// nothing.
func Restore(ctx context.Context, backup, folder string) (kept string, err error) {
	if err := Verify(ctx, backup); err != nil {
		return "", fmt.Errorf("nothing was changed: %w", err)
	}
	path := filepath.Join(folder, File)
	part, err := newBeside(path)
	if err != nil {
		return "", err
	}
	defer func() { err = errors.Join(err, removed(part)) }()
	if err := copied(backup, part); err != nil {
		return "", err
	}
	switch _, err := os.Stat(path); {
	case err == nil:
		if kept, err = setAside(ctx, path); err != nil {
			return "", fmt.Errorf("nothing was changed: %w", err)
		}
	case !errors.Is(err, fs.ErrNotExist):
		return "", err
	}
	return kept, settle(part, path)
}

// setAside gives a database, with what was last written to it, another name.
func setAside(ctx context.Context, path string) (kept string, err error) {
	db, err := sqlx.Open("sqlite", address(path))
	if err != nil {
		return "", err
	}
	// What others hold open is not moved; what is not yet in the file is written into it.
	_, err = db.ExecContext(ctx, `PRAGMA wal_checkpoint(TRUNCATE)`)
	if err := errors.Join(err, db.Close()); err != nil {
		return "", fmt.Errorf("closing %s: %w", path, err)
	}
	for n := 1; ; n++ {
		kept = fmt.Sprintf("%s.before-restore-%d", path, n)
		if _, err := os.Stat(kept); errors.Is(err, fs.ErrNotExist) {
			break
		}
	}
	if err := os.Rename(path, kept); err != nil {
		return "", err
	}
	for _, name := range []string{path + "-wal", path + "-shm"} {
		if err := removed(name); err != nil {
			return kept, err
		}
	}
	return kept, nil
}

// newBeside makes an empty file that only its owner can read, beside another.
func newBeside(path string) (string, error) {
	name := filepath.Join(filepath.Dir(path), "."+filepath.Base(path)+"."+rand.Text())
	f, err := os.OpenFile(name, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return "", err
	}
	return name, f.Close()
}

// copied copies a file onto another and has the disk keep it.
func copied(from, to string) (err error) {
	in, err := os.Open(from)
	if err != nil {
		return err
	}
	defer in.Close()
	out, err := os.OpenFile(to, os.O_WRONLY|os.O_TRUNC, 0o600)
	if err != nil {
		return err
	}
	_, err = io.Copy(out, in)
	return errors.Join(err, out.Close())
}

// settle gives a file that is whole its name, and has the disk keep both.
func settle(part, name string) error {
	for _, keep := range []func() error{
		func() error { return synced(part) },
		func() error { return os.Rename(part, name) },
		func() error { return synced(filepath.Dir(name)) },
	} {
		if err := keep(); err != nil {
			return err
		}
	}
	return nil
}

func synced(path string) error {
	f, err := os.Open(path)
	if err != nil {
		return err
	}
	return errors.Join(f.Sync(), f.Close())
}

func removed(path string) error {
	if err := os.Remove(path); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	return nil
}

// writable reports whether files can be made in a folder.
func writable(folder string) bool {
	name, err := newBeside(filepath.Join(folder, "try"))
	return err == nil && os.Remove(name) == nil
}

// Writable reports what keeps anything from being written; nil where nothing does.
func (s *Store) Writable(ctx context.Context) error {
	return s.Write(ctx, func(tx *sqlx.Tx) error {
		_, err := tx.ExecContext(ctx, `UPDATE alive SET at = unixepoch()`)
		return err
	})
}
