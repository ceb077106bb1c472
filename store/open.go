package store

import (
	"context"
	"database/sql"
	"database/sql/driver"
	"embed"
	"errors"
	"fmt"
	"io/fs"
	"net/url"
	"os"
	"path/filepath"

	"github.com/gofrs/flock"
	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
	"modernc.org/sqlite"
)

//go:embed migrations/*.sql
var migrations embed.FS

// File is the database's name in a data folder.
const File = "meldung.db"

// lockFile is held by the one who may change a data folder.
const lockFile = "meldung.lock"

// ErrInUse is what Lock returns where another program changes the folder.
var ErrInUse = errors.New("is in use")

// Lock makes the caller the only one who may change a data folder, until release is called or
// the program ends. The folder is made where it is missing.
func Lock(folder string) (release func() error, err error) {
	if err := makeFolder(folder); err != nil {
		return nil, err
	}
	lock := flock.New(filepath.Join(folder, lockFile), flock.SetPermissions(0o600))
	held, err := lock.TryLock()
	switch {
	case err != nil:
		return nil, fmt.Errorf("locking the data folder %s: %w", folder, err)
	case !held:
		return nil, fmt.Errorf("the data folder %s %w: another meldung is serving it or changing it", folder, ErrInUse)
	}
	return lock.Unlock, nil
}

func makeFolder(folder string) error {
	if err := os.MkdirAll(folder, 0o700); err != nil {
		return fmt.Errorf("making the data folder %s: %w", folder, err)
	}
	return nil
}

// address returns the address of a database file for the driver, with pragmas and options.
func address(path string, options ...string) string {
	q := url.Values{"_pragma": {"busy_timeout(5000)", "foreign_keys(1)"}}
	for i := 0; i+1 < len(options); i += 2 {
		q.Add(options[i], options[i+1])
	}
	return (&url.URL{Scheme: "file", Opaque: (&url.URL{Path: path}).EscapedPath(), RawQuery: q.Encode()}).String()
}

// Open opens the database of a data folder to read and to write, making the folder and the
// tables where they are missing. Nobody but the owner of the files can read them.
func Open(ctx context.Context, folder string) (*Store, error) {
	if err := makeFolder(folder); err != nil {
		return nil, err
	}
	path := filepath.Join(folder, File)
	if err := ownersOnly(path); err != nil {
		return nil, err
	}
	live := []string{"_pragma", "journal_mode(WAL)", "_pragma", "synchronous(FULL)", "_txlock", "immediate"}
	s := &Store{changed: map[string]bool{}}
	s.write = sqlx.NewDb(sql.OpenDB(told{address(path, append(live, "_pragma", "cache_size(-64000)", "_pragma", "secure_delete(1)")...), s.changed}), "sqlite")
	s.write.SetMaxOpenConns(1)
	s.close = []func() error{s.write.Close}
	if err := upToDate(ctx, s.write.DB, path); err != nil {
		return nil, errors.Join(err, s.Close())
	}
	for _, one := range []struct {
		db          **sqlx.DB
		connections int
		options     []string
	}{
		{&s.pool, 4, append(live, "_pragma", "cache_size(-16000)", "mode", "ro")},
		{&s.sessions, 4, append(live, "_pragma", "cache_size(-2000)")},
	} {
		db, err := sqlx.Open("sqlite", address(path, one.options...))
		if err != nil {
			return nil, errors.Join(fmt.Errorf("opening %s: %w", path, err), s.Close())
		}
		db.SetMaxOpenConns(one.connections)
		db.SetMaxIdleConns(one.connections)
		*one.db = db
		s.close = append(s.close, db.Close)
	}
	s.read = s.pool
	return s, nil
}

// told opens connections that tell which tables they change.
type told struct {
	address string
	changed map[string]bool
}

func (t told) Driver() driver.Driver { return &sqlite.Driver{} }

func (t told) Connect(context.Context) (driver.Conn, error) {
	c, err := t.Driver().Open(t.address)
	if err != nil {
		return nil, err
	}
	hooks, ok := c.(sqlite.HookRegisterer)
	if !ok {
		return nil, errors.Join(errors.New("the database driver does not tell what it changes"), c.Close())
	}
	hooks.RegisterPreUpdateHook(func(d sqlite.SQLitePreUpdateData) { t.changed[d.TableName] = true })
	return c, nil
}

// ownersOnly makes a database file, where it is missing, that only its owner can read. What the
// database keeps beside it gets the same permissions.
func ownersOnly(path string) error {
	f, err := os.OpenFile(path, os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return fmt.Errorf("opening %s: %w", path, err)
	}
	if err := f.Close(); err != nil {
		return err
	}
	for _, name := range []string{path, path + "-wal", path + "-shm"} {
		if err := os.Chmod(name, 0o600); err != nil && !errors.Is(err, fs.ErrNotExist) {
			return fmt.Errorf("keeping %s from others: %w", name, err)
		}
	}
	return nil
}

