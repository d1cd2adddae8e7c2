package ledger

import (
	"context"
	"encoding/binary"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"github.com/nats-io/nats.go/jetstream"
)

// A Snapshot is all records as they are after the change of a number, kept as a file, so that a new
// host need not do all changes there ever were.
type Snapshot struct {
	Number uint64    `json:"number"`
	Sum    string    `json:"sum"` // hash of the file
	Size   int64     `json:"size"`
	Made   time.Time `json:"made"`
}

// Latest returns the latest snapshot, nil if there is none.
func (l *Ledger) Latest(ctx context.Context) (*Snapshot, error) {
	s, _, err := l.latest(ctx)
	return s, err
}

func (l *Ledger) latest(ctx context.Context) (*Snapshot, uint64, error) {
	entry, err := l.facts.Get(ctx, factSnapshot)
	if errors.Is(err, jetstream.ErrKeyNotFound) {
		return nil, 0, nil
	}
	if err != nil {
		return nil, 0, fmt.Errorf("ledger: snapshot: %w", err)
	}
	s := new(Snapshot)
	if err := json.Unmarshal(entry.Value(), s); err != nil {
		return nil, 0, fmt.Errorf("ledger: snapshot: %w", err)
	}
	return s, entry.Revision(), nil
}

// Snapshot makes a file that is kept already the latest snapshot, and lets go of the one before
// it. An older one than the latest is not taken.
func (l *Ledger) Snapshot(ctx context.Context, s Snapshot) error {
	old, revision, err := l.latest(ctx)
	if err != nil {
		return err
	}
	if old != nil && old.Number >= s.Number {
		return nil
	}
	data, err := json.Marshal(s)
	if err != nil {
		return fmt.Errorf("ledger: snapshot: %w", err)
	}
	if _, err := l.facts.Update(ctx, factSnapshot, data, revision); err != nil {
		return fmt.Errorf("ledger: snapshot: %w", err)
	}
	if old != nil && old.Sum != s.Sum {
		return l.Remove(ctx, Records+old.Sum)
	}
	return nil
}

// Trim lets go of the changes up to a number that are in the latest snapshot. The last change
// always stays: the next one says that it follows it.
func (l *Ledger) Trim(ctx context.Context, number uint64) error {
	s, err := l.Latest(ctx)
	if err != nil {
		return err
	}
	if s == nil || number == 0 || number >= s.Number {
		return fmt.Errorf("ledger: changes up to %d are to be let go of, and the snapshot does not hold them", number)
	}
	if _, err := l.facts.Put(ctx, factTrimmed, binary.LittleEndian.AppendUint64(nil, number)); err != nil {
		return fmt.Errorf("ledger: trim: %w", err)
	}
	if err := l.stream.Purge(ctx, jetstream.WithPurgeSequence(number+1)); err != nil {
		return fmt.Errorf("ledger: trim: %w", err)
	}
	return nil
}
