package answer

import (
	"cmp"
	"context"
	"time"
)

// A clock tells how long stages take, in milliseconds.
type clock struct{ start, lapped time.Time }

func newClock() *clock {
	now := time.Now()
	return &clock{now, now}
}

func (c *clock) lap() float64 {
	now := time.Now()
	d := now.Sub(c.lapped)
	c.lapped = now
	return float64(d.Microseconds()) / 1000
}

func (c *clock) total() float64 { return float64(time.Since(c.start).Microseconds()) / 1000 }

// Ask answers a question; after holds the earlier questions of its conversation, the
// oldest first. A question that asks several things is answered part by part, unless the
// documents answer no part by itself.
func (a *Answerer) Ask(ctx context.Context, question string, after []string) (*Answer, error) {
	var out *Answer
	var err error
	if all := parts(question); all != nil {
		if out, err = a.several(ctx, question, all, after); err != nil {
			return nil, err
		}
	}
	if out == nil || out.State == NotFound {
		if out, err = a.one(ctx, question, after); err != nil {
			return nil, err
		}
	}
	if a.Style.Add != "" && out.State != NotFound {
		out.Added = a.Style.Add
		out.Text += "\n" + a.Style.Add
	}
	return out, nil
}

// An attempt is a question as it was read, with what was found for it.
type attempt struct {
	question string
	search   *Search
	found    []finding
	recalled []recalled
	out      *Answer
}

// one answers a single question. One that follows others is read by itself and joined to
// the one before, and the surer reading holds.
func (a *Answerer) one(ctx context.Context, question string, after []string) (*Answer, error) {
	chosen, err := a.try(ctx, question, "")
	if err != nil {
		return nil, err
	}
	if len(after) > 0 {
		joined, err := a.join(ctx, after[len(after)-1], question)
		if err != nil {
			return nil, err
		}
		joined.out.Timing.add(chosen.out.Timing)
		better := joined.out.Confidence >= chosen.out.Confidence
		if better && chosen.out.State != NotFound { // else the third search would change nothing
			repeats, err := a.repeats(ctx, joined, after[len(after)-1])
			if err != nil {
				return nil, err
			}
			better = !repeats
		}
		if better {
			chosen = joined
		}
	}
	out := chosen.out
	out.Unknown = chosen.search.unknown()
	for _, f := range chosen.found {
		out.Passages = append(out.Passages, chosen.search.Candidates[f.candidate])
	}
	if a.Trace {
		out.Trace = trace(chosen)
	}
	if a.Style.Model != nil && out.State != NotFound {
		clock := newClock()
		a.write(ctx, chosen)
		out.Timing.Model = clock.total()
		out.Timing.Total += out.Timing.Model
	}
	return out, nil
}

// join answers a question as it adds to an earlier one.
func (a *Answerer) join(ctx context.Context, earlier, question string) (*attempt, error) {
	t, err := a.try(ctx, earlier+" "+question, question)
	if err != nil {
		return nil, err
	}
	t.out.Question = question
	return t, nil
}

// repeats tells whether what was found for a follow-up is what answers the question before it: the
// two together are surely answered by that, and yet it says nothing about the follow-up, unless
// nothing else does.
func (a *Answerer) repeats(ctx context.Context, joined *attempt, earlier string) (bool, error) {
	if len(joined.found) == 0 || joined.out.State == NotFound {
		return false, nil
	}
	quiet := *a
	quiet.Found = nil
	before, err := quiet.try(ctx, earlier, "")
	if err != nil || len(before.found) == 0 {
		return false, err
	}
	place := func(t *attempt) (string, int, int) {
		f := t.found[0]
		c := &t.search.Candidates[f.candidate]
		return c.DocumentID, c.Ordinal, f.best
	}
	document, ordinal, best := place(joined)
	d, o, b := place(before)
	return document == d && ordinal == o && best == b, nil
}

// try answers a question as it is read; what it adds to an earlier one is empty for one that
// stands by itself.
func (a *Answerer) try(ctx context.Context, read, added string) (*attempt, error) {
	clock := newClock()
	t := &attempt{question: read, out: blank(read)}
	var err error
	if t.search, err = a.Retrieve(ctx, read, cmp.Or(a.Style.Passages, depth)); err != nil {
		return nil, err
	}
	if a.Found != nil {
		a.Found(t.search)
	}
	places := a.recall(ctx, t)
	t.out.Timing.Search = clock.lap()
	if t.found, err = a.read(ctx, read, added, t.search, places); err != nil {
		return nil, err
	}
	t.out.Timing.Reading = clock.lap()
	a.compose(t.out, t.search, t.found)
	t.out.Timing.Composing, t.out.Timing.Total = clock.lap(), clock.total()
	return t, nil
}
