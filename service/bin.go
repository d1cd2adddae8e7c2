package service

import (
	"context"
	"errors"
	"fmt"
	"time"

	"jardinet/api"
	"jardinet/index"
	"jardinet/store"
)

// A removed document stays in its collection's bin for a while, with its versions, pages,
// corrections and tags; no answer comes from it. Then it is removed for good.

// binFor is how long what is removed can be put back.
const binFor = 7 * 24 * time.Hour

// Remove puts a document with all its versions into the bin. From then on no answer comes from
// it. With conversations, those that quote it are removed too, at once and for good.
func (s *Service) Remove(ctx context.Context, collection, name string, conversations bool) (*api.Removal, error) {
	c, d, err := s.document(ctx, collection, name)
	if err != nil {
		return nil, err
	}
	c.writing.Lock()
	defer c.writing.Unlock()
	versions, err := s.store.PutIntoBin(ctx, c.ID, d.Name)
	if err != nil {
		return nil, fmt.Errorf("document %q in collection %q: %w", name, collection, err)
	}
	var ids []string
	for _, v := range versions {
		ids = append(ids, v.ID)
		s.intake.forget(v.ID)
		c.forget(v.ID)
	}
	if x := c.index.Load(); x != nil {
		if err := x.Apply(nil, ids); err != nil {
			return nil, err
		}
	}
	out := removal(versions)
	if conversations {
		if out.Conversations, err = s.store.RemoveConversationsAbout(ctx, c.ID, ids); err != nil {
			return nil, err
		}
	}
	for _, id := range ids {
		s.events.send(Event{Collection: c.Name, Removed: id})
	}
	return out, nil
}

func removal(versions []store.Document) *api.Removal {
	out := &api.Removal{Versions: len(versions)}
	for _, v := range versions {
		out.Name, out.Removed, out.Until = v.Name, v.Removed, v.Removed.Add(binFor)
		out.Pages += v.Pages
	}
	return out
}

// Bin returns what has been removed from a collection and can be put back, the latest first.
func (s *Service) Bin(ctx context.Context, collection string) ([]api.Removal, error) {
	c, err := s.named(collection)
	if err != nil {
		return nil, err
	}
	docs, err := s.store.Bin(ctx, c.ID)
	if err != nil {
		return nil, err
	}
	out := []api.Removal{}
	for i := 0; i < len(docs); {
		n := i
		for n < len(docs) && docs[n].Name == docs[i].Name && docs[n].Removed.Equal(docs[i].Removed) {
			n++
		}
		out = append(out, *removal(docs[i:n]))
		i = n
	}
	return out, nil
}

// binned returns what is in the bin under a name, the latest removal alone.
func (s *Service) binned(ctx context.Context, collection, name string) (*collection, []store.Document, error) {
	c, err := s.named(collection)
	if err != nil {
		return nil, nil, err
	}
	docs, err := s.store.Bin(ctx, c.ID)
	if err != nil {
		return nil, nil, err
	}
	var out []store.Document
	for _, d := range docs {
		if d.Name == name && (out == nil || d.Removed.Equal(out[0].Removed)) {
			out = append(out, d)
		}
	}
	if out == nil {
		return nil, nil, fmt.Errorf("document %q in the bin of collection %q: %w", name, collection, ErrNotFound)
	}
	return c, out, nil
}

// Restore puts a document back as it was, with its versions. It is answered from at once if it
// was before.
func (s *Service) Restore(ctx context.Context, collection, name string) (*Document, error) {
	c, docs, err := s.binned(ctx, collection, name)
	if err != nil {
		return nil, err
	}
	if _, d, err := s.document(ctx, collection, name); err == nil && d.Name == name {
		return nil, fmt.Errorf("another document is called %q now; remove that one first: %w", name, ErrExists)
	}
	c.writing.Lock()
	defer c.writing.Unlock()
	var last store.Document
	for _, d := range docs {
		if err := s.takeOut(ctx, c, d); err != nil {
			return nil, err
		}
		if d.Was != store.Replaced {
			last = d
		}
	}
	if err := s.newRanker(ctx, c); err != nil {
		return nil, err
	}
	s.encoding.more()
	return s.Document(ctx, collection, last.Name)
}

