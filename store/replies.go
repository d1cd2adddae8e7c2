package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"time"
)

// A Reply is what a request was answered that named a key.
type Reply struct {
	Caller, Key string
	Request     string // its hash
	Status      int
	Kind        string // media type
	Body        []byte
}

// repliesFor is how long replies are kept.
const repliesFor = 24 * time.Hour

// KeepReply keeps what a request was answered for a day.
func (s *Store) KeepReply(ctx context.Context, r *Reply) error {
	return s.inTx(ctx, func(tx *Tx) error {
		if _, err := tx.ExecContext(ctx, "DELETE FROM replies WHERE at < ?", stamp(time.Now().Add(-repliesFor))); err != nil {
			return fmt.Errorf("store: replies: %w", err)
		}
		_, err := tx.ExecContext(ctx, "INSERT OR REPLACE INTO replies (caller, key, request, at, status, kind, body) VALUES (?, ?, ?, ?, ?, ?, ?)",
			r.Caller, r.Key, r.Request, now(), r.Status, r.Kind, r.Body)
		return err
	})
}

// Reply returns what a request with a key was answered, nil if there was none.
func (s *Store) Reply(ctx context.Context, caller, key string) (*Reply, error) {
	r := &Reply{Caller: caller, Key: key}
	err := s.db.QueryRowContext(ctx, "SELECT request, status, kind, body FROM replies WHERE caller = ? AND key = ? AND at >= ?", caller, key, stamp(time.Now().Add(-repliesFor))).
		Scan(&r.Request, &r.Status, &r.Kind, &r.Body)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, nil
	}
	if err != nil {
		return nil, fmt.Errorf("store: replies: %w", err)
	}
	return r, nil
}
