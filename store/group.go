package store

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"time"

	sqlite "modernc.org/sqlite"
	sqlite3 "modernc.org/sqlite/lib"
)

// A change takes a round trip to the other hosts, and only one at a time is made of what was before it.
// So all transactions that wait on a host are done and proposed as one (group commit: DeWitt et al.,
// 1984): many wait no longer than one, and hosts that write at once get in each other's way less often.
// Each is in a savepoint of its own; one that fails leaves nothing behind and the others alone.

// A wish is a transaction that waits to be done.
type wish struct {
	ctx  context.Context
	do   func(*Tx) error
	err  error         // what came of it
	done chan struct{} // closed when that is known
}

// mostTogether is how many transactions are one change at most.
const mostTogether = 32

// write is inTx for a store that is shared.
func (s *Store) write(ctx context.Context, do func(*Tx) error) error {
	h := s.shared
	w := &wish{ctx: ctx, do: do, done: make(chan struct{})}
	h.mu.Lock()
	h.waiting = append(h.waiting, w)
	h.mu.Unlock()
	for {
		select {
		case <-w.done:
			return w.err
		case h.leading <- struct{}{}:
			s.lead(context.WithoutCancel(ctx))
			<-h.leading
		case <-ctx.Done():
			if h.withdraw(w) {
				return ctx.Err()
			}
			<-w.done // it is being done
			return w.err
		}
	}
}

// withdraw takes back a wish unless it is being done.
func (h *sharing) withdraw(w *wish) bool {
	h.mu.Lock()
	defer h.mu.Unlock()
	i := slices.Index(h.waiting, w)
	if i < 0 {
		return false
	}
	h.waiting = slices.Delete(h.waiting, i, i+1)
	return true
}

// take takes the wishes that have waited longest.
func (h *sharing) take() []*wish {
	h.mu.Lock()
	defer h.mu.Unlock()
	n := min(mostTogether, len(h.waiting))
	taken := h.waiting[:n:n]
	h.waiting = h.waiting[n:]
	return taken
}

// errApart says that transactions cannot be done together.
var errApart = errors.New("a transaction ended the ones beside it")

// lead does what waits.
func (s *Store) lead(ctx context.Context) {
	group := s.shared.take()
	if len(group) == 0 {
		return
	}
	err := s.settleGroup(ctx, group)
	if errors.Is(err, errApart) {
		for _, w := range group {
			w.finish(s.settleGroup(ctx, []*wish{w}))
		}
		return
	}
	for _, w := range group {
		w.finish(err)
	}
}

// finish tells whoever waits for a wish what came of it; err is what came of all of the group.
func (w *wish) finish(err error) {
	if err != nil {
		w.err = err
	}
	close(w.done)
}

// settleGroup does transactions until they were not overtaken by another host's.
func (s *Store) settleGroup(ctx context.Context, group []*wish) error {
	for {
		behind, err := s.attempt(ctx, group)
		if !errors.Is(err, ErrBehind) {
			return err
		}
		if err := s.overtaken(ctx, behind); err != nil {
			return err
		}
	}
}

// ErrOvertaken says that another host made a change that does not come here.
var ErrOvertaken = errors.New("another host has made a change that has not come here")

// comesWithin is how long the change of another host may take to come here.
const comesWithin = 5 * time.Second

// overtaken waits until the change is here that came first.
func (s *Store) overtaken(ctx context.Context, after uint64) error {
	within, cancel := context.WithTimeout(ctx, comesWithin)
	defer cancel()
	if s.Reached(within, after+1) != nil {
		return fmt.Errorf("store: %w", ErrOvertaken)
	}
	return nil
}

// attempt does transactions on what is here, as one change. It returns the number of the change before it.
func (s *Store) attempt(ctx context.Context, group []*wish) (after uint64, err error) {
	unlock, err := s.shared.lock(ctx)
	if err != nil {
		return 0, err
	}
	defer unlock()
	tx, err := s.db.BeginTx(ctx, nil)
	if err != nil {
		return 0, err
	}
	defer tx.Rollback()
	all := &Tx{tx, &Change{Schema: len(schema)}}
	for _, w := range group {
		if err := w.attempt(ctx, all, len(group) > 1); err != nil {
			return 0, err
		}
	}
	if len(all.change.Steps) == 0 {
		return 0, tx.Commit()
	}
	if err := s.CheckRoom(); err != nil { // or it would be kept by all others and not here
		return 0, err
	}
	after = s.shared.last()
	number, err := s.shared.propose(ctx, after, all.change)
	if err != nil {
		return after, err
	}
	// It is done now, whatever comes of it here.
	return after, s.keep(ctx, tx, number, all.change)
}

// attempt does one transaction of several, and notes what became of it. What it returns concerns all.
func (w *wish) attempt(ctx context.Context, all *Tx, several bool) error {
	if w.err = w.ctx.Err(); w.err != nil {
		return nil
	}
	if !several {
		w.err = w.do(all)
		return w.err
	}
	if _, err := all.Tx.ExecContext(ctx, "SAVEPOINT wish"); err != nil {
		return err
	}
	own := &Tx{all.Tx, &Change{}}
	w.err = w.do(own)
	if isFatal(w.err) {
		return errApart
	}
	if w.err != nil {
		if _, err := all.Tx.ExecContext(ctx, "ROLLBACK TO wish"); err != nil {
			return errApart
		}
		own.change = &Change{}
	}
	if _, err := all.Tx.ExecContext(ctx, "RELEASE wish"); err != nil {
		return errApart
	}
	all.change.Steps = append(all.change.Steps, own.change.Steps...)
	all.change.Dropped = append(all.change.Dropped, own.change.Dropped...)
	return nil
}

// isFatal says whether SQLite may have undone more than one statement because of an error.
func isFatal(err error) bool {
	var failed *sqlite.Error
	return errors.As(err, &failed) && failed.Code()&0xff != sqlite3.SQLITE_CONSTRAINT
}
