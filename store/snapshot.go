package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"path/filepath"
)

// Snapshot puts the records as they are at one moment, and the originals that belong to them,
// into a new directory inside the data directory, and returns it. The caller removes it.
// Originals are linked and so take no room.
func (s *Store) Snapshot(ctx context.Context) (dir string, err error) {
	dir, err = os.MkdirTemp(filepath.Join(s.dir, "incoming"), "snapshot-")
	if err != nil {
		return "", fmt.Errorf("store: snapshot: %w", err)
	}
	if err := s.snapshotInto(ctx, dir); err != nil {
		return "", errors.Join(fmt.Errorf("store: snapshot: %w", err), os.RemoveAll(dir))
	}
	return dir, nil
}

func (s *Store) snapshotInto(ctx context.Context, dir string) (err error) {
	if err := os.Mkdir(filepath.Join(dir, "files"), 0o700); err != nil {
		return err
	}
	release := s.holdAll()
	defer func() { err = errors.Join(err, release()) }()
	// What comes in meanwhile is linked too and does no harm.
	if _, err := s.db.ExecContext(ctx, "VACUUM INTO ?", filepath.Join(dir, Records)); err != nil {
		return err
	}
	if err := leaveIn(ctx, filepath.Join(dir, Records)); err != nil { // who restores it begins alone
		return err
	}
	sums, err := s.Sums(ctx)
	if err != nil {
		return err
	}
	for _, sum := range sums {
		err := os.Link(s.FilePath(sum), filepath.Join(dir, "files", sum))
		if err != nil && !errors.Is(err, os.ErrNotExist) { // one that is lost already
			return err
		}
	}
	return nil
}

// Settle writes what is in SQLite's log into its file and empties the log, which would keep what
// was removed until it is used again. It tells whether it did: it waits for nobody who reads or
// writes, as all others would have to wait with it.
func (s *Store) Settle(ctx context.Context) (done bool, err error) {
	conn, err := s.db.Conn(ctx)
	if err != nil {
		return false, fmt.Errorf("store: settle: %w", err)
	}
	defer conn.Close()
	if _, err := conn.ExecContext(ctx, "PRAGMA busy_timeout = 0"); err != nil {
		return false, fmt.Errorf("store: settle: %w", err)
	}
	defer func() {
		_, again := conn.ExecContext(context.WithoutCancel(ctx), fmt.Sprintf("PRAGMA busy_timeout = %d", busyFor))
		err = errors.Join(err, again)
	}()
	var busy, frames, written int
	err = conn.QueryRowContext(ctx, "PRAGMA wal_checkpoint(TRUNCATE)").Scan(&busy, &frames, &written)
	if isBusy(err) {
		return false, nil
	}
	if err != nil {
		return false, fmt.Errorf("store: settle: %w", err)
	}
	return busy == 0, nil
}

// Sums returns the hashes of all originals that documents have.
func (s *Store) Sums(ctx context.Context) ([]string, error) {
	return texts(s.db.QueryContext(ctx, "SELECT DISTINCT sha256 FROM documents ORDER BY sha256"))
}

// texts reads rows of one text each.
func texts(rows *sql.Rows, err error) ([]string, error) {
	if err != nil {
		return nil, fmt.Errorf("store: documents: %w", err)
	}
	defer rows.Close()
	var out []string
	for rows.Next() {
		var text string
		if err := rows.Scan(&text); err != nil {
			return nil, fmt.Errorf("store: documents: %w", err)
		}
		out = append(out, text)
	}
	return out, rows.Err()
}

// Integrity reads the whole file of the records and returns what SQLite finds wrong with it,
// nothing if all is well.
func (s *Store) Integrity(ctx context.Context) ([]string, error) {
	var out []string
	for _, check := range []string{"PRAGMA integrity_check(20)", "SELECT 'a row of '||\"table\"||' belongs to a '||parent||' that is gone' FROM pragma_foreign_key_check LIMIT 20"} {
		found, err := s.lines(ctx, check)
		if err != nil {
			return nil, fmt.Errorf("store: integrity: %w", err)
		}
		out = append(out, found...)
	}
	return out, nil
}

func (s *Store) lines(ctx context.Context, query string) ([]string, error) {
	rows, err := s.db.QueryContext(ctx, query)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	var out []string
	for rows.Next() {
		var line string
		if err := rows.Scan(&line); err != nil {
			return nil, err
		}
		if line != "ok" {
			out = append(out, line)
		}
	}
	return out, rows.Err()
}
