package server

import (
	"context"
	"encoding/hex"
	"strconv"
	"sync"
	"time"
)

// On several hosts each caller is held to the limits by all together: twice a second each host adds what
// it has let through to a count that they have in common, and learns what the others have. A caller may
// so ask for a little more than allowed, what half a second lets through, and no more.

// A tally is what callers asked for in the minute at hand, on all hosts.
type tally struct {
	count  func(ctx context.Context, key string, add int) (int, error)
	mu     sync.Mutex
	minute int64
	by     map[string]*tallied
}

// A tallied is what one caller asked for.
type tallied struct {
	requests, questions       int // of all hosts, as last known, with what was let through here since
	newRequests, newQuestions int // that the others do not know of
}

// tellEvery is how often the hosts tell each other.
const tellEvery = 500 * time.Millisecond

// newTally keeps the tally until ctx is done.
func newTally(ctx context.Context, count func(context.Context, string, int) (int, error)) *tally {
	t := &tally{count: count, by: map[string]*tallied{}}
	go func() {
		for tick := time.NewTicker(tellEvery); ; {
			select {
			case <-ctx.Done():
				tick.Stop()
				return
			case <-tick.C:
				t.tell(ctx)
			}
		}
	}()
	return t
}

// take counts a request, or says how long until there may be one more.
func (t *tally) take(name string, question bool, l Limits, now time.Time) error {
	t.mu.Lock()
	defer t.mu.Unlock()
	if minute := now.Unix() / 60; minute != t.minute {
		t.minute = minute
		clear(t.by)
	}
	c := t.by[name]
	if c == nil {
		c = &tallied{}
		t.by[name] = c
	}
	left := time.Duration(60-now.Unix()%60) * time.Second
	if l.Requests > 0 && c.requests >= l.Requests {
		return tooMany(l.Requests, "requests", left)
	}
	if question && l.Questions > 0 && c.questions >= l.Questions {
		return tooMany(l.Questions, "questions", left)
	}
	c.requests++
	c.newRequests++
	if question {
		c.questions++
		c.newQuestions++
	}
	return nil
}

// tell adds what was let through here to what the hosts have in common. What cannot be told is told later.
func (t *tally) tell(ctx context.Context) {
	t.mu.Lock()
	minute := t.minute
	active := map[string]tallied{}
	for name, c := range t.by {
		active[name] = *c
	}
	t.mu.Unlock()
	for name, c := range active {
		key := hex.EncodeToString([]byte(name)) + "." + strconv.FormatInt(minute, 10)
		requests, err := t.count(ctx, key+".requests", c.newRequests)
		if err != nil {
			return
		}
		t.note(name, minute, func(now *tallied) {
			now.newRequests -= c.newRequests
			now.requests = requests + now.newRequests
		})
		questions, err := t.count(ctx, key+".questions", c.newQuestions)
		if err != nil {
			return
		}
		t.note(name, minute, func(now *tallied) {
			now.newQuestions -= c.newQuestions
			now.questions = questions + now.newQuestions
		})
	}
}

// note changes what is known of a caller, if it is still the same minute.
func (t *tally) note(name string, minute int64, change func(*tallied)) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if c := t.by[name]; c != nil && t.minute == minute {
		change(c)
	}
}
