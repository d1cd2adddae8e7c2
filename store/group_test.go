package store

import (
	"context"
	"errors"
	"fmt"
	"reflect"
	"runtime"
	"sync"
	"sync/atomic"
	"testing"
)

// TestGroup has transactions wait for one that is being proposed, and finds them done as one change:
// but for one that fails, which leaves nothing behind, and one that is no longer wanted.
func TestGroup(t *testing.T) {
	stores, o := share(t, 2)
	s := stores[0]
	c := create(t, s, "garden")
	propose, entered, gate := s.shared.propose, make(chan struct{}), make(chan struct{})
	var proposed atomic.Int32
	s.shared.propose = func(ctx context.Context, after uint64, change *Change) (uint64, error) {
		if proposed.Add(1) == 1 {
			close(entered)
			<-gate
		}
		return propose(ctx, after, change)
	}
	var writing sync.WaitGroup
	writing.Go(func() {
		if err := s.SetDescription(t.Context(), c.ID, "before the others"); err != nil {
			t.Error(err)
		}
	})
	<-entered
	errs := make([]error, 10)
	ctx, cancel := context.WithCancel(t.Context())
	unwanted := make(chan struct{})
	for i := range errs {
		writing.Go(func() {
			switch i {
			case 3: // it does something before it fails
				errs[i] = s.inTx(t.Context(), func(tx *Tx) error {
					if _, err := tx.ExecContext(t.Context(), "INSERT INTO tags (collection, name, tag) VALUES (?, ?, ?)", c.ID, "x", "y"); err != nil {
						return err
					}
					return ErrNotFound
				})
			case 4:
				_, _, errs[i] = s.AddDocument(ctx, c, "unwanted.pdf", "unwanted", 1)
				close(unwanted)
			default:
				_, _, errs[i] = s.AddDocument(t.Context(), c, fmt.Sprint(i, ".pdf"), fmt.Sprint("sum ", i), 1)
			}
		})
	}
	waiting := func() int {
		s.shared.mu.Lock()
		defer s.shared.mu.Unlock()
		return len(s.shared.waiting)
	}
	for waiting() < len(errs) {
		runtime.Gosched()
	}
	cancel()
	<-unwanted
	close(gate)
	writing.Wait()
	for i, err := range errs {
		want := map[int]error{3: ErrNotFound, 4: context.Canceled}[i]
		if !errors.Is(err, want) {
			t.Errorf("transaction %d: %v", i, err)
		}
	}
	if n := proposed.Load(); n != 2 {
		t.Errorf("%d changes were proposed", n)
	}
	if err := stores[1].Reached(t.Context(), uint64(len(o.changes))); err != nil {
		t.Fatal(err)
	}
	here, there := dump(t, s), dump(t, stores[1])
	if !reflect.DeepEqual(here, there) || len(here["documents"]) != 8 || len(here["tags"]) != 0 {
		t.Errorf("there are %d documents and %d tags, on the other host %d", len(here["documents"]), len(here["tags"]), len(there["documents"]))
	}
}

// TestGroupComesApart holds that a transaction whose error takes all others with it is done alone.
func TestGroupComesApart(t *testing.T) {
	stores, _ := share(t, 1)
	s := stores[0]
	c := create(t, s, "garden")
	group := []*wish{
		{ctx: t.Context(), do: func(tx *Tx) error {
			_, err := tx.ExecContext(t.Context(), "UPDATE collections SET description = ? WHERE id = ?", "done", c.ID)
			return err
		}, done: make(chan struct{})},
		{ctx: t.Context(), do: func(tx *Tx) error {
			_, err := tx.ExecContext(t.Context(), "no statement at all")
			return err
		}, done: make(chan struct{})},
	}
	s.shared.waiting = group
	s.lead(t.Context())
	if group[0].err != nil || group[1].err == nil {
		t.Errorf("they end with %v and %v", group[0].err, group[1].err)
	}
	if got, err := s.Collection(t.Context(), "garden"); err != nil || got.Description != "done" {
		t.Errorf("the collection is %+v, error %v", got, err)
	}
}
