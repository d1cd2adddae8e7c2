package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"slices"
)

// On several hosts a collection's index lies in shards. What each holds is part of the records, so
// that a document is ready on all hosts in the same step in which it can be found on them.

// A Shard is a part of a collection's index, as it is searched.
type Shard struct {
	Collection string // id
	Shard      int
	Generation uint64
	Manifest   json.RawMessage
	Totals     json.RawMessage
}

// Shards returns the shards of a collection, or of all if that is empty, that hold anything.
func (s *Store) Shards(ctx context.Context, collection string) ([]Shard, error) {
	query, args := "SELECT collection, shard, generation, manifest, totals FROM shards", []any{}
	if collection != "" {
		query, args = query+" WHERE collection = ?", []any{collection}
	}
	rows, err := s.db.QueryContext(ctx, query+" ORDER BY collection, shard", args...)
	if err != nil {
		return nil, fmt.Errorf("store: shards: %w", err)
	}
	defer rows.Close()
	var out []Shard
	for rows.Next() {
		var sh Shard
		var manifest, totals string
		if err := rows.Scan(&sh.Collection, &sh.Shard, &sh.Generation, &manifest, &totals); err != nil {
			return nil, fmt.Errorf("store: shards: %w", err)
		}
		sh.Manifest, sh.Totals = json.RawMessage(manifest), json.RawMessage(totals)
		out = append(out, sh)
	}
	return out, rows.Err()
}

// ForgetShards has the shards of a collection made anew from nothing.
func (s *Store) ForgetShards(ctx context.Context, collection string) error {
	return s.inTx(ctx, func(tx *Tx) error {
		for _, query := range []string{
			"UPDATE shards SET generation = generation + 1, manifest = '', totals = '{}' WHERE collection = ?",
			"DELETE FROM orphans WHERE collection = ?",
			"UPDATE documents SET taken = -1 WHERE collection = ?",
		} {
			if _, err := tx.ExecContext(ctx, query, collection); err != nil {
				return fmt.Errorf("store: shards: %w", err)
			}
		}
		return nil
	})
}

// A Taken is a document that a shard has taken in.
type Taken struct {
	Revision int
	Counts   Counts
}

// ErrOutdated says that a shard, or a document, is no longer as it was when something was made of it.
var ErrOutdated = errors.New("it has changed meanwhile")

// PublishShard makes a new state of a shard the one that is searched, in the place of the one of a
// generation. The documents that it has taken in are ready, those that they replace are replaced,
// and those that it let go of are forgotten. ErrOutdated says that another host was first, or that
// a document has changed meanwhile.
func (s *Store) PublishShard(ctx context.Context, sh *Shard, before uint64, taken map[string]Taken, replaced, gone []string) error {
	return s.inTx(ctx, func(tx *Tx) error {
		var generation uint64
		if err := tx.QueryRowContext(ctx, "SELECT coalesce(max(generation), 0) FROM shards WHERE collection = ? AND shard = ?", sh.Collection, sh.Shard).Scan(&generation); err != nil {
			return fmt.Errorf("store: shard: %w", err)
		}
		if generation != before {
			return fmt.Errorf("store: shard %d: %w", sh.Shard, ErrOutdated)
		}
		if _, err := tx.ExecContext(ctx, "INSERT OR REPLACE INTO shards (collection, shard, generation, manifest, totals) VALUES (?, ?, ?, ?, ?)",
			sh.Collection, sh.Shard, sh.Generation, string(sh.Manifest), string(sh.Totals)); err != nil {
			return fmt.Errorf("store: shard: %w", err)
		}
		for _, id := range slices.Sorted(maps.Keys(taken)) {
			if err := take(ctx, tx, id, taken[id]); err != nil {
				return err
			}
		}
		for _, id := range replaced {
			if _, err := tx.ExecContext(ctx, "UPDATE documents SET state = ?, changed = ? WHERE id = ?", Replaced, now(), id); err != nil {
				return fmt.Errorf("store: shard: %w", err)
			}
		}
		for _, id := range gone {
			if _, err := tx.ExecContext(ctx, "DELETE FROM orphans WHERE document = ?", id); err != nil {
				return fmt.Errorf("store: shard: %w", err)
			}
			if _, err := tx.ExecContext(ctx, "UPDATE documents SET taken = -1 WHERE id = ?", id); err != nil {
				return fmt.Errorf("store: shard: %w", err)
			}
		}
		return nil
	})
}

// take marks a document as taken in.
func take(ctx context.Context, tx *Tx, id string, t Taken) error {
	err := one(tx.ExecContext(ctx, `UPDATE documents SET state = 'ready', passages = ?, encoded = ?, taken = revision, changed = ?
		WHERE id = ? AND revision = ? AND state IN ('indexing', 'ready')`, t.Counts.Passages, t.Counts.Encoded, now(), id, t.Revision))
	if errors.Is(err, ErrNotFound) {
		return fmt.Errorf("store: document %s: %w", id, ErrOutdated)
	}
	if err != nil {
		return fmt.Errorf("store: shard: %w", err)
	}
	return nil
}

