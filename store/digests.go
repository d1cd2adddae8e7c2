package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
)

// Undigested returns ready documents that can be found by meaning and have no digest of a version,
// the newest first, at most so many.
func (s *Store) Undigested(ctx context.Context, version, most int) ([]Document, error) {
	return s.documents(ctx, "WHERE state = 'ready' AND encoded >= passages AND NOT EXISTS (SELECT 1 FROM digests d WHERE d.document = documents.id AND d.version = ?) ORDER BY added DESC, id LIMIT ?", version, most)
}

// SetDigest keeps the digest of a document. One that is gone meanwhile has none.
func (s *Store) SetDigest(ctx context.Context, document string, version int, data []byte) error {
	_, err := s.exec(ctx, "INSERT OR REPLACE INTO digests (document, version, data) SELECT id, ?, ? FROM documents WHERE id = ?", version, data, document)
	if err != nil {
		return fmt.Errorf("store: digests: %w", err)
	}
	return nil
}

// Digest returns the digest of a document, ErrNotFound as long as there is none of a version.
func (s *Store) Digest(ctx context.Context, document string, version int) ([]byte, error) {
	var data []byte
	err := s.db.QueryRowContext(ctx, "SELECT data FROM digests WHERE document = ? AND version = ?", document, version).Scan(&data)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, ErrNotFound
	}
	if err != nil {
		return nil, fmt.Errorf("store: digests: %w", err)
	}
	return data, nil
}

// DropDigests has the digests and sheets of documents with some content made again.
func (s *Store) DropDigests(ctx context.Context, sum string) error {
	return s.inTx(ctx, func(tx *Tx) error { return dropDigests(ctx, tx, "sha256", sum) })
}

// dropDigests drops those of the documents of which a column has a value.
func dropDigests(ctx context.Context, tx *Tx, column, value string) error {
	for _, kept := range []string{"digests", "sheets"} {
		if _, err := tx.ExecContext(ctx, "DELETE FROM "+kept+" WHERE document IN (SELECT id FROM documents WHERE "+column+" = ?)", value); err != nil {
			return fmt.Errorf("store: digests: %w", err)
		}
	}
	return nil
}

// SetSheet keeps the questions that a document answers.
func (s *Store) SetSheet(ctx context.Context, document string, data any) error {
	raw, err := json.Marshal(data)
	if err != nil {
		return fmt.Errorf("store: sheets: %w", err)
	}
	_, err = s.exec(ctx, "INSERT OR REPLACE INTO sheets (document, data) SELECT id, ? FROM documents WHERE id = ?", string(raw), document)
	return err
}

// Sheet returns the questions that a document answers, ErrNotFound as long as they are not made.
func (s *Store) Sheet(ctx context.Context, document string) (json.RawMessage, error) {
	var data string
	err := s.db.QueryRowContext(ctx, "SELECT data FROM sheets WHERE document = ?", document).Scan(&data)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, ErrNotFound
	}
	return json.RawMessage(data), err
}

// SetDigestEdit keeps what an editor made of a line of a document's digest; nil takes it back.
func (s *Store) SetDigestEdit(ctx context.Context, collection, name, line string, data any) error {
	if data == nil {
		_, err := s.exec(ctx, "DELETE FROM digest_edits WHERE collection = ? AND name = ? AND line = ?", collection, name, line)
		return err
	}
	raw, err := json.Marshal(data)
	if err != nil {
		return fmt.Errorf("store: digests: %w", err)
	}
	_, err = s.exec(ctx, "INSERT OR REPLACE INTO digest_edits (collection, name, line, data) VALUES (?, ?, ?, ?)", collection, name, line, string(raw))
	return err
}

// DigestEdits returns what editors made of the lines of a document's digest, by the lines' hashes.
func (s *Store) DigestEdits(ctx context.Context, collection, name string) (map[string]json.RawMessage, error) {
	rows, err := s.db.QueryContext(ctx, "SELECT line, data FROM digest_edits WHERE collection = ? AND name = ?", collection, name)
	if err != nil {
		return nil, fmt.Errorf("store: digests: %w", err)
	}
	defer rows.Close()
	out := map[string]json.RawMessage{}
	for rows.Next() {
		var line, data string
		if err := rows.Scan(&line, &data); err != nil {
			return nil, fmt.Errorf("store: digests: %w", err)
		}
		out[line] = json.RawMessage(data)
	}
	return out, rows.Err()
}
