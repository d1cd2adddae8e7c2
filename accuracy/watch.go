package accuracy

import (
	"context"
	"errors"
	"time"

	"jardinet/access"
	"jardinet/api"
	"jardinet/hooks"
	"jardinet/measure"
	"jardinet/service"
)

// watched is what is kept of a watch.
type watched struct {
	api.Watch
	Contents string `json:"contents"` // hash of the documents that were last measured
	Last     string `json:"last"`     // measurement
}

// theWatch is the name that a collection's only one is kept under.
const theWatch = "watch"

// mostAlerts is how many are told of.
const mostAlerts = 20

// Watch returns what a collection is measured with after each change.
func (b *Bench) Watch(ctx context.Context, collection string) (*api.Watch, error) {
	w, err := b.watched(ctx, collection)
	if err != nil {
		return nil, err
	}
	return &w.Watch, nil
}

// watched returns it with what it was last measured on; an empty one if there is none.
func (b *Bench) watched(ctx context.Context, collection string) (*watched, error) {
	id, err := b.service.CollectionID(collection)
	if err != nil {
		return nil, err
	}
	out := new(watched)
	if err := b.store.BenchItem(ctx, id, watchKind, theWatch, out); err != nil && !errors.Is(err, service.ErrNotFound) {
		return nil, err
	}
	return out, nil
}

func (b *Bench) setWatched(ctx context.Context, collection string, w *watched) error {
	id, err := b.service.CollectionID(collection)
	if err != nil {
		return err
	}
	return b.store.SetBenchItem(ctx, id, watchKind, theWatch, w)
}

// SetWatch has a collection measured after each change of its documents.
func (b *Bench) SetWatch(ctx context.Context, collection string, in api.Watch) error {
	if !in.Off {
		if _, err := b.Measurable(ctx, collection, in.Set, Part{}); err != nil {
			return err
		}
	}
	for _, r := range in.Require {
		if _, err := measure.ParseRequirement(r); err != nil {
			return invalid(err)
		}
	}
	if in.Webhook != "" {
		if err := b.hooks.Check(in.Webhook); err != nil {
			return err
		}
	}
	w, err := b.watched(ctx, collection)
	if err != nil {
		return err
	}
	in.Alerts = w.Alerts
	w.Watch = in
	return b.setWatched(ctx, collection, w)
}

// quiet is how long nothing may happen to a collection before it is measured, so that a
// hundred new documents are measured once.
const quiet = 3 * time.Second

// watch measures collections whose documents have changed, when they have come to rest.
func (b *Bench) watch(ctx context.Context) {
	events, cancel := b.service.Listen()
	defer cancel()
	changed := map[string]bool{}
	rest := time.NewTimer(quiet)
	rest.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case e, open := <-events:
			if !open {
				return
			}
			changed[e.Collection] = true
			rest.Reset(quiet)
		case <-rest.C:
			for collection := range changed {
				if err := b.Recheck(ctx, collection); err != nil && !errors.Is(err, service.ErrNotFound) {
					b.log.Warn("a collection could not be measured after it changed", "collection", collection, "error", err)
				}
			}
			clear(changed)
		}
	}
}

// Recheck starts a measurement if a collection is watched, its documents are settled, and others
// than were last measured.
func (b *Bench) Recheck(ctx context.Context, collection string) error {
	w, err := b.watched(ctx, collection)
	if err != nil || w.Off || w.Set == "" {
		return err
	}
	docs, err := b.service.Documents(ctx, collection)
	if err != nil {
		return err
	}
	for i := range docs {
		if !docs[i].Settled() {
			return nil // another event will tell
		}
	}
	contents, err := b.service.Contents(ctx, collection)
	if err != nil || contents == w.Contents {
		return err
	}
	w.Contents = contents
	if err := b.setWatched(ctx, collection, w); err != nil {
		return err
	}
	set, err := b.Measurable(ctx, collection, w.Set, Part{})
	if err != nil {
		return err
	}
	ctx = access.With(ctx, &access.Caller{Name: "watch", Administrator: true})
	j, err := b.measure(ctx, collection, "", set)
	if err != nil {
		return err
	}
	b.watching.Go(func() {
		<-j.ended
		told := j.told()
		if err := failed(told); err != nil || told.State != api.Done {
			return
		}
		if err := b.compareWatched(ctx, collection, told.Result); err != nil {
			b.log.Warn("a watched measurement could not be compared", "collection", collection, "error", err)
		}
	})
	return nil
}

// compareWatched holds a new measurement to what is required and to the one before, and raises the alarm.
func (b *Bench) compareWatched(ctx context.Context, collection, id string) error {
	w, err := b.watched(ctx, collection)
	if err != nil {
		return err
	}
	m, err := b.Measurement(ctx, id, false)
	if err != nil {
		return err
	}
	var checks []measure.Verification
	for _, s := range w.Require {
		r, err := measure.ParseRequirement(s)
		if err != nil {
			return err
		}
		checks = append(checks, r.Holds(m))
	}
	if w.Last != "" {
		if c, err := b.Compare(ctx, w.Last, id, false); err == nil {
			checks = append(checks, c.NoWorse()...)
		}
	}
	alert := api.Alert{At: m.Created, Measurement: id, Reasons: []string{}}
	for _, c := range checks {
		if !c.Held {
			alert.Reasons = append(alert.Reasons, c.Required+": "+c.Reason)
		}
	}
	w.Last = id
	if len(alert.Reasons) > 0 {
		w.Alerts = append([]api.Alert{alert}, w.Alerts[:min(len(w.Alerts), mostAlerts-1)]...)
		b.log.Warn("accuracy is not what it should be", "collection", collection, "measurement", id, "reasons", alert.Reasons)
	}
	if err := b.setWatched(ctx, collection, w); err != nil {
		return err
	}
	if len(alert.Reasons) == 0 {
		return nil
	}
	return b.hooks.TellAll(ctx, collection, w.Webhook, hooks.AccuracyDropped, map[string]any{"collection": collection, "alert": alert})
}
