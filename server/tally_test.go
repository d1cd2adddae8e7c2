package server

import (
	"context"
	"errors"
	"sync"
	"testing"
	"time"
)

// TestLimitsHoldAcrossHosts has one caller ask two hosts, which tell each other.
func TestLimitsHoldAcrossHosts(t *testing.T) {
	var mu sync.Mutex
	counts := map[string]int{}
	away := false
	count := func(_ context.Context, key string, add int) (int, error) {
		mu.Lock()
		defer mu.Unlock()
		if away {
			return 0, errors.New("NATS is away")
		}
		counts[key] += add
		return counts[key], nil
	}
	one, two := &tally{count: count, by: map[string]*tallied{}}, &tally{count: count, by: map[string]*tallied{}}
	limits, now := Limits{Requests: 10, Questions: 4}, time.Unix(600, 0)
	let := func(t *tally, n int, question bool) (through int) {
		for range n {
			if t.take("gwen", question, limits, now) == nil {
				through++
			}
		}
		return through
	}
	if n := let(one, 3, true); n != 3 {
		t.Errorf("%d of 3 questions are let through", n)
	}
	one.tell(t.Context())
	let(two, 1, false) // it learns of her
	two.tell(t.Context())
	if n := let(two, 3, true); n != 1 {
		t.Errorf("the other host lets %d questions through, of which one is left", n)
	}
	two.tell(t.Context())
	one.tell(t.Context())
	if n := let(one, 20, false); n != 5 {
		t.Errorf("%d requests are let through, of which five are left", n)
	}
	away = true
	one.tell(t.Context())
	away = false
	one.tell(t.Context())
	two.tell(t.Context())
	if n := let(two, 5, false); n != 0 {
		t.Errorf("%d requests are let through once all are used up", n)
	}
	if now = now.Add(time.Minute); let(two, 5, false) != 5 {
		t.Error("in the next minute nothing is let through")
	}
	if err := two.take("mal", false, limits, now); err != nil {
		t.Errorf("somebody else is told %v", err)
	}
}
