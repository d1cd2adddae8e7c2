package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"time"
)

// A Conversation is questions that were asked one after another.
type Conversation struct {
	ID         string
	Collection string // id
	Created    time.Time
	Changed    time.Time
	Owner      string // the principal who asked
	Turns      []Turn
}

// A Turn is one question of a conversation with its answer.
type Turn struct {
	Asked    time.Time
	Question string
	Answer   json.RawMessage
}

// AddTurn keeps a question and its answer, in a new conversation of the owner if id is empty,
// and returns the conversation's id.
func (s *Store) AddTurn(ctx context.Context, collection, id, owner, question string, answer []byte) (string, error) {
	begins := id == ""
	if begins {
		id = NewID()
	}
	err := s.inTx(ctx, func(tx *Tx) error {
		if begins {
			if _, err := tx.ExecContext(ctx, "INSERT INTO conversations (id, collection, created, changed, owner) VALUES (?, ?, ?, ?, ?)", id, collection, now(), now(), owner); err != nil {
				return err
			}
		} else if err := one(tx.ExecContext(ctx, "UPDATE conversations SET changed = ? WHERE id = ? AND collection = ? AND owner = ?", now(), id, collection, owner)); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, `INSERT INTO turns SELECT ?, coalesce(max(number), 0) + 1, ?, ?, ? FROM turns WHERE conversation = ?`,
			id, now(), question, string(answer), id)
		return err
	})
	if err != nil {
		return "", fmt.Errorf("store: keep a question: %w", err)
	}
	return id, nil
}

// Conversations returns a collection's conversations with their first questions
// only, the latest first.
func (s *Store) Conversations(ctx context.Context, collection string) ([]Conversation, error) {
	return s.conversations(ctx, `WHERE c.collection = ? AND t.number = 1 ORDER BY c.changed DESC, c.id`, collection)
}

// Conversation returns a conversation of a collection with all its turns.
func (s *Store) Conversation(ctx context.Context, collection, id string) (*Conversation, error) {
	all, err := s.conversations(ctx, `WHERE c.collection = ? AND c.id = ? ORDER BY t.number`, collection, id)
	if err != nil {
		return nil, err
	}
	if len(all) == 0 {
		return nil, ErrNotFound
	}
	return &all[0], nil
}

// conversations gathers turns, which come in the order asked for, by
// conversation.
func (s *Store) conversations(ctx context.Context, where string, args ...any) ([]Conversation, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT c.id, c.collection, c.created, c.changed, c.owner, t.asked, t.question, t.answer
		FROM conversations c JOIN turns t ON t.conversation = c.id `+where, args...)
	if err != nil {
		return nil, fmt.Errorf("store: conversations: %w", err)
	}
	defer rows.Close()
	var out []Conversation
	for rows.Next() {
		var c Conversation
		var t Turn
		var created, changed, asked, answer string
		if err := rows.Scan(&c.ID, &c.Collection, &created, &changed, &c.Owner, &asked, &t.Question, &answer); err != nil {
			return nil, fmt.Errorf("store: conversations: %w", err)
		}
		t.Answer = json.RawMessage(answer)
		for at, text := range map[*time.Time]string{&c.Created: created, &c.Changed: changed, &t.Asked: asked} {
			if *at, err = time.Parse(timeFormat, text); err != nil {
				return nil, errors.Join(fmt.Errorf("store: conversation %s", c.ID), err)
			}
		}
		if n := len(out); n == 0 || out[n-1].ID != c.ID {
			out = append(out, c)
		}
		out[len(out)-1].Turns = append(out[len(out)-1].Turns, t)
	}
	return out, rows.Err()
}

// RemoveConversationsAbout removes the conversations in which documents are quoted, and returns
// how many there were.
func (s *Store) RemoveConversationsAbout(ctx context.Context, collection string, documents []string) (removed int, err error) {
	for _, id := range documents {
		result, err := s.exec(ctx, `DELETE FROM conversations WHERE collection = ? AND id IN
			(SELECT conversation FROM turns WHERE instr(answer, ?) > 0)`, collection, `"document_id":"`+id+`"`)
		if err != nil {
			return removed, fmt.Errorf("store: remove conversations: %w", err)
		}
		n, err := result.RowsAffected()
		if err != nil {
			return removed, fmt.Errorf("store: remove conversations: %w", err)
		}
		removed += int(n)
	}
	return removed, nil
}

// RemoveConversation removes a conversation.
func (s *Store) RemoveConversation(ctx context.Context, collection, id string) error {
	if err := one(s.exec(ctx, "DELETE FROM conversations WHERE id = ? AND collection = ?", id, collection)); err != nil {
		return fmt.Errorf("store: remove conversation: %w", err)
	}
	return nil
}
