package accuracy

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"jardinet/api"
	"jardinet/ledger"
	"jardinet/measure"
	"jardinet/service"
	"jardinet/store"
)

// On several hosts a measurement is a task that any of them takes from the queue. The host that was
// asked hands it in, and follows how far it is; if that host dies the measurement is made all the
// same, and if the one dies that makes it, another one begins again. The measurement has the id of the
// job, so that it is kept once.

// jobKind is the kind of what is recorded of it.
const jobKind = "job"

// A handed is what the hosts know of a job: a measurement that was handed in, or one that its host does.
type handed struct {
	api.Job
	Host      string       `json:"host,omitempty"` // that does it, if no other one can
	Set       *measure.Set `json:"set,omitempty"`  // to be measured; nil once that has ended
	Cancelled bool         `json:"cancelled,omitempty"`
}

// How often it is looked at how far a measurement is, and told; and how often it is begun at most.
const (
	lookEvery = 300 * time.Millisecond
	tellEvery = time.Second
	mostBegun = 4
	// forgetAfter is when a measurement that has ended is no longer told of.
	forgetAfter = 24 * time.Hour
)

// handIn has some host measure a collection, and waits until it has.
func (b *Bench) handIn(ctx context.Context, j *job, collection string, set *measure.Set) (result string, err error) {
	id, err := b.service.CollectionID(collection)
	if err != nil {
		return "", err
	}
	b.telling.Lock() // from here on whoever makes it tells
	j.handed = true
	b.telling.Unlock()
	h := &handed{Job: *j.told(), Set: set}
	h.State = api.Waiting
	if err := b.store.SetBenchItem(ctx, id, jobKind, j.ID, h); err != nil {
		return "", err
	}
	if err := b.service.Enqueue(ctx, service.MeasureTask, id+"."+j.ID); err != nil {
		return "", err
	}
	for {
		select {
		case <-time.After(lookEvery):
		case <-ctx.Done():
			h.Cancelled = true
			return "", errors.Join(ctx.Err(), b.store.SetBenchItem(context.WithoutCancel(ctx), id, jobKind, j.ID, h))
		}
		if err := b.store.BenchItem(ctx, id, jobKind, j.ID, h); err != nil {
			return "", err
		}
		j.progress(h.Done, h.Of)
		if h.Ended() {
			return h.Result, failed(&h.Job)
		}
	}
}

// takeMeasurement makes a measurement that some host handed in.
func (b *Bench) takeMeasurement(ctx context.Context, task ledger.Task) error {
	collection, job, _ := strings.Cut(task.ID, ".")
	h := new(handed)
	err := b.store.BenchItem(ctx, collection, jobKind, job, h)
	if errors.Is(err, service.ErrNotFound) || err == nil && (h.Ended() || h.Set == nil) {
		return nil
	}
	if err != nil {
		return err
	}
	end := func(state api.JobState, problem string) error {
		h.State, h.Problem, h.Set, h.Left = state, problem, nil, 0
		return b.store.SetBenchItem(ctx, collection, jobKind, job, h)
	}
	switch {
	case h.Cancelled:
		return end(api.Cancelled, "")
	case task.Try > mostBegun:
		return end(api.Failed, fmt.Sprintf("it was begun %d times, on one host after another, and not ended", mostBegun))
	}
	err = b.makeMeasurement(ctx, collection, h)
	switch {
	case errors.Is(err, errCalledOff):
		return end(api.Cancelled, "")
	case ctx.Err() != nil || service.IsCutOff(err):
		return err // another host begins again
	case err != nil:
		return end(api.Failed, err.Error())
	}
	h.Result, h.Done = h.ID, h.Of
	return end(api.Done, "")
}

// errCalledOff says that somebody cancelled a measurement.
var errCalledOff = errors.New("it was called off")

