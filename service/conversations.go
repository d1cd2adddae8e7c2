package service

import (
	"context"
	"encoding/json"
	"fmt"
	"net/url"
	"strings"
	"time"

	"jardinet/answer"
	"jardinet/measure"
	"jardinet/store"
)

// A Conversation is questions that were asked one after another and are kept.
type Conversation struct {
	ID      string    `json:"id"`
	Created time.Time `json:"created"`
	Changed time.Time `json:"changed"`
	First   string    `json:"first"` // question
	Turns   []Turn    `json:"turns,omitempty"`
}

// A Turn is one question of a conversation with its answer.
type Turn struct {
	Asked    time.Time      `json:"asked"`
	Question string         `json:"question"`
	Answer   *answer.Answer `json:"answer"`
}

// earlier returns the questions of a kept conversation.
func (s *Service) earlier(ctx context.Context, c *collection, id string) ([]string, error) {
	kept, err := s.store.Conversation(ctx, c.ID, id)
	if err != nil {
		return nil, fmt.Errorf("conversation %q: %w", id, err)
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
	a.Conversation, err = s.store.AddTurn(ctx, c.ID, id, a.Question, data)
	return err
}

// Conversations returns a collection's kept conversations without their turns,
// the latest first.
func (s *Service) Conversations(ctx context.Context, collection string) ([]Conversation, error) {
	c, err := s.named(collection)
	if err != nil {
		return nil, err
	}
	all, err := s.store.Conversations(ctx, c.ID)
	if err != nil {
		return nil, err
	}
	out := []Conversation{}
	for _, k := range all {
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
	kept, err := s.store.Conversation(ctx, c.ID, id)
	if err != nil {
		return nil, fmt.Errorf("conversation %q: %w", id, err)
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
		out.Turns = append(out.Turns, Turn{t.Asked, t.Question, a})
	}
	return out, nil
}

// RemoveConversation removes a kept conversation.
func (s *Service) RemoveConversation(ctx context.Context, collection, id string) error {
	c, err := s.named(collection)
	if err != nil {
		return err
	}
	if err := s.store.RemoveConversation(ctx, c.ID, id); err != nil {
		return fmt.Errorf("conversation %q: %w", id, err)
	}
	return nil
}

// Markdown words a conversation for people, with links to the pages cited, which
// are relative to the service's address.
func (c *Conversation) Markdown(collection string) string {
	var b strings.Builder
	for _, t := range c.Turns {
		fmt.Fprintf(&b, "## %s\n\n", t.Question)
		if t.Answer.Short != "" {
			fmt.Fprintf(&b, "**%s**\n\n", t.Answer.Short)
		}
		if len(t.Answer.Statements) == 0 {
			fmt.Fprintf(&b, "%s\n\n", t.Answer.Text)
		}
		for _, s := range t.Answer.Statements {
			b.WriteString("> " + strings.ReplaceAll(s.Text, "\n", " "))
			for _, n := range s.Citations {
				fmt.Fprintf(&b, " [%d]", n)
			}
			b.WriteString("\n>\n")
		}
		b.WriteString("\n")
		for _, cite := range t.Answer.Citations {
			fmt.Fprintf(&b, "%d. [%s, page %d](/c/%s/pages/%s/%d)", cite.Number, cite.Document, cite.Page, url.PathEscape(collection), url.PathEscape(cite.Document), cite.Page)
			if len(cite.Section) > 0 {
				b.WriteString(", " + strings.Join(cite.Section, " › "))
			}
			b.WriteString("\n")
		}
		b.WriteString("\n")
	}
	return strings.TrimSpace(b.String()) + "\n"
}

// Questions makes a question set of a conversation: each answer as it was given,
// with the pages that it cites for its evidence, to be corrected by a person.
func (c *Conversation) Questions() []measure.Question {
	var out []measure.Question
	var after []string
	for i, t := range c.Turns {
		q := measure.Question{ID: fmt.Sprintf("%s-%d", strings.ToLower(c.ID), i+1), Question: t.Question, After: after}
		if t.Answer.State == answer.NotFound {
			q.Answerable = new(bool)
		} else if q.Answer = t.Answer.Short; q.Answer == "" && len(t.Answer.Statements) > 0 {
			q.Answer = t.Answer.Statements[0].Text
		}
		for _, cite := range t.Answer.Citations {
			q.Evidence = append(q.Evidence, measure.Evidence{Document: cite.Document, Page: cite.Page, Quote: cite.Quote})
		}
		out = append(out, q)
		after = append(after[:len(after):len(after)], t.Question)
	}
	return out
}
