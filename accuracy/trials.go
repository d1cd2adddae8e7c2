package accuracy

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"strconv"
	"time"

	"jardinet/answer"
	"jardinet/api"
	"jardinet/service"
	"jardinet/store"
)

// Kinds of what the bench keeps by name.
const (
	trialKind = "trial"
	pastKind  = "setup"
	sweepKind = "sweep"
	watchKind = "watch"
)

// keptItems returns what a collection's bench keeps of a kind, the latest first, each beside how it is
// kept.
func keptItems[T any](ctx context.Context, b *Bench, collection, kind, what string) ([]T, []store.BenchItem, error) {
	id, err := b.service.CollectionID(collection)
	if err != nil {
		return nil, nil, err
	}
	items, err := b.store.BenchItems(ctx, id, kind)
	if err != nil {
		return nil, nil, err
	}
	out := make([]T, len(items))
	for i, item := range items {
		if err := json.Unmarshal(item.Data, &out[i]); err != nil {
			return nil, nil, fmt.Errorf("%s %s: %w", what, item.Name, err)
		}
	}
	return out, items, nil
}

// Trials returns a collection's trials.
func (b *Bench) Trials(ctx context.Context, collection string) ([]api.Trial, error) {
	out, items, err := keptItems[api.Trial](ctx, b, collection, trialKind, "trial")
	if err != nil {
		return nil, err
	}
	contents, err := b.service.Contents(ctx, collection)
	if err != nil {
		return nil, err
	}
	for i := range out {
		out[i].Changed = items[i].Changed
		out[i].Outdated = out[i].Ready && out[i].Contents != contents
	}
	return out, nil
}

// Trial returns one of them.
func (b *Bench) Trial(ctx context.Context, collection, name string) (*api.Trial, error) {
	all, err := b.Trials(ctx, collection)
	if err != nil {
		return nil, err
	}
	for i := range all {
		if all[i].Name == name {
			return &all[i], nil
		}
	}
	return nil, fmt.Errorf("trial %q in collection %q: %w", name, collection, service.ErrNotFound)
}

// Try starts a job that makes a trial: an index by another set-up beside the live one.
func (b *Bench) Try(ctx context.Context, collection, name string, setup api.Setup) (*api.Job, error) {
	if err := checkName("trial", name); err != nil {
		return nil, err
	}
	if name == service.LiveSetup {
		return nil, invalid(errors.New("the name live is that of the set-up in use; choose another for a trial"))
	}
	if err := b.service.CheckSetup(ctx, &setup); err != nil {
		return nil, err
	}
	id, err := b.service.CollectionID(collection)
	if err != nil {
		return nil, err
	}
	if err := b.store.SetBenchItem(ctx, id, trialKind, name, api.Trial{Name: name, Setup: setup}); err != nil {
		return nil, err
	}
	j, err := b.start(ctx, collection, "trial", "making the trial "+name, 0, func(ctx context.Context, j *job) (string, error) {
		_, err := b.build(ctx, collection, name, j.progress)
		return name, err
	})
	if err != nil {
		return nil, err
	}
	return j.told(), nil
}

// build makes a trial's index anew and keeps that it is ready.
func (b *Bench) build(ctx context.Context, collection, name string, progress func(done, all int)) (*service.Stand, error) {
	id, err := b.service.CollectionID(collection)
	if err != nil {
		return nil, err
	}
	trial, err := b.Trial(ctx, collection, name)
	if err != nil {
		return nil, err
	}
	if trial.Contents, err = b.service.Contents(ctx, collection); err != nil {
		return nil, err
	}
	dir := b.trialDir(id, name)
	b.forget(dir)
	stand, err := b.service.Build(ctx, collection, name, trial.Setup, dir, progress)
	if err != nil {
		return nil, err
	}
	trial.Ready, trial.Outdated, trial.Passages = true, false, stand.Passages()
	if err := b.store.SetBenchItem(ctx, id, trialKind, name, trial); err != nil {
		return nil, err
	}
	b.mu.Lock()
	defer b.mu.Unlock()
	b.stands[dir] = stand
	return stand, nil
}

func (b *Bench) forget(dir string) {
	b.mu.Lock()
	defer b.mu.Unlock()
	delete(b.stands, dir)
}

