package accuracy

import (
	"context"
	"encoding/json"
	"fmt"

	"jardinet/access"
	"jardinet/api"
	"jardinet/measure"
	"jardinet/service"
)

// Measure starts a job that measures a collection with a set, on a trial if one is named.
func (b *Bench) Measure(ctx context.Context, collection, trial string, set *measure.Set) (*api.Job, error) {
	j, err := b.measure(ctx, collection, trial, set)
	if err != nil {
		return nil, err
	}
	return j.told(), nil
}

func (b *Bench) measure(ctx context.Context, collection, trial string, set *measure.Set) (*job, error) {
	if _, err := b.service.CollectionID(collection); err != nil {
		return nil, err
	}
	if trial != "" && trial != service.LiveSetup {
		if _, err := b.Trial(ctx, collection, trial); err != nil {
			return nil, err
		}
	}
	what := "measuring " + set.Name
	if trial != "" {
		what += " on " + trial
	}
	return b.start(ctx, collection, "measurement", what, len(set.Questions), func(ctx context.Context, j *job) (string, error) {
		if b.service.IsTogether() && (trial == "" || trial == service.LiveSetup) {
			return b.handIn(ctx, j, collection, set)
		}
		stand, err := b.stand(ctx, collection, trial)
		if err != nil {
			return "", err
		}
		m, err := stand.Measure(ctx, set, func(done int) { j.progress(done, len(set.Questions)) })
		if err != nil {
			return "", err
		}
		return m.ID, b.keep(ctx, collection, m)
	})
}

// keep keeps a measurement, and a summary for lists.
func (b *Bench) keep(ctx context.Context, collection string, m *measure.Measurement) error {
	id, err := b.service.CollectionID(collection)
	if err != nil {
		return err
	}
	data, err := json.Marshal(m)
	if err != nil {
		return fmt.Errorf("keep measurement: %w", err)
	}
	summary := *m
	summary.Records, summary.ByTag, summary.ByDocument, summary.Calibration = nil, nil, nil, nil
	short, err := json.Marshal(summary)
	if err != nil {
		return fmt.Errorf("keep measurement: %w", err)
	}
	return b.store.AddMeasurement(ctx, m.ID, id, short, data)
}

// Measurements returns summaries of a collection's measurements, the newest first; of all
// collections that the caller owns if the name is empty.
func (b *Bench) Measurements(ctx context.Context, collection string) ([]json.RawMessage, error) {
	id := ""
	if collection != "" {
		var err error
		if id, err = b.service.CollectionID(collection); err != nil {
			return nil, err
		}
	}
	all, err := b.store.Measurements(ctx, id)
	if err != nil {
		return nil, err
	}
	out := []json.RawMessage{}
	for _, m := range all {
		if access.From(ctx).In(m.Collection) >= access.Owner {
			out = append(out, m.Data)
		}
	}
	return out, nil
}

// Measurement returns a kept measurement; as people judged it if judged.
func (b *Bench) Measurement(ctx context.Context, id string, judged bool) (*measure.Measurement, error) {
	kept, err := b.store.Measurement(ctx, id)
	if err == nil {
		err = owned(ctx, kept.Collection)
	}
	if err != nil {
		return nil, fmt.Errorf("measurement %q: %w", id, err)
	}
	m := new(measure.Measurement)
	if err := json.Unmarshal(kept.Data, m); err != nil {
		return nil, fmt.Errorf("measurement %s: %w", id, err)
	}
	older(m)
	if !judged {
		return m, nil
	}
	verdicts, err := b.verdicts(ctx, id)
	if err != nil {
		return nil, err
	}
	m = m.Judge(verdicts)
	m.Judged = true
	return m, nil
}

// older fills in what measurements kept by an older program do not have, so that lists are lists.
func older(m *measure.Measurement) {
	for i := range m.Records {
		r := &m.Records[i]
		if r.Evidence == nil {
			r.Evidence = []measure.Evidence{}
		}
	}
	if m.Causes == nil {
		m.Causes = map[measure.Cause]int{}
	}
	if m.ByDocument == nil {
		m.ByDocument = map[string][]measure.Figure{}
	}
	if m.Subject.Setup == "" {
		m.Subject.Setup = service.LiveSetup
	}
}

// RemoveMeasurement removes a measurement with people's verdicts on it.
func (b *Bench) RemoveMeasurement(ctx context.Context, id string) error {
	if _, err := b.Measurement(ctx, id, false); err != nil {
		return err
	}
	return b.store.RemoveMeasurement(ctx, id)
}

// Compare compares measurement b with a.
func (b *Bench) Compare(ctx context.Context, idA, idB string, judged bool) (*measure.Comparison, error) {
	x, err := b.Measurement(ctx, idA, judged)
	if err != nil {
		return nil, err
	}
	y, err := b.Measurement(ctx, idB, judged)
	if err != nil {
		return nil, err
	}
	out, err := measure.Compare(x, y)
	if err != nil {
		return nil, invalid(err)
	}
	return out, nil
}
