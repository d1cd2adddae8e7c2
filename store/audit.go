package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"iter"
	"time"

	"jardinet/access"
)

// AddAudit adds entries to the audit in one step, numbering and chaining them.
func (s *Store) AddAudit(ctx context.Context, entries []*access.Entry) error {
	err := s.inTx(ctx, func(tx *Tx) error {
		end, err := lastAudit(ctx, tx)
		if err != nil {
			return err
		}
		for _, e := range entries {
			e.Number, e.Before = end.Number+1, end.Sum
			data, err := json.Marshal(e)
			if err != nil {
				return err
			}
			if _, err := tx.ExecContext(ctx, "INSERT INTO audit (number, at, entry) VALUES (?, ?, ?)", e.Number, stamp(e.At), string(data)); err != nil {
				return err
			}
			*end = access.Chain{Number: e.Number, Sum: access.Sum(data)}
		}
		return nil
	})
	if err != nil {
		return fmt.Errorf("store: audit: %w", err)
	}
	return nil
}

// lastAudit finds the last entry. Its hash is not kept beside it, so that it is always made of
// what stands there.
func lastAudit(ctx context.Context, tx *Tx) (*access.Chain, error) {
	var end access.Chain
	var entry string
	err := tx.QueryRowContext(ctx, "SELECT number, entry FROM audit ORDER BY number DESC LIMIT 1").Scan(&end.Number, &entry)
	if errors.Is(err, sql.ErrNoRows) {
		return auditStart(tx.QueryRowContext(ctx, startOfAudit))
	}
	if err != nil {
		return nil, fmt.Errorf("store: audit: %w", err)
	}
	end.Sum = access.Sum([]byte(entry))
	return &end, nil
}

// AuditStart returns what the first entry follows: the last that was let go of.
func (s *Store) AuditStart(ctx context.Context) (*access.Chain, error) {
	return auditStart(s.db.QueryRowContext(ctx, startOfAudit))
}

const startOfAudit = "SELECT number, sum FROM audit_start"

func auditStart(row *sql.Row) (*access.Chain, error) {
	var start access.Chain
	if err := row.Scan(&start.Number, &start.Sum); err != nil {
		return nil, fmt.Errorf("store: audit: %w", err)
	}
	return &start, nil
}

// Audit yields the entries since a time as they are kept, in order or the latest first.
func (s *Store) Audit(ctx context.Context, since time.Time, latest bool) iter.Seq2[[]byte, error] {
	order := "ASC"
	if latest {
		order = "DESC"
	}
	return func(yield func([]byte, error) bool) {
		rows, err := s.db.QueryContext(ctx, "SELECT entry FROM audit WHERE at >= ? ORDER BY number "+order, stamp(since))
		if err != nil {
			yield(nil, fmt.Errorf("store: audit: %w", err))
			return
		}
		defer rows.Close()
		for rows.Next() {
			var entry string
			if err := rows.Scan(&entry); err != nil {
				yield(nil, fmt.Errorf("store: audit: %w", err))
				return
			}
			if !yield([]byte(entry), nil) {
				return
			}
		}
		if err := rows.Err(); err != nil {
			yield(nil, fmt.Errorf("store: audit: %w", err))
		}
	}
}

// TrimAudit lets go of entries from before a time, but for the last one.
func (s *Store) TrimAudit(ctx context.Context, before time.Time) error {
	return s.inTx(ctx, func(tx *Tx) error {
		var number int64
		var entry string
		err := tx.QueryRowContext(ctx, `SELECT number, entry FROM audit WHERE at < ? AND number < (SELECT max(number) FROM audit)
			ORDER BY number DESC LIMIT 1`, stamp(before)).Scan(&number, &entry)
		if errors.Is(err, sql.ErrNoRows) {
			return nil
		}
		if err != nil {
			return fmt.Errorf("store: audit: %w", err)
		}
		if _, err := tx.ExecContext(ctx, "UPDATE audit_start SET number = ?, sum = ?", number, access.Sum([]byte(entry))); err != nil {
			return fmt.Errorf("store: audit: %w", err)
		}
		if _, err := tx.ExecContext(ctx, "DELETE FROM audit WHERE number <= ?", number); err != nil {
			return fmt.Errorf("store: audit: %w", err)
		}
		return nil
	})
}