func (s *Service) takeOut(ctx context.Context, c *collection, d store.Document) error {
	switch d.Was {
	case store.Replaced, store.Failed:
		return s.store.TakeOut(ctx, d.ID, d.Was)
	case store.Ready:
		if s.hosts != nil { // its shard takes it in again
			if err := s.store.TakeOut(ctx, d.ID, store.Indexing); err != nil {
				return err
			}
			s.hosts.replicas.Wake()
			s.tell(ctx, d.ID)
			return nil
		}
		entry, err := s.fromPages(ctx, c, d)
		if err != nil {
			break // it is read again
		}
		if err := c.index.Load().Apply([]index.Document{entry}, nil); err != nil {
			return err
		}
		if err := s.store.TakeOut(ctx, d.ID, store.Ready); err != nil {
			return err
		}
		s.tell(ctx, d.ID)
		return s.store.SetReady(ctx, map[string]store.Counts{d.ID: counts(&entry)}, nil)
	}
	if err := s.store.TakeOut(ctx, d.ID, store.Queued); err != nil {
		return err
	}
	s.tell(ctx, d.ID)
	s.enqueue(d)
	return nil
}

// Purge removes a document in the bin for good: records, pages and originals.
func (s *Service) Purge(ctx context.Context, collection, name string) error {
	_, docs, err := s.binned(ctx, collection, name)
	if err != nil {
		return err
	}
	return s.purge(ctx, docs)
}

func (s *Service) purge(ctx context.Context, docs []store.Document) error {
	for _, d := range docs {
		corrected, err := s.correctedPages(ctx, d.SHA256)
		if err != nil {
			return err
		}
		if err := s.store.RemoveDocument(ctx, d.ID); err != nil {
			return err
		}
		if err := s.drop(ctx, d.SHA256); err != nil {
			return err
		}
		if err := s.forgetCorrections(ctx, corrected); err != nil {
			return err
		}
	}
	if len(docs) == 0 {
		return nil
	}
	return s.emptyLog(ctx)
}

// How long a removal waits until what it removed is no longer in SQLite's log, and how often it tries.
const (
	emptyWithin = 2 * time.Second
	emptyAgain  = 20 * time.Millisecond
)

// emptyLog has what was removed vanish from SQLite's log too; if others are in its way all the time, later.
func (s *Service) emptyLog(ctx context.Context) error {
	for end := time.Now().Add(emptyWithin); time.Now().Before(end); {
		if done, err := s.store.Settle(ctx); err != nil || done {
			return err
		}
		select {
		case <-time.After(emptyAgain):
		case <-ctx.Done():
			s.emptyLogLater()
			return ctx.Err()
		}
	}
	s.emptyLogLater()
	return nil
}

// emptyLogLater has what was removed vanish from SQLite's log too, as soon as nobody is in its way.
func (s *Service) emptyLogLater() {
	select {
	case s.removed <- struct{}{}:
	default: // it is to be done already
	}
}

// keepLogEmpty empties SQLite's log after removals, until ctx is done.
func (s *Service) keepLogEmpty(ctx context.Context) {
	for {
		select {
		case <-s.removed:
		case <-ctx.Done():
			return
		}
		if err := s.emptyLog(ctx); err != nil && ctx.Err() == nil {
			s.Log.Error("what was removed is still in the log of the records", "error", err)
		}
	}
}

// correctedPages returns the keys of the pages of a content that people have corrected.
func (s *Service) correctedPages(ctx context.Context, sum string) (map[string]bool, error) {
	all, err := s.store.Corrections(ctx)
	if err != nil || len(all) == 0 {
		return nil, err
	}
	out := map[string]bool{}
	return out, s.eachPage(ctx, sum, func(key string) {
		if _, corrected := all[key]; corrected {
			out[key] = true
		}
	})
}

func (s *Service) eachPage(ctx context.Context, sum string, visit func(key string)) error {
	pages, err := s.store.Pages(ctx, sum)
	if err != nil && !errors.Is(err, errDamaged) {
		return err
	}
	for _, data := range pages {
		if page, err := decodePage(data); err == nil {
			visit(page.Key)
		}
	}
	return nil
}

// forgetCorrections removes what people changed on pages that no document has any more: it holds
// the pages' words.
func (s *Service) forgetCorrections(ctx context.Context, pages map[string]bool) error {
	if len(pages) == 0 {
		return nil
	}
	sums, err := s.store.Sums(ctx)
	if err != nil {
		return err
	}
	for _, sum := range sums {
		if err := s.eachPage(ctx, sum, func(key string) { delete(pages, key) }); err != nil {
			return err
		}
	}
	for key := range pages {
		if err := s.store.SetCorrections(ctx, key, nil); err != nil {
			return err
		}
	}
	return nil
}

// emptyBins removes for good what has been in a bin for long enough.
func (s *Service) emptyBins(ctx context.Context) error {
	docs, err := s.store.BinnedBefore(ctx, time.Now().Add(-binFor))
	if err != nil {
		return err
	}
	return s.purge(ctx, docs)
}
