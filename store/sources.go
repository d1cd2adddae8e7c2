package store

import (
	"context"
	"encoding/json"
	"fmt"
)

// SetFields gives the documents of a name, in all versions, some fields beside those that they
// have; an empty value takes a field away.
func (s *Store) SetFields(ctx context.Context, collection, name string, fields map[string]string) error {
	return s.inTx(ctx, func(tx *Tx) error {
		for field, value := range fields {
			query, args := "DELETE FROM fields WHERE collection = ? AND name = ? AND field = ?", []any{collection, name, field}
			if value != "" {
				query, args = "INSERT OR REPLACE INTO fields (collection, name, field, value) VALUES (?, ?, ?, ?)", append(args, value)
			}
			if _, err := tx.ExecContext(ctx, query, args...); err != nil {
				return fmt.Errorf("store: fields: %w", err)
			}
		}
		return nil
	})
}

// SetOwnFields gives the documents of a name what a file says of itself, in those fields that they
// do not have yet.
func (s *Store) SetOwnFields(ctx context.Context, collection, name string, fields map[string]string) error {
	return s.inTx(ctx, func(tx *Tx) error {
		for field, value := range fields {
			if _, err := tx.ExecContext(ctx, "INSERT OR IGNORE INTO fields (collection, name, field, value) VALUES (?, ?, ?, ?)", collection, name, field, value); err != nil {
				return fmt.Errorf("store: fields: %w", err)
			}
		}
		return nil
	})
}

// A Source is where documents of a collection come from, again and again.
type Source struct {
	ID         string
	Collection string // id
	Data       json.RawMessage
	State      json.RawMessage // what is known of what is there
}

// AddSource keeps a source.
func (s *Store) AddSource(ctx context.Context, collection string, data any) (id string, err error) {
	raw, err := json.Marshal(data)
	if err != nil {
		return "", fmt.Errorf("store: source: %w", err)
	}
	id = NewID()
	_, err = s.exec(ctx, "INSERT INTO sources (id, collection, data) VALUES (?, ?, ?)", id, collection, string(raw))
	return id, err
}

// Sources returns the sources of a collection, or of all if that is empty, the oldest first.
func (s *Store) Sources(ctx context.Context, collection string) ([]Source, error) {
	rows, err := s.db.QueryContext(ctx, "SELECT id, collection, data, state FROM sources WHERE ? IN ('', collection) ORDER BY id", collection)
	if err != nil {
		return nil, fmt.Errorf("store: sources: %w", err)
	}
	defer rows.Close()
	var out []Source
	for rows.Next() {
		var one Source
		var data, state string
		if err := rows.Scan(&one.ID, &one.Collection, &data, &state); err != nil {
			return nil, fmt.Errorf("store: sources: %w", err)
		}
		one.Data, one.State = json.RawMessage(data), json.RawMessage(state)
		out = append(out, one)
	}
	return out, rows.Err()
}

// SetSource records a source as it is now, and what is known of what is there.
func (s *Store) SetSource(ctx context.Context, id string, data, state any) error {
	raw, err := json.Marshal(data)
	if err != nil {
		return fmt.Errorf("store: source: %w", err)
	}
	known, err := json.Marshal(state)
	if err != nil {
		return fmt.Errorf("store: source: %w", err)
	}
	return one(s.exec(ctx, "UPDATE sources SET data = ?, state = ? WHERE id = ?", string(raw), string(known), id))
}

// RemoveSource forgets a source; what came from it stays.
func (s *Store) RemoveSource(ctx context.Context, collection, id string) error {
	return one(s.exec(ctx, "DELETE FROM sources WHERE collection = ? AND id = ?", collection, id))
}
