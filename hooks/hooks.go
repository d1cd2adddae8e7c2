// Package hooks tells other programs, by HTTP, what happens in a collection: that a document is
// ready, has failed, was replaced or removed, or that answers have become worse.
//
// What is to be told is written down in the same step as what happened, and crossed out when the
// other program has answered that it has it; so nothing is lost by a restart on either side, and
// something may come twice, under the same id. Each program is told one thing after another, in
// their order. Requests are signed as the Standard Webhooks specification (1.0) has it: the id, the
// time and the body by HMAC-SHA256, so that who is told can tell that it was this service.
package hooks

import (
	"cmp"
	"context"
	"crypto/rand"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"maps"
	"net/http"
	"slices"
	"strings"
	"sync"
	"time"

	"jardinet/api"
	"jardinet/service"
	"jardinet/store"
)

// Events are what can be told, by their names, and what they mean.
var Events = map[string]string{
	"document.ready":    "a document is ready, and answers come from it",
	"document.failed":   "a document could not be read",
	"document.replaced": "a newer version has taken a document's place",
	"document.removed":  "a document was put into the bin",
	AccuracyDropped:     "a measurement shows less than is required, or less than before",
}

// AccuracyDropped is the event that the bench tells.
const AccuracyDropped = "accuracy.dropped"

// Options say where may be told.
type Options struct {
	Addresses map[string]string // by the names that settings use
	Secrets   map[string]string // that deliveries are signed with, by the same names
	Log       *slog.Logger
}

// A Teller tells. It may be used by many goroutines.
type Teller struct {
	Options
	service *service.Service
	store   *store.Store
	client  http.Client
	wake    chan struct{}
	pause   func(tries int) time.Duration
	cancel  context.CancelFunc
	done    sync.WaitGroup
}

// Open begins to tell what is still to be told.
func Open(s *service.Service, opts Options) *Teller {
	t := closed(s, opts)
	ctx, cancel := context.WithCancel(context.Background())
	t.cancel = cancel
	t.done.Go(func() { s.Duty(ctx, service.WebhooksDuty, t.run) })
	return t
}

// closed is a Teller that does not run yet.
func closed(s *service.Service, opts Options) *Teller {
	if opts.Log == nil {
		opts.Log = slog.New(slog.DiscardHandler)
	}
	return &Teller{
		Options: opts, service: s, store: s.Store(), wake: make(chan struct{}, 1), pause: pause, cancel: func() {},
		client: http.Client{
			Timeout:       timeout,
			CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
		},
	}
}

// Close ends the telling, after what is under way. What is left is told after the next start.
func (t *Teller) Close() {
	t.cancel()
	t.done.Wait()
}

// Check tells what is wrong with the name of a hook, if anything.
func (t *Teller) Check(name string) error {
	if t.Addresses[name] != "" {
		return nil
	}
	known := "none has been named yet"
	if len(t.Addresses) > 0 {
		known = "there are " + strings.Join(slices.Sorted(maps.Keys(t.Addresses)), ", ")
	}
	return fmt.Errorf("there is no webhook %q; %s (whoever runs the service names them with --webhook NAME=ADDRESS): %w", name, known, service.ErrInvalid)
}

// Set has a program told of some events in a collection; without any it is told nothing more.
func (t *Teller) Set(ctx context.Context, collection, name string, events []string) error {
	id, err := t.service.CollectionID(collection)
	if err != nil {
		return err
	}
	if len(events) > 0 {
		if err := t.Check(name); err != nil {
			return err
		}
	}
	for _, e := range events {
		if Events[e] == "" {
			return fmt.Errorf("there is no event %q; choose from %s: %w", e, strings.Join(slices.Sorted(maps.Keys(Events)), ", "), service.ErrInvalid)
		}
	}
	err = t.store.SetHook(ctx, id, name, slices.Compact(slices.Sorted(slices.Values(events))))
	if errors.Is(err, service.ErrNotFound) {
		return fmt.Errorf("%q is told nothing of %s: %w", name, collection, err)
	}
	return err
}

// List returns who is told what of a collection.
func (t *Teller) List(ctx context.Context, collection string) (*api.Hooks, error) {
	id, err := t.service.CollectionID(collection)
	if err != nil {
		return nil, err
	}
	kept, err := t.store.Hooks(ctx, id)
	if err != nil {
		return nil, err
	}
	out := &api.Hooks{Hooks: []api.Hook{}, Names: slices.AppendSeq([]string{}, maps.Keys(t.Addresses))}
	slices.Sort(out.Names)
	for _, h := range kept {
		out.Hooks = append(out.Hooks, api.Hook{Name: h.Name, Events: h.Events, Signed: t.Secrets[h.Name] != "", Waiting: h.Waiting, Problem: h.Problem})
	}
	return out, nil
}

// Tell has the program with a name told something of a collection, whatever else it is told.
func (t *Teller) Tell(ctx context.Context, collection, name, event string, data any) error {
	id, err := t.service.CollectionID(collection)
	if err != nil {
		return err
	}
	body, err := json.Marshal(map[string]any{"type": event, "timestamp": time.Now().UTC(), "data": data})
	if err != nil {
		return fmt.Errorf("hooks: %w", err)
	}
	if err := t.store.AddDelivery(ctx, &store.Delivery{Collection: id, Hook: name, ID: "msg_" + strings.ToLower(rand.Text()), Body: string(body)}); err != nil {
		return err
	}
	t.hurry()
	return nil
}

// TellAll has all programs told that are to be told of an event, and one more if it has a name.
func (t *Teller) TellAll(ctx context.Context, collection, more, event string, data any) error {
	all, err := t.List(ctx, collection)
	if err != nil {
		return err
	}
	names := map[string]bool{}
	if more != "" {
		names[more] = true
	}
	for _, h := range all.Hooks {
		if slices.Contains(h.Events, event) {
			names[h.Name] = true
		}
	}
	for name := range names {
		err = cmp.Or(err, t.Tell(ctx, collection, name, event, data))
	}
	return err
}

// hurry has the queue looked at at once.
func (t *Teller) hurry() {
	select {
	case t.wake <- struct{}{}:
	default:
	}
}
