package ledger

import (
	"context"
	"encoding/binary"
	"encoding/json"
	"errors"
	"fmt"

	"github.com/nats-io/nats.go/jetstream"
)

// Facts that are kept without an end.
const (
	factTerms    = "terms"
	factFounded  = "founded"
	factTrimmed  = "trimmed"
	factSnapshot = "snapshot"
)

// Found sets terms to what was agreed on when the cluster was founded; that is offered if nobody
// was before.
func (l *Ledger) Found(ctx context.Context, terms, offered any) error {
	data, err := json.Marshal(offered)
	if err != nil {
		return fmt.Errorf("ledger: %w", err)
	}
	if _, err := l.facts.Create(ctx, factTerms, data); err != nil {
		entry, getting := l.facts.Get(ctx, factTerms)
		if getting != nil {
			return fmt.Errorf("ledger: found the cluster: %w", errors.Join(err, getting))
		}
		data = entry.Value()
	}
	if err := json.Unmarshal(data, terms); err != nil {
		return fmt.Errorf("ledger: terms of the cluster: %w", err)
	}
	return nil
}

// Founded notes that the first host has handed in its records.
func (l *Ledger) Founded(ctx context.Context) error {
	if _, err := l.facts.Put(ctx, factFounded, nil); err != nil {
		return fmt.Errorf("ledger: %w", err)
	}
	return nil
}

// IsFounded tells whether it has.
func (l *Ledger) IsFounded(ctx context.Context) (bool, error) {
	_, err := l.facts.Get(ctx, factFounded)
	if errors.Is(err, jetstream.ErrKeyNotFound) {
		return false, nil
	}
	if err != nil {
		return false, fmt.Errorf("ledger: %w", err)
	}
	return true, nil
}

// Trimmed returns the number up to which changes are only in a snapshot; 0 for none.
func (l *Ledger) Trimmed(ctx context.Context) (uint64, error) {
	entry, err := l.facts.Get(ctx, factTrimmed)
	if errors.Is(err, jetstream.ErrKeyNotFound) {
		return 0, nil
	}
	if err != nil {
		return 0, fmt.Errorf("ledger: %w", err)
	}
	if len(entry.Value()) != 8 {
		return 0, errors.New("ledger: what it says of where it begins is damaged")
	}
	return binary.LittleEndian.Uint64(entry.Value()), nil
}
