package server

import (
	"fmt"
	"sync"
	"time"

	"golang.org/x/time/rate"

	"jardinet/access"
)

// Limits say how much one caller may ask for; zero is no limit.
type Limits struct {
	Requests  int // a minute, of one person, key or address
	Questions int // a minute
	AtOnce    int // questions that are being answered or wait, of all together
}

// A limiter holds callers to the limits.
type limiter struct {
	Limits
	mu      sync.Mutex
	buckets map[string]*bucket
	asking  chan struct{}
	shared  *tally // with other hosts; nil for one alone
}

type bucket struct {
	requests, questions *rate.Limiter
	used                time.Time
}

func newLimiter(l Limits) *limiter {
	return &limiter{Limits: l, buckets: map[string]*bucket{}, asking: make(chan struct{}, l.AtOnce)}
}

// answers are operations that have the reader read; only so many are at work at once.
var answers = map[string]bool{"ask": true, "askAcross": true}

// questions are those that are counted as questions: what looks through an index or a whole collection.
var questions = map[string]bool{"ask": true, "askAcross": true, "find": true, "list": true, "summarise": true, "getSheet": true}

// begin lets a question in unless too many are being answered or wait already; done has to
// be called after it.
func (l *limiter) begin(operation string) (done func(), err error) {
	if !answers[operation] || l.AtOnce == 0 {
		return func() {}, nil
	}
	select {
	case l.asking <- struct{}{}:
		return func() { <-l.asking }, nil
	default:
		return nil, &access.Wait{For: time.Second, Reason: fmt.Sprintf("%d questions are being answered already; try again in a moment", l.AtOnce)}
	}
}

func perMinute(n int) *rate.Limiter {
	if n == 0 {
		return rate.NewLimiter(rate.Inf, 0)
	}
	return rate.NewLimiter(rate.Limit(float64(n)/60), max(1, n/2))
}

// take counts an operation of a caller, and refuses one too many. As long as the service is
// open everybody is its operator, who is not held back.
func (l *limiter) take(who *access.Caller, address, operation string) error {
	if who.Is(access.Open) || who.Is(access.Starter) {
		return nil
	}
	name := "address " + address
	if who != nil {
		name = who.ID
	}
	if l.shared != nil {
		return l.shared.take(name, questions[operation], l.Limits, time.Now())
	}
	b := l.of(name)
	if wait := reserve(b.requests); wait > 0 {
		return tooMany(l.Requests, "requests", wait)
	}
	if questions[operation] {
		if wait := reserve(b.questions); wait > 0 {
			return tooMany(l.Questions, "questions", wait)
		}
	}
	return nil
}

// tooMany says how long to wait for one more of what there may be so many of a minute.
func tooMany(most int, what string, left time.Duration) error {
	return &access.Wait{For: left, Reason: fmt.Sprintf("more than %d %s a minute; slow down", most, what)}
}

// reserve takes one, or says how long until there is one.
func reserve(l *rate.Limiter) time.Duration {
	r := l.Reserve()
	if wait := r.Delay(); wait > 0 {
		r.Cancel()
		return wait
	}
	return 0
}

// forgotten is after what time a caller's count is let go of.
const forgotten = 10 * time.Minute

func (l *limiter) of(name string) *bucket {
	l.mu.Lock()
	defer l.mu.Unlock()
	b := l.buckets[name]
	if b == nil {
		for k, old := range l.buckets {
			if len(l.buckets) > 10_000 || time.Since(old.used) > forgotten {
				delete(l.buckets, k)
			}
		}
		b = &bucket{requests: perMinute(l.Requests), questions: perMinute(l.Questions)}
		l.buckets[name] = b
	}
	b.used = time.Now()
	return b
}
