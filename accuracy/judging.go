package accuracy

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"jardinet/access"
	"jardinet/api"
	"jardinet/measure"
)

func (b *Bench) verdicts(ctx context.Context, measurement string) ([]measure.Verdict, error) {
	all, err := b.store.Verdicts(ctx, measurement)
	if err != nil {
		return nil, err
	}
	out := []measure.Verdict{}
	for _, data := range all {
		var v measure.Verdict
		if err := json.Unmarshal(data, &v); err != nil {
			return nil, fmt.Errorf("a verdict on %s: %w", measurement, err)
		}
		out = append(out, v)
	}
	return out, nil
}

// A ticket names an answer without telling the judge of which measurement it is.
func ticket(measurement, question string) string {
	sum := sha256.Sum256([]byte(measurement + "\n" + question))
	return hex.EncodeToString(sum[:8])
}

// Next returns the next answer for the caller to judge, of one measurement or of several whose
// answers come mixed; nil when all are judged. The order is by the tickets, which are as good as
// random, so that nobody can tell from it which set-up gave an answer.
func (b *Bench) Next(ctx context.Context, ids []string) (*api.ToJudge, error) {
	judge := access.From(ctx).Name
	var left []api.ToJudge
	of := 0
	for _, id := range ids {
		m, err := b.Measurement(ctx, id, false)
		if err != nil {
			return nil, err
		}
		verdicts, err := b.verdicts(ctx, id)
		if err != nil {
			return nil, err
		}
		judged := map[string]bool{}
		for _, v := range verdicts {
			if v.Judge == judge {
				judged[v.Question] = true
			}
		}
		for i := range m.Records {
			of++
			if r := &m.Records[i]; !judged[r.ID] {
				left = append(left, api.ToJudge{
					Ticket: ticket(id, r.ID), Question: r.Question, Expected: r.Expected, Answer: strings.TrimSpace(r.Answer), Refused: r.State == "not_found",
					Citations: r.Citations, Evidence: r.Evidence,
				})
			}
		}
	}
	if len(left) == 0 {
		return nil, nil
	}
	slices.SortFunc(left, func(x, y api.ToJudge) int { return strings.Compare(x.Ticket, y.Ticket) })
	out := left[0]
	out.Left, out.Of = len(left), of
	return &out, nil
}

// Judge keeps the caller's verdict on an answer.
func (b *Bench) Judge(ctx context.Context, ids []string, in api.Judged) error {
	for _, id := range ids {
		m, err := b.Measurement(ctx, id, false)
		if err != nil {
			return err
		}
		for i := range m.Records {
			r := &m.Records[i]
			if ticket(id, r.ID) != in.Ticket {
				continue
			}
			v := measure.Verdict{Question: r.ID, Judge: access.From(ctx).Name, Says: in.Says, Cause: in.Cause, Better: in.Better, Comment: in.Comment}
			if len(in.Comment) > mostComment {
				return invalid(fmt.Errorf("the comment is longer than %d bytes", mostComment))
			}
			if err := v.Check(); err != nil {
				return invalid(err)
			}
			return b.store.SetVerdict(ctx, id, r.ID, v.Judge, v)
		}
	}
	return invalid(errors.New("none of these measurements has an answer with that ticket"))
}

// Judging tells how far people have come with the answers of a measurement, and how far they agree.
func (b *Bench) Judging(ctx context.Context, id string) (*api.Judging, error) {
	if _, err := b.Measurement(ctx, id, false); err != nil {
		return nil, err
	}
	verdicts, err := b.verdicts(ctx, id)
	if err != nil {
		return nil, err
	}
	out := &api.Judging{Judges: map[string]int{}, Agreements: []measure.Agreement{}, Verdicts: verdicts}
	var judges []string
	for _, v := range verdicts {
		if out.Judges[v.Judge]++; out.Judges[v.Judge] == 1 {
			judges = append(judges, v.Judge)
		}
	}
	slices.Sort(judges)
	for i, x := range judges {
		for _, y := range judges[i+1:] {
			if a, ok := measure.Agree(verdicts, x, y); ok {
				out.Agreements = append(out.Agreements, a)
			}
		}
	}
	return out, nil
}
