package answer

import (
	"context"
	"regexp"
)

// Whoever asks on mostly stays with what was just read: of two sentences that would do,
// the one beside the last answer is meant. So the question before is answered once more,
// and evidence is told how near it stands to that answer; how much this counts is fitted.

// A turn is a question of a conversation with its answer.
type turn struct {
	number int // from 0
	said   *Answer
}

// following returns an asker that knows the answer to the last question.
func (a *Asker) following(ctx context.Context, after []string) (*Asker, error) {
	if len(after) == 0 {
		return a, nil
	}
	last := len(after) - 1
	before, err := a.plain().one(ctx, after[last], after[:last])
	if err != nil || before.State == NotFound {
		return a, err
	}
	out := *a
	out.before = &turn{last, before}
	return &out, nil
}

// plain returns an asker for what is asked beside the question itself: without an outside
// model and with nothing noted.
func (a *Asker) plain() *Asker {
	out := *a
	out.Style.Model, out.Draft, out.Trace, out.Alternatives, out.before = nil, nil, false, false, nil
	return &out
}

// answered returns the answer to one of the questions of a conversation.
func (a *Asker) answered(ctx context.Context, after []string, number int) (*Answer, error) {
	if a.before != nil && a.before.number == number {
		return a.before.said, nil
	}
	return a.plain().reading(ctx, after[number], after[:number])
}

// asksOn matches what asks for more than was answered: "what must be done then?".
var asksOn = regexp.MustCompile(`\b(?:then|next|afterwards|after (?:that|this))\b`)

// follow fills in how near a sentence stands to the last answer.
func (f *Features) follow(last *Place, at Place) {
	if last == nil || at.Key != last.Key || at.Ordinal != last.Ordinal {
		return
	}
	f.Along, f.Again, f.Onward = 1, one(at.Sentence == last.Sentence), one(at.Sentence == last.Sentence+1)
}
