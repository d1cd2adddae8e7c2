package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"sync"
)

// Several stores, each on a host of its own, are kept equal by one order of changes: a
// transaction is done here, then proposed as the one that follows the last change done here, and
// kept only if it was accepted as that. If another host's change came first, it is undone, done
// again on what is here then, and proposed again. So every transaction saw all that were before
// it, on whichever host they were made.

// A Proposal asks for a change to be the one that follows the change of a number, and returns its
// own number. ErrBehind says that another one follows that already.
type Proposal func(ctx context.Context, after uint64, change *Change) (number uint64, err error)

// ErrBehind says that a change was made on what is not the latest state.
var ErrBehind = errors.New("another change came first")

// sharing is what a store knows of the order of changes.
type sharing struct {
	propose Proposal
	leading chan struct{} // held by who makes changes for all who wait
	writing chan struct{} // held by who changes the records

	mu      sync.Mutex
	waiting []*wish       // transactions that are to be done
	number  uint64        // of the last change that was done here
	passed  chan struct{} // closed when it grows
}

// Share has all changes from now on proposed to the other hosts of a cluster first.
func (s *Store) Share(ctx context.Context, propose Proposal) error {
	number, _, err := s.Position(ctx)
	if err != nil {
		return err
	}
	s.shared = &sharing{propose: propose, leading: make(chan struct{}, 1), writing: make(chan struct{}, 1), number: number, passed: make(chan struct{})}
	return nil
}

// Position returns the number of the last change that is in the records, and of which cluster's;
// 0 and nothing if they were never shared.
func (s *Store) Position(ctx context.Context) (number uint64, cluster string, err error) {
	err = s.db.QueryRowContext(ctx, "SELECT number, cluster FROM position").Scan(&number, &cluster)
	if err != nil && !errors.Is(err, sql.ErrNoRows) {
		return 0, "", fmt.Errorf("store: position: %w", err)
	}
	return number, cluster, nil
}

// Join notes that the records are those of a cluster up to the change of a number.
func (s *Store) Join(ctx context.Context, cluster string, number uint64) error {
	_, err := s.db.ExecContext(ctx, "INSERT OR REPLACE INTO position (one, cluster, number) VALUES (1, ?, ?)", cluster, number)
	if err != nil {
		return fmt.Errorf("store: position: %w", err)
	}
	return nil
}

// IsEmpty tells whether the store has no collections and nobody in it.
func (s *Store) IsEmpty(ctx context.Context) (bool, error) {
	var n int
	if err := s.db.QueryRowContext(ctx, "SELECT (SELECT count(*) FROM collections) + (SELECT count(*) FROM principals)").Scan(&n); err != nil {
		return false, fmt.Errorf("store: %w", err)
	}
	return n == 0, nil
}

// Copy writes the records as they are at one moment into a file beside them, which the caller
// removes, and returns the number of the last change that is in them.
func (s *Store) Copy(ctx context.Context) (path string, number uint64, err error) {
	path = filepath.Join(s.dir, "incoming", NewID())
	if _, err := s.db.ExecContext(ctx, "VACUUM INTO ?", path); err != nil {
		return "", 0, fmt.Errorf("store: copy: %w", err)
	}
	db, err := sql.Open("sqlite", "file:"+path+"?mode=ro")
	if err != nil {
		return "", 0, fmt.Errorf("store: copy: %w", err)
	}
	defer db.Close()
	if err := db.QueryRowContext(ctx, "SELECT number FROM position").Scan(&number); err != nil {
		return "", 0, errors.Join(fmt.Errorf("store: copy: %w", err), os.Remove(path))
	}
	return path, number, nil
}

// leaving are the statements that make records those of a host alone.
var leaving = []string{
	"DELETE FROM position", "DELETE FROM placement", "DELETE FROM shards", "DELETE FROM orphans", "UPDATE documents SET taken = -1 WHERE taken != -1",
}

