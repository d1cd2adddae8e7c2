package service

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"jardinet/answer"
)

// Style returns how a collection's answers shall be.
func (s *Service) Style(ctx context.Context, collection string) (*answer.Style, error) {
	c, err := s.named(collection)
	if err != nil {
		return nil, err
	}
	return s.style(ctx, c)
}

func (s *Service) style(ctx context.Context, c *collection) (*answer.Style, error) {
	data, err := s.store.Style(ctx, c.ID)
	if err != nil {
		return nil, err
	}
	out := new(answer.Style)
	if err := json.Unmarshal(data, out); err != nil {
		return nil, fmt.Errorf("service: style of %s: %w", c.Name, err)
	}
	return out, nil
}

// SetStyle replaces it. It holds for the next question.
func (s *Service) SetStyle(ctx context.Context, collection string, style *answer.Style) error {
	c, err := s.named(collection)
	if err != nil {
		return err
	}
	if err := style.Validate(); err != nil {
		return fmt.Errorf("%w: %w", err, ErrInvalid)
	}
	return s.store.SetStyle(ctx, c.ID, style)
}

// today names the day that a budget is for.
func today() string { return time.Now().UTC().Format(time.DateOnly) }

// withinBudget tells whether a collection's model may be asked today.
func (s *Service) withinBudget(ctx context.Context, c *collection, m *answer.Model) (bool, error) {
	if m.MostTokens == 0 && m.MostPayment == 0 {
		return true, nil
	}
	tokens, paid, err := s.store.Spent(ctx, c.ID, today())
	if err != nil {
		return false, err
	}
	return (m.MostTokens == 0 || tokens < m.MostTokens) && (m.MostPayment == 0 || paid < m.MostPayment), nil
}

// spend notes what an answer took.
func (s *Service) spend(ctx context.Context, c *collection, m *answer.Model, out *answer.Answer) error {
	tokens := out.Usage.Prompt + out.Usage.Completion
	if tokens == 0 {
		return nil
	}
	return s.store.Spend(ctx, c.ID, today(), tokens, m.Cost(out.Usage))
}
