package accuracy

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"time"

	"jardinet/api"
)

// On several hosts a job is known everywhere: the host that does it notes in the records how far it is,
// once a second, and looks whether it was called off at another one. What it makes is in the records
// too, but for the indexes of trials, which each host makes when it needs them.

// start puts a job at the end of the queue, and lets the other hosts know of it.
func (b *Bench) start(ctx context.Context, collection, kind, what string, of int, run func(context.Context, *job) (string, error)) (*job, error) {
	j, err := b.jobs.start(ctx, collection, kind, what, of, run)
	if err != nil || !b.service.IsTogether() {
		return j, err
	}
	id, err := b.service.CollectionID(collection)
	if err == nil {
		err = errors.Join(b.forgetHanded(ctx, id), b.tell(ctx, j))
	}
	if err != nil {
		j.callOff()
		return nil, err
	}
	return j, nil
}

// tellOthers lets the other hosts know of this one's jobs, until ctx is done.
func (b *Bench) tellOthers(ctx context.Context) {
	if err := b.giveUpOld(ctx); err != nil {
		b.log.Warn("jobs that ended with this host cannot be noted as such", "error", err)
	}
	for {
		select {
		case <-time.After(tellEvery):
		case <-ctx.Done():
			return
		}
		for _, j := range b.jobs.here() {
			if err := b.tell(ctx, j); err != nil && ctx.Err() == nil {
				b.log.Warn("it cannot be told how far a job is", "job", j.What, "error", err)
				break
			}
		}
	}
}

// here returns all jobs.
func (j *jobs) here() []*job {
	j.mu.Lock()
	defer j.mu.Unlock()
	return slices.Clone(j.all)
}

// tell notes how a job stands, if that has changed, and ends it if another host called it off. One that
// was handed in is told of by whoever makes it.
func (b *Bench) tell(ctx context.Context, j *job) error {
	b.telling.Lock()
	defer b.telling.Unlock()
	now := *j.told()
	if j.handed || now.Ended() && now == j.last {
		return nil
	}
	id, err := b.service.CollectionID(now.Collection)
	if err != nil {
		return nil // it is gone, and its jobs with it
	}
	if j.last.ID != "" {
		var before handed
		if err := b.store.BenchItem(ctx, id, jobKind, now.ID, &before); err != nil {
			return err
		}
		if before.Cancelled && !now.Ended() {
			now = *j.callOff()
		}
	}
	if now == j.last {
		return nil
	}
	if err := b.store.SetBenchItem(ctx, id, jobKind, now.ID, handed{Job: now, Host: b.service.Host()}); err != nil {
		return err
	}
	j.last = now
	return nil
}

// giveUpOld notes that the jobs which this host did when it stopped have come to nothing.
func (b *Bench) giveUpOld(ctx context.Context) error {
	all, err := b.store.Collections(ctx)
	if err != nil {
		return err
	}
	var failures []error
	for _, c := range all {
		kept, err := b.handedIn(ctx, c.Name)
		if err != nil {
			continue // removed meanwhile
		}
		for _, h := range kept {
			if _, err := b.job(c.Name, h.ID); err != nil && h.Host == b.service.Host() && !h.Ended() {
				h.State, h.Problem = api.Failed, stopped(h.Host)
				failures = append(failures, b.store.SetBenchItem(ctx, c.ID, jobKind, h.ID, h))
			}
		}
	}
	return errors.Join(failures...)
}

// stopped says why a job has come to nothing.
func stopped(host string) string {
	return fmt.Sprintf("the host %s, which did it, has stopped; begin it again", host)
}