// Leave makes the records those of a host alone: they are no longer changed together with others.
func (s *Store) Leave(ctx context.Context) error {
	return s.alone(ctx, func(tx *Tx) error {
		for _, statement := range leaving {
			if _, err := tx.ExecContext(ctx, statement); err != nil {
				return fmt.Errorf("store: leave the cluster: %w", err)
			}
		}
		return nil
	})
}

// leaveIn is Leave for a file of records that no store has open.
func leaveIn(ctx context.Context, path string) error {
	db, err := sql.Open("sqlite", "file:"+path+"?_pragma=journal_mode(DELETE)")
	if err != nil {
		return fmt.Errorf("store: %w", err)
	}
	copied := &Store{db: db}
	return errors.Join(copied.Leave(ctx), db.Close())
}

// keep commits a change that has been accepted.
func (s *Store) keep(ctx context.Context, tx *sql.Tx, number uint64, change *Change) error {
	if _, err := tx.ExecContext(ctx, "UPDATE position SET number = ?", number); err != nil {
		return fmt.Errorf("store: change %d: %w", number, err)
	}
	if err := tx.Commit(); err != nil {
		return fmt.Errorf("store: change %d: %w", number, err)
	}
	err := s.removeFiles(change.Dropped)
	s.shared.pass(number) // what was dropped is gone by now
	return err
}

// Apply does a change that was made on another host, as the one with this number. One that is
// here already is left out.
func (s *Store) Apply(ctx context.Context, number uint64, change *Change) error {
	unlock, err := s.shared.lock(ctx)
	if err != nil {
		return err
	}
	defer unlock()
	if number <= s.shared.last() {
		return nil
	}
	if change.Schema > len(schema) {
		return fmt.Errorf("store: change %d was made by a newer version of the program (schema %d, this one knows %d); upgrade this host", number, change.Schema, len(schema))
	}
	tx, err := s.db.BeginTx(ctx, nil)
	if err != nil {
		return fmt.Errorf("store: change %d: %w", number, err)
	}
	defer tx.Rollback()
	for _, step := range change.Steps {
		result, err := tx.ExecContext(ctx, step.SQL, step.Args...)
		if err != nil {
			if IsFull(err) || ctx.Err() != nil {
				return fmt.Errorf("store: change %d: %w", number, err)
			}
			return fmt.Errorf("store: change %d: %w: %w", number, ErrDiverged, err)
		}
		if rows, err := result.RowsAffected(); err != nil || rows != step.Rows {
			return fmt.Errorf("store: change %d: %w: %d rows are changed here and %d there by %s", number, ErrDiverged, rows, step.Rows, step.SQL)
		}
	}
	return s.keep(ctx, tx, number, change)
}

// Reached waits until the change of a number, and all before it, are here.
func (s *Store) Reached(ctx context.Context, number uint64) error {
	for {
		s.shared.mu.Lock()
		last, passed := s.shared.number, s.shared.passed
		s.shared.mu.Unlock()
		if last >= number {
			return nil
		}
		select {
		case <-passed:
		case <-ctx.Done():
			return fmt.Errorf("store: change %d has not come here yet: %w", number, ctx.Err())
		}
	}
}

// Hold has changes wait until unlock is called.
func (s *Store) Hold(ctx context.Context) (unlock func(), err error) { return s.shared.lock(ctx) }

// Number returns the number of the last change that is here.
func (s *Store) Number() uint64 { return s.shared.last() }

func (h *sharing) lock(ctx context.Context) (unlock func(), err error) {
	select {
	case h.writing <- struct{}{}:
		return func() { <-h.writing }, nil
	case <-ctx.Done():
		return nil, ctx.Err()
	}
}

func (h *sharing) last() uint64 {
	h.mu.Lock()
	defer h.mu.Unlock()
	return h.number
}

func (h *sharing) pass(number uint64) {
	h.mu.Lock()
	defer h.mu.Unlock()
	h.number = number
	close(h.passed)
	h.passed = make(chan struct{})
}
