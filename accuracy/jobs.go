package accuracy

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"sync"
	"time"

	"jardinet/api"
	"jardinet/service"
	"jardinet/store"
)

// jobs are done one after another.
type jobs struct {
	ctx  context.Context
	done sync.WaitGroup
	wake chan struct{}

	mu  sync.Mutex
	all []*job // in the order in which they were asked for
}

// A job is one of them.
type job struct {
	api.Job
	jobs   *jobs
	began  time.Time
	ctx    context.Context
	cancel context.CancelFunc
	run    func(context.Context, *job) (result string, err error)
	ended  chan struct{}
	handed bool    // in, for any host to do
	last   api.Job // what the other hosts were told
}

// Bounds of what is kept of jobs.
const (
	mostWaiting = 50
	mostEnded   = 50 // of which it is told
)

func startJobs(ctx context.Context) *jobs {
	j := &jobs{ctx: ctx, wake: make(chan struct{}, 1)}
	j.done.Go(func() {
		for ctx.Err() == nil {
			if next := j.next(); next != nil {
				next.do()
				continue
			}
			select {
			case <-j.wake:
			case <-ctx.Done():
			}
		}
	})
	return j
}

// next takes the first job that waits.
func (j *jobs) next() *job {
	j.mu.Lock()
	defer j.mu.Unlock()
	at := slices.IndexFunc(j.all, func(j *job) bool { return j.State == api.Waiting })
	if at < 0 {
		return nil
	}
	j.all[at].State, j.all[at].began = api.Running, time.Now()
	return j.all[at]
}

func (j *job) do() {
	result, err := j.run(j.ctx, j)
	j.jobs.mu.Lock()
	defer j.jobs.mu.Unlock()
	j.Left = 0
	switch {
	case j.ctx.Err() != nil:
		j.State = api.Cancelled
	case err != nil:
		j.State, j.Problem = api.Failed, err.Error()
	default:
		j.State, j.Result, j.Done = api.Done, result, j.Of
	}
	j.cancel()
	close(j.ended)
}

// progress notes how far a job is, and reckons how long it will take.
func (j *job) progress(done, of int) {
	j.jobs.mu.Lock()
	defer j.jobs.mu.Unlock()
	j.Done, j.Of = done, of
	if done > 0 && done < of {
		j.Left = time.Since(j.began).Seconds() / float64(done) * float64(of-done)
	}
}

// start puts a job at the end of the queue. It goes on when the request that asked for it has ended.
func (j *jobs) start(ctx context.Context, collection, kind, what string, of int, run func(context.Context, *job) (string, error)) (*job, error) {
	j.mu.Lock()
	defer j.mu.Unlock()
	waiting := 0
	for _, other := range j.all {
		if other.State == api.Waiting {
			waiting++
		}
	}
	if waiting >= mostWaiting {
		return nil, fmt.Errorf("%d jobs wait already; cancel one, or try again when they are done: %w", waiting, service.ErrInvalid)
	}
	out := &job{
		Job:  api.Job{ID: store.NewID(), Kind: kind, What: what, Collection: collection, State: api.Waiting, Of: of, Started: time.Now().UTC().Truncate(time.Millisecond)},
		jobs: j, run: run, ended: make(chan struct{}),
	}
	// Whoever asked for it stays its caller; only the service's end and a cancellation end it.
	out.ctx, out.cancel = context.WithCancel(context.WithoutCancel(ctx))
	context.AfterFunc(j.ctx, out.cancel)
	j.all = append(j.all, out)
	j.forgetSome()
	select {
	case j.wake <- struct{}{}:
	default:
	}
	return out, nil
}

// forgetSome leaves only the latest of the jobs that have ended.
func (j *jobs) forgetSome() {
	ended := 0
	for i := len(j.all) - 1; i >= 0; i-- {
		if j.all[i].Ended() {
			if ended++; ended > mostEnded {
				j.all = slices.Delete(j.all, i, i+1)
			}
		}
	}
}

// told returns a job as it is now.
func (j *job) told() *api.Job {
	j.jobs.mu.Lock()
	defer j.jobs.mu.Unlock()
	out := j.Job
	return &out
}

// Jobs returns a collection's jobs, the latest first; after those of this host those of others.
func (b *Bench) Jobs(ctx context.Context, collection string) ([]api.Job, error) {
	others, err := b.handedIn(ctx, collection)
	if err != nil {
		return nil, err
	}
	b.jobs.mu.Lock()
	defer b.jobs.mu.Unlock()
	out, here := []api.Job{}, map[string]bool{}
	for _, j := range slices.Backward(b.jobs.all) {
		if j.Collection == collection {
			out, here[j.ID] = append(out, j.Job), true
		}
	}
	for _, h := range others {
		if !here[h.ID] {
			out = append(out, h.Job)
		}
	}
	return out, nil
}

func (b *Bench) job(collection, id string) (*job, error) {
	b.jobs.mu.Lock()
	defer b.jobs.mu.Unlock()
	for _, j := range b.jobs.all {
		if j.ID == id && j.Collection == collection {
			return j, nil
		}
	}
	return nil, fmt.Errorf("job %q: %w; jobs are forgotten when the service stops", id, service.ErrNotFound)
}

// Job returns a job of a collection.
func (b *Bench) Job(ctx context.Context, collection, id string) (*api.Job, error) {
	if j, err := b.job(collection, id); err == nil {
		return j.told(), nil
	}
	h, err := b.handedJob(ctx, collection, id)
	if err != nil {
		return nil, err
	}
	return &h.Job, nil
}

// Wait waits until a job has ended.
func (b *Bench) Wait(ctx context.Context, collection, id string) (*api.Job, error) {
	j, err := b.job(collection, id)
	if err != nil {
		return b.waitHanded(ctx, collection, id)
	}
	select {
	case <-j.ended:
		return j.told(), nil
	case <-ctx.Done():
		return nil, ctx.Err()
	}
}

// Cancel ends a job; nothing comes of it.
func (b *Bench) Cancel(ctx context.Context, collection, id string) (*api.Job, error) {
	j, err := b.job(collection, id)
	if err != nil {
		return b.cancelHanded(ctx, collection, id)
	}
	return j.callOff(), nil
}

// callOff ends a job, and returns how it stands then.
func (j *job) callOff() *api.Job {
	j.cancel()
	j.jobs.mu.Lock()
	defer j.jobs.mu.Unlock()
	if j.State == api.Waiting {
		j.State = api.Cancelled
		close(j.ended)
	}
	out := j.Job
	return &out
}

// failed tells why a job that was waited for made nothing.
func failed(j *api.Job) error {
	switch j.State {
	case api.Failed:
		return errors.New(j.Problem)
	case api.Cancelled:
		return fmt.Errorf("%s was cancelled", j.What)
	}
	return nil
}
