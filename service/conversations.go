package service

import (
	"context"
	"encoding/json"
	"fmt"

	"jardinet/access"
	"jardinet/answer"
	"jardinet/store"
)

// conversationOf returns a kept conversation, if the caller may see it.
func (s *Service) conversationOf(ctx context.Context, c *collection, id string) (*store.Conversation, error) {
	kept, err := s.store.Conversation(ctx, c.ID, id)
	if own, others := c.asker(ctx); err == nil && kept.Owner != own && !others {
		err = ErrNotFound
	}
	if err != nil {
		return nil, fmt.Errorf("conversation %q: %w", id, err)
	}
	return kept, nil
}

// earlier returns the questions of a kept conversation.
func (s *Service) earlier(ctx context.Context, c *collection, id string) ([]string, error) {
	kept, err := s.conversationOf(ctx, c, id)
	if err != nil {
		return nil, err
	}
	var out []string
	for _, t := range kept.Turns {
		out = append(out, t.Question)
	}
	return out, nil
}

// keep adds an answer to a conversation, a new one if id is empty.
func (s *Service) keep(ctx context.Context, c *collection, id string, a *answer.Answer) error {
	data, err := json.Marshal(a)
	if err != nil {
		return fmt.Errorf("service: keep an answer: %w", err)
	}
	a.Conversation, err = s.store.AddTurn(ctx, c.ID, id, access.From(ctx).ID, a.Question, data)
	return err
}

// Conversations returns the kept conversations of a collection that the caller may see, without
// their turns, the latest first.
func (s *Service) Conversations(ctx context.Context, collection string) ([]Conversation, error) {
	c, err := s.named(collection)
	if err != nil {
		return nil, err
	}
	all, err := s.store.Conversations(ctx, c.ID)
	if err != nil {
		return nil, err
	}
	own, others := c.asker(ctx)
	out := []Conversation{}
	for _, k := range all {
		if k.Owner != own && !others {
			continue
		}
		out = append(out, Conversation{ID: k.ID, Created: k.Created, Changed: k.Changed, First: k.Turns[0].Question})
	}
	return out, nil
}

// Conversation returns a kept conversation.
func (s *Service) Conversation(ctx context.Context, collection, id string) (*Conversation, error) {
	c, err := s.named(collection)
	if err != nil {
		return nil, err
	}
	kept, err := s.conversationOf(ctx, c, id)
	if err != nil {
		return nil, err
	}
	return conversation(kept)
}

func conversation(kept *store.Conversation) (*Conversation, error) {
	out := &Conversation{ID: kept.ID, Created: kept.Created, Changed: kept.Changed, First: kept.Turns[0].Question}
	for _, t := range kept.Turns {
		a := new(answer.Answer)
		if err := json.Unmarshal(t.Answer, a); err != nil {
			return nil, fmt.Errorf("service: conversation %s: %w", kept.ID, err)
		}
		out.Turns = append(out.Turns, Turn{Asked: t.Asked, Question: t.Question, Answer: a})
	}
	return out, nil
}

// RemoveConversation removes a kept conversation.
func (s *Service) RemoveConversation(ctx context.Context, collection, id string) error {
	c, err := s.named(collection)
	if err != nil {
		return err
	}
	if _, err := s.conversationOf(ctx, c, id); err != nil {
		return err
	}
	if err := s.store.RemoveConversation(ctx, c.ID, id); err != nil {
		return fmt.Errorf("conversation %q: %w", id, err)
	}
	return nil
}