// stand returns the live set-up, or a trial's, whose index is made anew if documents have changed
// since or it cannot be opened.
func (b *Bench) stand(ctx context.Context, collection, trial string) (*service.Stand, error) {
	if trial == "" || trial == service.LiveSetup {
		return b.service.Live(ctx, collection)
	}
	id, err := b.service.CollectionID(collection)
	if err != nil {
		return nil, err
	}
	t, err := b.Trial(ctx, collection, trial)
	if err != nil {
		return nil, err
	}
	dir := b.trialDir(id, trial)
	if t.Ready && !t.Outdated {
		b.mu.Lock()
		stand := b.stands[dir]
		b.mu.Unlock()
		if stand != nil {
			return stand, nil
		}
		if _, err := os.Stat(dir); err == nil {
			if stand, err = b.service.Reopen(ctx, collection, trial, t.Setup, dir); err == nil {
				b.mu.Lock()
				defer b.mu.Unlock()
				b.stands[dir] = stand
				return stand, nil
			}
			b.log.Warn("a trial's index cannot be used and is made anew", "collection", collection, "trial", trial, "error", err)
		}
	}
	return b.build(ctx, collection, trial, func(int, int) {})
}

// AskTrial answers a question with a trial's set-up, or with the live one, without an outside model.
func (b *Bench) AskTrial(ctx context.Context, collection, trial string, ask api.Ask) (*answer.Answer, error) {
	if err := service.CheckQuestion(ask.Question); err != nil {
		return nil, err
	}
	stand, err := b.stand(ctx, collection, trial)
	if err != nil {
		return nil, err
	}
	a, err := stand.Answerer(ctx)
	if err != nil {
		return nil, err
	}
	a.Trace = ask.Trace
	return a.Ask(ctx, ask.Question, ask.After[max(0, len(ask.After)-service.MaxAfter):])
}

// Drop removes a trial with its index.
func (b *Bench) Drop(ctx context.Context, collection, name string) error {
	id, err := b.service.CollectionID(collection)
	if err != nil {
		return err
	}
	if err := b.store.RemoveBenchItem(ctx, id, trialKind, name); err != nil {
		return notFound("trial", name, err)
	}
	dir := b.trialDir(id, name)
	b.forget(dir)
	return os.RemoveAll(dir)
}

// Promote makes a trial's set-up the live one, and drops the trial. The set-up that was live can
// be put back.
func (b *Bench) Promote(ctx context.Context, collection, name string) (*api.Setup, error) {
	trial, err := b.Trial(ctx, collection, name)
	if err != nil {
		return nil, err
	}
	setup := trial.Setup
	setup.Recipe.Name = name
	if err := b.replace(ctx, collection, setup, "the trial "+name+" was promoted"); err != nil {
		return nil, err
	}
	if err := b.Drop(ctx, collection, name); err != nil {
		return nil, err
	}
	return b.service.Setup(ctx, collection)
}

// replace makes a set-up the live one and keeps the one before.
func (b *Bench) replace(ctx context.Context, collection string, setup api.Setup, why string) error {
	id, err := b.service.CollectionID(collection)
	if err != nil {
		return err
	}
	was, err := b.service.Setup(ctx, collection)
	if err != nil {
		return err
	}
	past, err := b.PastSetups(ctx, collection)
	if err != nil {
		return err
	}
	version := 1
	for _, p := range past {
		version = max(version, p.Version+1)
	}
	if err := b.service.Promote(ctx, collection, setup); err != nil {
		return err
	}
	kept := api.PastSetup{Version: version, Setup: *was, Since: time.Now().UTC().Truncate(time.Second), Why: why}
	return b.store.SetBenchItem(ctx, id, pastKind, strconv.Itoa(version), kept)
}

// PastSetups returns the set-ups that were live, the latest first.
func (b *Bench) PastSetups(ctx context.Context, collection string) ([]api.PastSetup, error) {
	out, _, err := keptItems[api.PastSetup](ctx, b, collection, pastKind, "earlier set-up")
	return out, err
}

// PutBack makes an earlier set-up the live one again.
func (b *Bench) PutBack(ctx context.Context, collection string, version int) (*api.Setup, error) {
	past, err := b.PastSetups(ctx, collection)
	if err != nil {
		return nil, err
	}
	for _, p := range past {
		if p.Version == version {
			if err := b.replace(ctx, collection, p.Setup, fmt.Sprintf("version %d was put back", version)); err != nil {
				return nil, err
			}
			return b.service.Setup(ctx, collection)
		}
	}
	return nil, fmt.Errorf("earlier set-up %d of collection %q: %w", version, collection, service.ErrNotFound)
}