func provider(db *sql.DB) (*goose.Provider, error) {
	scripts, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return nil, err
	}
	p, err := goose.NewProvider(goose.DialectSQLite3, db, scripts)
	if err != nil {
		return nil, fmt.Errorf("reading the migrations: %w", err)
	}
	return p, nil
}

// newest returns the version of the tables that this program knows.
func newest(p *goose.Provider) int64 {
	sources := p.ListSources()
	return sources[len(sources)-1].Version
}

// upToDate brings the tables up to date, and refuses those of a newer program.
func upToDate(ctx context.Context, db *sql.DB, path string) error {
	p, err := provider(db)
	if err != nil {
		return err
	}
	version, err := p.GetDBVersion(ctx)
	if err != nil {
		return fmt.Errorf("reading the version of %s: %w", path, err)
	}
	if version > newest(p) {
		return fmt.Errorf("%s was made by a newer meldung than this (tables %d, known %d); nothing was changed", path, version, newest(p))
	}
	if _, err := p.Up(ctx); err != nil {
		return fmt.Errorf("bringing %s up to date: %w", path, err)
	}
	return nil
}

// OpenToRead opens the database of a data folder as it is at this moment: what others write
// meanwhile is not seen, and nothing is made or changed. A copy that can't be written to is
// read as well.
func OpenToRead(ctx context.Context, folder string) (*Store, error) {
	return openFileToRead(ctx, filepath.Join(folder, File))
}

func openFileToRead(ctx context.Context, path string) (*Store, error) {
	if _, err := os.Stat(path); err != nil {
		return nil, fmt.Errorf("there is no school: %w", err)
	}
	at := address(path, "mode", "ro", "_pragma", "cache_size(-64000)")
	db, err := sqlx.Open("sqlite", at)
	if err != nil {
		return nil, fmt.Errorf("opening %s: %w", path, err)
	}
	tx, err := beginToRead(ctx, db)
	if err != nil && unwritten(path) {
		// Where nothing can be written beside a file, it is read as one that never changes.
		if closing := db.Close(); closing != nil {
			return nil, closing
		}
		at = address(path, "mode", "ro", "immutable", "1", "_pragma", "cache_size(-64000)")
		if db, err = sqlx.Open("sqlite", at); err != nil {
			return nil, fmt.Errorf("opening %s: %w", path, err)
		}
		tx, err = beginToRead(ctx, db)
	}
	if err != nil {
		return nil, errors.Join(fmt.Errorf("reading %s: %w", path, err), db.Close())
	}
	s := &Store{read: tx, address: at, close: []func() error{tx.Rollback, db.Close}}
	if err := s.known(ctx, path); err != nil {
		return nil, errors.Join(err, s.Close())
	}
	return s, nil
}

// aside begins to read on a connection of its own, until done is called.
func (s *Store) aside(ctx context.Context) (tx *sqlx.Tx, done func() error, err error) {
	db, closing := s.pool, func() error { return nil }
	if db == nil {
		if db, err = sqlx.Open("sqlite", s.address); err != nil {
			return nil, nil, err
		}
		closing = db.Close
	}
	if tx, err = db.BeginTxx(ctx, &sql.TxOptions{ReadOnly: true}); err != nil {
		return nil, nil, errors.Join(err, closing())
	}
	return tx, func() error { return errors.Join(tx.Rollback(), closing()) }, nil
}

// beginToRead begins a transaction and reads, so that what it sees is fixed.
func beginToRead(ctx context.Context, db *sqlx.DB) (*sqlx.Tx, error) {
	db.SetMaxOpenConns(1)
	tx, err := db.BeginTxx(context.WithoutCancel(ctx), &sql.TxOptions{ReadOnly: true})
	if err != nil {
		return nil, err
	}
	var tables int
	if err := tx.GetContext(ctx, &tables, `SELECT count(*) FROM sqlite_master`); err != nil {
		return nil, errors.Join(err, tx.Rollback())
	}
	return tx, nil
}

// unwritten reports whether nobody has written to a database since it was last closed.
func unwritten(path string) bool {
	wal, err := os.Stat(path + "-wal")
	return errors.Is(err, fs.ErrNotExist) || (err == nil && wal.Size() == 0)
}

// known refuses tables that are not of this program's version.
func (s *Store) known(ctx context.Context, path string) error {
	p, err := provider(&sql.DB{}) // to list what is known; it is not asked
	if err != nil {
		return err
	}
	var version int64
	if err := sqlx.GetContext(ctx, s.read, &version, `SELECT COALESCE(MAX(version_id), 0) FROM goose_db_version WHERE is_applied`); err != nil {
		return fmt.Errorf("%s is no school: %w", path, err)
	}
	switch {
	case version < newest(p):
		return fmt.Errorf("%s is of an older meldung (tables %d, now %d): serve it once with this one, or use the older", path, version, newest(p))
	case version > newest(p):
		return fmt.Errorf("%s was made by a newer meldung than this (tables %d, known %d)", path, version, newest(p))
	}
	return nil
}
