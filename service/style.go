package service

import (
	"context"
	"encoding/json"
	"fmt"
	"sync"
	"time"

	"jardinet/answer"
	"jardinet/modelapi"
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

// A reserved is what answers under way may cost, beside what is spent.
type reserved struct {
	sync.Mutex
	tokens  int
	payment float64
}

// reserve takes what an answer may cost at most from a collection's budget for today, so that
// many at once cannot pass it together. settle gives it back, and notes what it did cost; it is
// nil if there is too little left.
func (s *Service) reserve(ctx context.Context, c *collection, m *answer.Model) (settle func(modelapi.Usage) error, err error) {
	most := m.Most()
	r := &c.reserved
	r.Lock()
	defer r.Unlock()
	tokens, paid, err := s.store.Spent(ctx, c.ID, today())
	if err != nil {
		return nil, err
	}
	need, cost := most.Prompt+most.Completion, m.Cost(most)
	if m.MostTokens > 0 && tokens+r.tokens+need > m.MostTokens || m.MostPayment > 0 && paid+r.payment+cost > m.MostPayment {
		return nil, nil
	}
	r.tokens += need
	r.payment += cost
	return func(used modelapi.Usage) error {
		r.Lock()
		defer r.Unlock()
		r.tokens -= need
		r.payment -= cost
		if used == (modelapi.Usage{}) {
			return nil
		}
		return s.store.Spend(context.WithoutCancel(ctx), c.ID, today(), used.Prompt+used.Completion, m.Cost(used))
	}, nil
}
