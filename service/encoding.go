package service

import (
	"context"
	"errors"
	"slices"
	"sync"
	"time"

	"jardinet/encoder"
	"jardinet/index"
	"jardinet/passage"
	"jardinet/store"
)

// A document can be found by its words as soon as it has been read. What its passages
// mean follows in the background, the newest document first: each vector is kept in the
// store as soon as it is made, by the hash of its text, and when a document has all of
// its own, its entry in the index is replaced by one with vectors. So a kill costs a few
// passages, and a text that was there before is never encoded again.

// encoding is the work that goes on in the background.
type encoding struct {
	ctx    context.Context // done when it stops
	cancel context.CancelFunc
	done   sync.WaitGroup
	wake   chan struct{}
	asking asking

	mu       sync.Mutex
	progress map[string]int // passages encoded, by document id, of those under way
}

// Bounds of the work between two changes of an index: so many documents or passages, or so
// long.
const (
	encodedDocuments = 32
	encodedPassages  = 1024
	encodedFor       = 5 * time.Second
)

// atATime is how many passages are encoded before they are kept.
const atATime = 16

// retryEncoding is how long the work rests after a failure, of an outside server mostly.
const retryEncoding = 10 * time.Second

func (s *Service) startEncoding() {
	ctx, cancel := context.WithCancel(context.Background())
	m := &encoding{ctx: ctx, cancel: cancel, wake: make(chan struct{}, 1), progress: map[string]int{}}
	s.encoding = m
	if s.hosts != nil { // it is taken from the queue that the hosts have in common
		return
	}
	m.done.Go(func() {
		for {
			worked, err := s.encodeSome(ctx)
			if err == nil && !worked {
				worked, err = s.digestSome(ctx)
			}
			rest := retryEncoding
			switch {
			case ctx.Err() != nil:
				return
			case err != nil:
				s.Log.Warn("passages have no vectors yet; their documents are found by their words", "error", err)
			case worked:
				continue
			default:
				rest = time.Hour
			}
			select {
			case <-m.wake:
			case <-time.After(rest):
			case <-ctx.Done():
				return
			}
		}
	})
}

// stop ends the work; it goes on at the next start.
func (m *encoding) stop() {
	m.cancel()
	m.done.Wait()
}

// more tells the work that there is something to do.
func (m *encoding) more() {
	select {
	case m.wake <- struct{}{}:
	default:
	}
}

func (m *encoding) of(id string) int {
	m.mu.Lock()
	defer m.mu.Unlock()
	return m.progress[id]
}

func (m *encoding) note(id string, n int) {
	m.mu.Lock()
	defer m.mu.Unlock()
	if n == 0 {
		delete(m.progress, id)
	} else {
		m.progress[id] = n
	}
}

// encodeSome gives some documents their vectors and tells whether there were any.
func (s *Service) encodeSome(ctx context.Context) (worked bool, err error) {
	docs, err := s.store.Unencoded(ctx, encodedDocuments)
	if err != nil || len(docs) == 0 {
		return false, err
	}
	entries := map[string][]index.Document{} // by collection
	passages, started := 0, time.Now()
	var failures []error
	for _, d := range docs {
		entry, err := s.encodeDocument(ctx, &d)
		if ctx.Err() != nil {
			return false, ctx.Err()
		}
		if err != nil {
			failures = append(failures, err)
			continue
		}
		entries[d.Collection] = append(entries[d.Collection], *entry)
		if passages += len(entry.Passages); passages >= encodedPassages || time.Since(started) > encodedFor {
			break
		}
	}
	for id, docs := range entries {
		failures = append(failures, s.publishVectors(ctx, id, docs))
	}
	return len(entries) > 0, errors.Join(failures...)
}

// encodeDocument encodes the passages of a document and returns its entry with their vectors.
func (s *Service) encodeDocument(ctx context.Context, d *store.Document) (*index.Document, error) {
	c, err := s.byID(d.Collection)
	if err != nil {
		return &index.Document{}, nil // removed meanwhile
	}
	entry := &index.Document{Key: d.ID}
	var texts []embedded
	err = s.searcher(c).Document(d.ID, func(_ int, stored []byte) error {
		p, err := passage.Decode(stored)
		if err != nil {
			return err
		}
		entry.Passages = append(entry.Passages, entryOf(d.Title, p, stored))
		texts = append(texts, embeddedOf(d.Title, p))
		return nil
	})
	if err != nil {
		return nil, err
	}
	recipe := c.recipe.Load()
	have, err := s.keptVectors(ctx, recipe, texts)
	if err != nil {
		return nil, err
	}
	defer s.encoding.note(d.ID, 0)
	err = s.encodeMissing(ctx, recipe, texts, have, func(done int) {
		s.encoding.note(d.ID, done)
		s.tell(ctx, d.ID)
	})
	if err != nil {
		return nil, err
	}
	for i := range entry.Passages {
		entry.Passages[i].Vector = have[i]
	}
	return entry, nil
}

// publishVectors puts entries with vectors in the place of those without, for documents
// that are still as they were.
func (s *Service) publishVectors(ctx context.Context, id string, entries []index.Document) error {
	c, err := s.byID(id)
	if err != nil {
		return nil // removed meanwhile
	}
	c.writing.Lock()
	defer c.writing.Unlock()
	x := c.index.Load()
	counts, keys := map[string]int{}, []string{}
	entries = slices.DeleteFunc(entries, func(e index.Document) bool {
		d, err := s.store.Document(ctx, e.Key)
		if err != nil || d.State != store.Ready || d.Passages != len(e.Passages) || !x.Has(e.Key) {
			return true
		}
		counts[e.Key], keys = len(e.Passages), append(keys, e.Key)
		return false
	})
	if len(entries) == 0 {
		return nil
	}
	if err := x.Apply(entries, keys); err != nil {
		return err
	}
	if err := s.store.SetEncoded(ctx, counts); err != nil {
		return err
	}
	for _, key := range keys {
		s.tell(ctx, key)
	}
	return nil
}

// asking counts the questions that are being answered, to which work in the background
// gives way.
type asking struct {
	mu   sync.Mutex
	n    int
	free chan struct{} // closed when the last one is answered; nil if none is asked
}

// giveWay is how long the background waits at the most before it goes on a little, so that
// it gets on under any load.
const giveWay = 100 * time.Millisecond

func (a *asking) count() int {
	a.mu.Lock()
	defer a.mu.Unlock()
	return a.n
}

func (a *asking) begin() {
	a.mu.Lock()
	defer a.mu.Unlock()
	if a.n++; a.n == 1 {
		a.free = make(chan struct{})
	}
}

func (a *asking) end() {
	a.mu.Lock()
	defer a.mu.Unlock()
	if a.n--; a.n == 0 {
		close(a.free)
		a.free = nil
	}
}

// patiently returns a context under which encoding gives way to questions.
func (a *asking) patiently(ctx context.Context) context.Context {
	return encoder.Patiently(ctx, a.wait)
}

// wait returns once nothing is asked, or after a while.
func (a *asking) wait(ctx context.Context) {
	a.mu.Lock()
	free := a.free
	a.mu.Unlock()
	if free == nil {
		return
	}
	select {
	case <-free:
	case <-time.After(giveWay):
	case <-ctx.Done():
	}
}
