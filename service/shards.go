package service

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"

	"jardinet/answer"
	"jardinet/index"
	"jardinet/replica"
	"jardinet/store"
)

// newReplicas returns what keeps the shards that this host has, made from the pages that are kept.
func (s *Service) newReplicas() *replica.Replicas {
	return replica.New(replica.Options{
		Cluster: s.hosts.Cluster, Store: s.store, Log: s.Log, Dir: s.indexDir, Holds: answer.Holding, Cut: s.forShard, Visit: s.visit, Took: s.tookIn,
		Space: func(collection string) (index.Space, error) {
			c, err := s.byID(collection)
			if err != nil {
				return index.Space{}, err
			}
			return spaceOf(c.recipe.Load()), nil
		},
	})
}

// forShard makes a document's entry. One whose pages are damaged is read again.
func (s *Service) forShard(ctx context.Context, d store.Document) (index.Document, error) {
	c, err := s.byID(d.Collection)
	if err != nil {
		return index.Document{}, err
	}
	entry, err := s.fromPages(ctx, c, d)
	if errors.Is(err, errDamaged) {
		if aside := s.setAside(ctx, d, err); aside != nil {
			return index.Document{}, aside
		}
	}
	return entry, err
}

// visit visits the passages of a document as they are cut from its kept pages.
func (s *Service) visit(key string, visit func(ordinal int, stored []byte) error) error {
	ctx := context.Background()
	d, err := s.store.Document(ctx, key)
	if errors.Is(err, ErrNotFound) || err == nil && d.State != store.Ready {
		return nil
	}
	if err != nil {
		return err
	}
	c, err := s.byID(d.Collection)
	if err != nil {
		return err
	}
	doc, err := s.kept(ctx, *d)
	if err != nil {
		return err
	}
	entry, _, err := s.cut(ctx, c, d.ID, doc)
	if err != nil {
		return err
	}
	for i := range entry.Passages {
		if err := visit(i, entry.Passages[i].Stored); err != nil {
			return err
		}
	}
	return nil
}

// tookIn tells of documents that a shard has taken in, and has those encoded that have no vectors yet.
func (s *Service) tookIn(ctx context.Context, taken map[string]store.Taken, replaced []string) {
	for id, t := range taken {
		s.tell(ctx, id)
		if t.Counts.Encoded < t.Counts.Passages {
			_ = s.hosts.Ledger().Enqueue(ctx, encodeTask, id) // else it is put there later
		}
	}
	for _, id := range replaced {
		s.tell(ctx, id)
	}
}

// reindexTogether has the shards of a collection take in all documents again by another recipe. Where
// its vectors are of another space the shards begin anew, and find what they have taken in so far.
func (s *Service) reindexTogether(ctx context.Context, c *collection, old, recipe *Recipe) error {
	if err := s.store.SetRecipe(ctx, c.ID, recipe); err != nil {
		return err
	}
	if err := errors.Join(s.reload(ctx, c), s.newRanker(ctx, c)); err != nil {
		return err
	}
	if spaceOf(recipe) != spaceOf(old) {
		return s.beginShardsAnew(ctx, c)
	}
	defer s.hosts.replicas.Wake()
	return s.store.Renew(ctx, c.ID, "")
}

// beginShardsAnew has the shards of a collection made from nothing.
func (s *Service) beginShardsAnew(ctx context.Context, c *collection) error {
	defer s.hosts.replicas.Wake()
	return s.store.ForgetShards(ctx, c.ID)
}

// clearIndex removes the index that a collection had when this host was alone; shards lie in folders
// below it.
func (s *Service) clearIndex(collection string) error {
	entries, err := os.ReadDir(s.indexDir(collection))
	if err != nil && !errors.Is(err, os.ErrNotExist) {
		return fmt.Errorf("service: %w", err)
	}
	for _, e := range entries {
		if e.IsDir() {
			continue
		}
		if err := os.Remove(filepath.Join(s.indexDir(collection), e.Name())); err != nil {
			return fmt.Errorf("service: %w", err)
		}
	}
	return nil
}
