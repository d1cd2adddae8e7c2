package service

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"jardinet/answer"
	"jardinet/modelapi"
	"jardinet/store"
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
	if out.Model != nil {
		out.Model.Policy = s.Outside
	}
	return out, nil
}

// SetStyle replaces it. It holds for the next question.
func (s *Service) SetStyle(ctx context.Context, collection string, style *answer.Style) error {
	c, err := s.named(collection)
	if err != nil {
		return err
	}
	if style.Model != nil {
		style.Model.Policy = s.Outside
	}
	if err := style.Validate(); err != nil {
		return fmt.Errorf("%w: %w", err, ErrInvalid)
	}
	return s.store.SetStyle(ctx, c.ID, style)
}

// today names the day that a budget is for.
func today() string { return time.Now().UTC().Format(time.DateOnly) }

// reservesWithin is how long an answer waits until its cost is taken from the budget; on several hosts
// all have to agree.
const reservesWithin = 3 * time.Second

// reserve takes what an answer may cost at most from a collection's budget for today, in the records, so
// that many at once cannot pass it together on any host. settle gives back what it did not cost; it is
// nil if there is too little left.
func (s *Service) reserve(ctx context.Context, c *collection, m *answer.Model) (settle func(modelapi.Usage) error, err error) {
	most, day := m.Most(), today()
	tokens, cost := most.Prompt+most.Completion, m.Cost(most)
	if m.MostTokens == 0 && m.MostPayment == 0 {
		tokens, cost = 0, 0
	} else {
		within, cancel := context.WithTimeout(ctx, reservesWithin)
		defer cancel()
		if ok, err := s.store.Reserve(within, c.ID, day, store.Spending{Tokens: tokens, Paid: cost}, store.Spending{Tokens: m.MostTokens, Paid: m.MostPayment}); err != nil || !ok {
			return nil, err
		}
	}
	return func(used modelapi.Usage) error {
		change := store.Spending{Tokens: used.Prompt + used.Completion - tokens, Paid: m.Cost(used) - cost}
		if change == (store.Spending{}) {
			return nil
		}
		return s.store.Spend(context.WithoutCancel(ctx), c.ID, day, change)
	}, nil
}
