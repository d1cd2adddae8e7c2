package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
)

// Glossary returns a collection's glossary as it was given.
func (s *Store) Glossary(ctx context.Context, collection string) (json.RawMessage, error) {
	return s.setting(ctx, "glossary", collection)
}

// SetGlossary keeps a collection's glossary.
func (s *Store) SetGlossary(ctx context.Context, collection string, entries any) error {
	return s.setSetting(ctx, "glossary", collection, entries)
}

// Style returns a collection's house style as it was given.
func (s *Store) Style(ctx context.Context, collection string) (json.RawMessage, error) {
	return s.setting(ctx, "style", collection)
}

// SetStyle keeps a collection's house style.
func (s *Store) SetStyle(ctx context.Context, collection string, style any) error {
	return s.setSetting(ctx, "style", collection, style)
}

// Lessons returns what a collection has been taught, as it was given.
func (s *Store) Lessons(ctx context.Context, collection string) (json.RawMessage, error) {
	return s.setting(ctx, "lessons", collection)
}

// SetLessons keeps what a collection has been taught.
func (s *Store) SetLessons(ctx context.Context, collection string, lessons any) error {
	return s.setSetting(ctx, "lessons", collection, lessons)
}

func (s *Store) setting(ctx context.Context, column, collection string) (json.RawMessage, error) {
	var data string
	err := s.db.QueryRowContext(ctx, "SELECT "+column+" FROM collections WHERE id = ?", collection).Scan(&data)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, ErrNotFound
	}
	if err != nil {
		return nil, fmt.Errorf("store: %s: %w", column, err)
	}
	return json.RawMessage(data), nil
}

func (s *Store) setSetting(ctx context.Context, column, collection string, value any) error {
	data, err := json.Marshal(value)
	if err != nil {
		return fmt.Errorf("store: %w", err)
	}
	if err := one(s.exec(ctx, "UPDATE collections SET "+column+" = ? WHERE id = ?", string(data), collection)); err != nil {
		return fmt.Errorf("store: keep %s: %w", column, err)
	}
	return nil
}

// SetAbbreviations keeps what a document explains, as pairs of term and
// meaning, in place of what it explained before.
func (s *Store) SetAbbreviations(ctx context.Context, document string, pairs [][2]string) error {
	err := s.inTx(ctx, func(tx *Tx) error {
		if _, err := tx.ExecContext(ctx, "DELETE FROM abbreviations WHERE document = ?", document); err != nil {
			return err
		}
		for _, p := range pairs {
			if _, err := tx.ExecContext(ctx, "INSERT OR IGNORE INTO abbreviations VALUES (?, ?, ?)", document, p[0], p[1]); err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		return fmt.Errorf("store: keep abbreviations: %w", err)
	}
	return nil
}

// Abbreviations returns what the ready documents of a collection explain.
func (s *Store) Abbreviations(ctx context.Context, collection string) ([][2]string, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT DISTINCT term, means FROM abbreviations JOIN documents ON documents.id = document
		WHERE collection = ? AND state = ? ORDER BY term, means`, collection, string(Ready))
	if err != nil {
		return nil, fmt.Errorf("store: abbreviations: %w", err)
	}
	defer rows.Close()
	var out [][2]string
	for rows.Next() {
		var p [2]string
		if err := rows.Scan(&p[0], &p[1]); err != nil {
			return nil, fmt.Errorf("store: abbreviations: %w", err)
		}
		out = append(out, p)
	}
	return out, rows.Err()
}

// An Unknown is a word that readers asked for and no document has.
type Unknown struct {
	Word     string `json:"word"`
	Asked    int    `json:"asked"`    // how often
	Question string `json:"question"` // the last one with it
}

// CountUnknown notes that words of a question were asked for in vain.
func (s *Store) CountUnknown(ctx context.Context, collection, question string, words ...string) error {
	err := s.inTx(ctx, func(tx *Tx) error {
		for _, word := range words {
			_, err := tx.ExecContext(ctx, `INSERT INTO unknown_words VALUES (?, ?, 1, ?)
				ON CONFLICT DO UPDATE SET asked = asked + 1, question = excluded.question`, collection, word, question)
			if err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		return fmt.Errorf("store: count words: %w", err)
	}
	return nil
}

// Unknown returns the words asked for in vain, the most frequent first.
func (s *Store) Unknown(ctx context.Context, collection string, most int) ([]Unknown, error) {
	rows, err := s.db.QueryContext(ctx, "SELECT word, asked, question FROM unknown_words WHERE collection = ? ORDER BY asked DESC, word LIMIT ?", collection, most)
	if err != nil {
		return nil, fmt.Errorf("store: words asked for: %w", err)
	}
	defer rows.Close()
	out := []Unknown{}
	for rows.Next() {
		var u Unknown
		if err := rows.Scan(&u.Word, &u.Asked, &u.Question); err != nil {
			return nil, fmt.Errorf("store: words asked for: %w", err)
		}
		out = append(out, u)
	}
	return out, rows.Err()
}

// Spending is what outside models took of a collection's budget on a day, or may take.
type Spending struct {
	Tokens int
	Paid   float64
}

// Reserve adds to what is spent of a collection's budget of a day, if it is not more than most then, and
// tells whether it did. A limit of zero is none.
func (s *Store) Reserve(ctx context.Context, collection, day string, more, most Spending) (ok bool, err error) {
	err = s.inTx(ctx, func(tx *Tx) error {
		var now Spending
		err := tx.QueryRowContext(ctx, "SELECT tokens, paid FROM spending WHERE collection = ? AND day = ?", collection, day).Scan(&now.Tokens, &now.Paid)
		if err != nil && !errors.Is(err, sql.ErrNoRows) {
			return err
		}
		ok = (most.Tokens == 0 || now.Tokens+more.Tokens <= most.Tokens) && (most.Paid == 0 || now.Paid+more.Paid <= most.Paid)
		if !ok {
			return nil
		}
		_, err = tx.ExecContext(ctx, addSpending, collection, day, more.Tokens, more.Paid)
		return err
	})
	if err != nil {
		return false, fmt.Errorf("store: spending: %w", err)
	}
	return ok, nil
}

const addSpending = `INSERT INTO spending VALUES (?, ?, ?, ?)
	ON CONFLICT DO UPDATE SET tokens = max(0, tokens + excluded.tokens), paid = max(0, paid + excluded.paid)`

// Spend adds what an outside model took to a collection's account of a day; what it did not take of
// what was reserved is less than nothing.
func (s *Store) Spend(ctx context.Context, collection, day string, more Spending) error {
	if _, err := s.exec(ctx, addSpending, collection, day, more.Tokens, more.Paid); err != nil {
		return fmt.Errorf("store: spending: %w", err)
	}
	return nil
}
