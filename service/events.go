package service

import (
	"context"
	"slices"
	"sync"
)

// An Event tells what changed in a collection.
type Event struct {
	Collection string
	Document   *Document // as it is now
	Removed    string    // id of a document that is gone
}

// A broker hands events to whoever listens. A listener that does not keep up
// loses events; those of progress come again, and lists tell the rest.
type broker struct {
	mu        sync.Mutex
	listeners map[chan Event]bool
}

func newBroker() *broker { return &broker{listeners: map[chan Event]bool{}} }

func (b *broker) send(e Event) {
	b.mu.Lock()
	defer b.mu.Unlock()
	for ch := range b.listeners {
		select {
		case ch <- e:
		default: // progress comes again
		}
	}
}

func (b *broker) listen() (chan Event, func()) {
	ch := make(chan Event, 1024)
	b.mu.Lock()
	defer b.mu.Unlock()
	if b.listeners == nil {
		close(ch)
		return ch, func() {}
	}
	b.listeners[ch] = true
	return ch, func() {
		b.mu.Lock()
		defer b.mu.Unlock()
		if b.listeners[ch] {
			delete(b.listeners, ch)
			close(ch)
		}
	}
}

func (b *broker) close() {
	b.mu.Lock()
	defer b.mu.Unlock()
	for ch := range b.listeners {
		close(ch)
	}
	b.listeners = nil
}

// Listen returns a channel of what changes in all collections, from now on.
// The channel is closed by cancel or when the service closes.
func (s *Service) Listen() (events <-chan Event, cancel func()) { return s.events.listen() }

// Settle waits until each document of a collection is settled, and returns them.
func (s *Service) Settle(ctx context.Context, collection string) ([]Document, error) {
	events, cancel := s.Listen()
	defer cancel()
	for {
		docs, err := s.Documents(ctx, collection)
		if err != nil {
			return nil, err
		}
		if !slices.ContainsFunc(docs, func(d Document) bool { return !d.Settled() }) {
			return docs, nil
		}
		select {
		case <-events:
		case <-ctx.Done():
			return nil, ctx.Err()
		}
	}
}