func (b *Bench) makeMeasurement(ctx context.Context, collection string, h *handed) error {
	if _, err := b.store.Measurement(ctx, h.ID); err == nil {
		return nil // by a host that did not live to say so
	}
	stand, err := b.stand(ctx, h.Collection, "")
	if err != nil {
		return err
	}
	measuring, stop := context.WithCancelCause(ctx)
	defer stop(nil)
	began, told := time.Now(), time.Time{}
	m, err := stand.Measure(measuring, h.Set, func(done int) {
		if time.Since(told) < tellEvery {
			return
		}
		told = time.Now()
		now := new(handed)
		if err := b.store.BenchItem(ctx, collection, jobKind, h.ID, now); err == nil && now.Cancelled {
			stop(errCalledOff)
			return
		}
		h.State, h.Done = api.Running, done
		h.Left = time.Since(began).Seconds() / float64(max(done, 1)) * float64(h.Of-done)
		if err := b.store.SetBenchItem(ctx, collection, jobKind, h.ID, h); err != nil {
			b.log.Warn("it cannot be told how far a measurement is", "error", err)
		}
	})
	if cause := context.Cause(measuring); errors.Is(cause, errCalledOff) {
		return cause
	}
	if err != nil {
		return err
	}
	m.ID = h.ID
	return b.keep(ctx, h.Collection, m)
}

// handedIn returns what was handed in for a collection, the latest first.
func (b *Bench) handedIn(ctx context.Context, collection string) ([]handed, error) {
	if !b.service.IsTogether() {
		return nil, nil
	}
	id, err := b.service.CollectionID(collection)
	if err != nil {
		return nil, err
	}
	items, err := b.store.BenchItems(ctx, id, jobKind)
	if err != nil {
		return nil, err
	}
	var out []handed
	for _, item := range items {
		var h handed
		if err := json.Unmarshal(item.Data, &h); err != nil {
			return nil, fmt.Errorf("job %s: %w", item.Name, err)
		}
		if h.Host != "" && !h.Ended() && !b.service.IsThere(h.Host) {
			h.State, h.Problem, h.Left = api.Failed, stopped(h.Host), 0
		}
		out = append(out, h)
	}
	return out, nil
}

// handedJob returns one that was handed in, by its id.
func (b *Bench) handedJob(ctx context.Context, collection, id string) (*handed, error) {
	all, err := b.handedIn(ctx, collection)
	if err != nil {
		return nil, err
	}
	for _, h := range all {
		if h.ID == id {
			return &h, nil
		}
	}
	return nil, fmt.Errorf("job %q: %w; jobs are forgotten when the service stops", id, service.ErrNotFound)
}

// waitHanded waits until one that was handed in has ended.
func (b *Bench) waitHanded(ctx context.Context, collection, id string) (*api.Job, error) {
	for {
		h, err := b.handedJob(ctx, collection, id)
		if err != nil {
			return nil, err
		}
		if h.Ended() {
			return &h.Job, nil
		}
		select {
		case <-time.After(lookEvery):
		case <-ctx.Done():
			return nil, ctx.Err()
		}
	}
}

// cancelHanded has one that was handed in called off, by whichever host makes it.
func (b *Bench) cancelHanded(ctx context.Context, collection, id string) (*api.Job, error) {
	h, err := b.handedJob(ctx, collection, id)
	if err != nil {
		return nil, err
	}
	if h.Ended() {
		return &h.Job, nil
	}
	cid, err := b.service.CollectionID(collection)
	if err != nil {
		return nil, err
	}
	h.Cancelled = true
	return &h.Job, b.store.SetBenchItem(ctx, cid, jobKind, id, h)
}

// forgetHanded forgets what has ended long ago.
func (b *Bench) forgetHanded(ctx context.Context, collection string) error {
	items, err := b.store.BenchItems(ctx, collection, jobKind)
	if err != nil {
		return err
	}
	for _, item := range items {
		var h handed
		if err := json.Unmarshal(item.Data, &h); err == nil && h.Ended() && time.Since(item.Changed) > forgetAfter {
			if err := b.store.RemoveBenchItem(ctx, collection, jobKind, item.Name); err != nil && !errors.Is(err, store.ErrNotFound) {
				return err
			}
		}
	}
	return nil
}
