package store

import (
	"context"
	"crypto/sha256"
	"database/sql"
	"fmt"
	"slices"
	"strings"
)

// A VectorKey names the vector that an encoder makes of a text.
type VectorKey [16]byte

// KeyOf returns the key of what an encoder, named with its version, makes of a text.
func KeyOf(encoder, text string) VectorKey {
	sum := sha256.Sum256([]byte(encoder + "\x00" + text))
	return VectorKey(sum[:16])
}

// keysAtATime is how many vectors are asked for in one statement.
const keysAtATime = 500

// Vectors returns the kept vectors among those named, a signed byte a number.
func (s *Store) Vectors(ctx context.Context, keys []VectorKey) (map[VectorKey][]int8, error) {
	out := map[VectorKey][]int8{}
	for some := range slices.Chunk(keys, keysAtATime) {
		args := make([]any, len(some))
		for i := range some {
			args[i] = some[i][:]
		}
		rows, err := s.db.QueryContext(ctx, "SELECT hash, vector FROM vectors WHERE hash IN (?"+strings.Repeat(",?", len(some)-1)+")", args...)
		if err != nil {
			return nil, fmt.Errorf("store: vectors: %w", err)
		}
		if err := readVectors(rows, out); err != nil {
			return nil, fmt.Errorf("store: vectors: %w", err)
		}
	}
	return out, nil
}

func readVectors(rows *sql.Rows, out map[VectorKey][]int8) error {
	defer rows.Close()
	for rows.Next() {
		var hash, raw []byte
		if err := rows.Scan(&hash, &raw); err != nil {
			return err
		}
		v := make([]int8, len(raw))
		for i, b := range raw {
			v[i] = int8(b)
		}
		out[VectorKey(hash)] = v
	}
	return rows.Err()
}

// KeepVectors keeps vectors.
func (s *Store) KeepVectors(ctx context.Context, vectors map[VectorKey][]int8) error {
	err := s.inTx(ctx, func(tx *Tx) error {
		insert, err := tx.PrepareContext(ctx, "INSERT OR REPLACE INTO vectors VALUES (?, ?)")
		if err != nil {
			return err
		}
		defer insert.Close()
		for key, v := range vectors {
			raw := make([]byte, len(v))
			for i, n := range v {
				raw[i] = byte(n)
			}
			if _, err := insert.ExecContext(ctx, key[:], raw); err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		return fmt.Errorf("store: keep vectors: %w", err)
	}
	return nil
}

// DropVectors forgets vectors.
func (s *Store) DropVectors(ctx context.Context, keys []VectorKey) error {
	return s.inTx(ctx, func(tx *Tx) error {
		for i := range keys {
			if _, err := tx.ExecContext(ctx, "DELETE FROM vectors WHERE hash = ?", keys[i][:]); err != nil {
				return fmt.Errorf("store: drop vectors: %w", err)
			}
		}
		return nil
	})
}
