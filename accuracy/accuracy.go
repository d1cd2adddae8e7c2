// Package accuracy is the bench on which a knowledge engineer finds out how right a collection's
// answers are, and makes them better: question sets, measurements, comparisons, trials of other
// set-ups beside the live one, sweeps over many, and people's verdicts.
//
// What takes a while is a job: it waits for its turn, tells how far it is, and can be cancelled. One
// job runs at a time, on all processors, and readers' questions go on beside it. A job that is
// under way when the service stops is dropped; what it was to make is made by starting it again.
package accuracy

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"regexp"
	"sync"

	"jardinet/access"
	"jardinet/hooks"
	"jardinet/service"
	"jardinet/store"
)

// A Bench is open on one service. It may be used by many goroutines.
type Bench struct {
	service *service.Service
	store   *store.Store
	log     *slog.Logger
	hooks   *hooks.Teller
	jobs    *jobs

	telling sync.Mutex // the other hosts are told of jobs

	mu     sync.Mutex
	stands map[string]*service.Stand // of trials, by the directory of their index

	watching sync.WaitGroup
	stop     context.CancelFunc
}

// Open opens the bench. Alerts are told through the teller.
func Open(s *service.Service, told *hooks.Teller) *Bench {
	ctx, stop := context.WithCancel(context.Background())
	b := &Bench{service: s, store: s.Store(), log: s.Log, hooks: told, stands: map[string]*service.Stand{}, stop: stop}
	b.jobs = startJobs(ctx)
	b.dropStrayTrials(ctx)
	b.watching.Go(func() { s.Tasks(ctx, service.MeasureTask, b.takeMeasurement) })
	b.watching.Go(func() { s.Duty(ctx, service.BenchDuty, b.watch) })
	if s.IsTogether() {
		b.watching.Go(func() { b.tellOthers(ctx) })
	}
	return b
}

// Close ends the jobs.
func (b *Bench) Close() {
	b.stop()
	b.watching.Wait()
	b.jobs.done.Wait()
}

var thingName = regexp.MustCompile(`^[a-z0-9][a-z0-9._-]{0,62}$`)

func checkName(what, name string) error {
	if !thingName.MatchString(name) {
		return fmt.Errorf("%s name %q: use 1 to 63 lower-case letters, digits, dots and dashes, beginning with a letter or digit: %w", what, name, service.ErrInvalid)
	}
	return nil
}

func invalid(err error) error { return fmt.Errorf("%w: %w", err, service.ErrInvalid) }

// notFound says that there is no such thing.
func notFound(what, name string, err error) error {
	if errors.Is(err, service.ErrNotFound) {
		return fmt.Errorf("%s %q: %w", what, name, service.ErrNotFound)
	}
	return err
}

// owned returns an error as of a thing that is not there, unless the caller owns the collection.
func owned(ctx context.Context, collection string) error {
	if access.From(ctx).In(collection) < access.Owner {
		return service.ErrNotFound
	}
	return nil
}

// trialDir is where the index of a trial is.
func (b *Bench) trialDir(collection, name string) string {
	return filepath.Join(b.service.Data, "trials", collection, name)
}

// dropStrayTrials removes the indexes of trials that are no more, and what sweeps left.
func (b *Bench) dropStrayTrials(ctx context.Context) {
	root := filepath.Join(b.service.Data, "trials")
	dirs, _ := filepath.Glob(filepath.Join(root, "*", "*"))
	for _, dir := range dirs {
		var trial json.RawMessage
		if b.store.BenchItem(ctx, filepath.Base(filepath.Dir(dir)), trialKind, filepath.Base(dir), &trial) == nil {
			continue
		}
		if err := os.RemoveAll(dir); err != nil {
			b.log.Warn("an index of a trial cannot be removed", "error", err)
		}
	}
}