// Stale returns the documents that shards are to take in, for the first time or again, in the order
// in which they came.
func (s *Store) Stale(ctx context.Context) ([]Document, error) {
	return s.documents(ctx, `WHERE state IN ('indexing', 'ready') AND revision != taken ORDER BY added, id`)
}

// Unbuilt returns the names of ready documents of a collection that no shard has: shards are made anew.
func (s *Store) Unbuilt(ctx context.Context, collection string) ([]string, error) {
	return texts(s.db.QueryContext(ctx, "SELECT name FROM documents INDEXED BY documents_stale WHERE collection = ? AND state IN ('indexing', 'ready') AND revision != taken AND state = 'ready' AND taken = -1", collection))
}

// A Dead document is one that a shard has and nobody is to find.
type Dead struct{ ID, Collection, Name string }

// dead are the documents of which that holds; few at any time.
const dead = `SELECT id, collection, name FROM documents INDEXED BY documents_dead WHERE state IN ('removed', 'replaced', 'failed') AND taken != -1
	UNION ALL SELECT document, collection, name FROM orphans`

// Dead returns those of a collection, or of all if that is empty.
func (s *Store) Dead(ctx context.Context, collection string) ([]Dead, error) {
	rows, err := s.db.QueryContext(ctx, "SELECT id, collection, name FROM ("+dead+") WHERE ? IN ('', collection)", collection)
	if err != nil {
		return nil, fmt.Errorf("store: dead documents: %w", err)
	}
	defer rows.Close()
	var out []Dead
	for rows.Next() {
		var d Dead
		if err := rows.Scan(&d.ID, &d.Collection, &d.Name); err != nil {
			return nil, fmt.Errorf("store: dead documents: %w", err)
		}
		out = append(out, d)
	}
	return out, rows.Err()
}

// Renew has shards take documents in again: all of a collection, or those of a content.
func (s *Store) Renew(ctx context.Context, collection, sum string) error {
	_, err := s.exec(ctx, "UPDATE documents SET revision = revision + 1 WHERE (collection = ? OR sha256 = ?) AND state IN ('ready', 'indexing')", collection, sum)
	if err != nil {
		return fmt.Errorf("store: renew: %w", err)
	}
	return nil
}

// RenewEncoded has shards take a document in again, whose vectors are all there now.
func (s *Store) RenewEncoded(ctx context.Context, id string) error {
	_, err := s.exec(ctx, `UPDATE documents SET revision = revision + 1 WHERE id = ? AND state = 'ready' AND encoded < passages AND revision = taken`, id)
	if err != nil {
		return fmt.Errorf("store: renew: %w", err)
	}
	return nil
}

// Placement returns which hosts have each shard, the one that writes it first.
func (s *Store) Placement(ctx context.Context) (map[int][]string, error) {
	rows, err := s.db.QueryContext(ctx, "SELECT shard, hosts FROM placement")
	if err != nil {
		return nil, fmt.Errorf("store: placement: %w", err)
	}
	defer rows.Close()
	out := map[int][]string{}
	for rows.Next() {
		var shard int
		var raw string
		if err := rows.Scan(&shard, &raw); err != nil {
			return nil, fmt.Errorf("store: placement: %w", err)
		}
		var hosts []string
		if err := json.Unmarshal([]byte(raw), &hosts); err != nil {
			return nil, fmt.Errorf("store: placement: %w", err)
		}
		out[shard] = hosts
	}
	return out, rows.Err()
}

// Place says which hosts have shards from now on.
func (s *Store) Place(ctx context.Context, placement map[int][]string) error {
	return s.inTx(ctx, func(tx *Tx) error {
		for shard, hosts := range placement {
			raw, err := json.Marshal(hosts)
			if err != nil {
				return fmt.Errorf("store: placement: %w", err)
			}
			if _, err := tx.ExecContext(ctx, "INSERT OR REPLACE INTO placement (shard, hosts) VALUES (?, ?)", shard, string(raw)); err != nil {
				return fmt.Errorf("store: placement: %w", err)
			}
		}
		return nil
	})
}

// Ready returns the ids of the documents of a collection that are ready, sorted.
func (s *Store) Ready(ctx context.Context, collection string) ([]string, error) {
	return texts(s.db.QueryContext(ctx, "SELECT id FROM documents WHERE collection = ? AND state = 'ready' ORDER BY id", collection))
}

// ReadyNamed returns the ids of the documents of a name that are ready.
func (s *Store) ReadyNamed(ctx context.Context, collection, name string) ([]string, error) {
	return texts(s.db.QueryContext(ctx, "SELECT id FROM documents WHERE collection = ? AND name = ? AND state = 'ready' ORDER BY id", collection, name))
}
