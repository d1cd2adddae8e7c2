package replica

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"reflect"
	"slices"

	"jardinet/index"
	"jardinet/ledger"
	"jardinet/store"
)

// A manifest is an index's, whose segments can be fetched by their hashes.
type manifest struct {
	index.Manifest
	Sums map[string]string `json:"sums"` // by name
}

// manifestOf reads the manifest of a shard; one that nothing is recorded of is empty.
func manifestOf(one *store.Shard, space index.Space) (manifest, error) {
	if len(one.Manifest) == 0 {
		out := manifest{Manifest: index.Empty(space)}
		out.Generation = one.Generation
		return out, nil
	}
	var out manifest
	if err := json.Unmarshal(one.Manifest, &out); err != nil {
		return out, fmt.Errorf("replica: manifest of a shard: %w", err)
	}
	return out, nil
}

// adoptAll brings the shards that are placed on this host into the state that the records say.
func (r *Replicas) adoptAll(ctx context.Context) error {
	all, err := r.Store.Shards(ctx, "")
	if err != nil {
		return err
	}
	var failures []error
	for _, one := range all {
		if !slices.Contains(r.hostsOf(one.Shard), r.Cluster.Host) {
			continue
		}
		x, err := r.replica(name{one.Collection, one.Shard})
		if errors.Is(err, store.ErrNotFound) {
			continue // removed meanwhile
		}
		if err == nil {
			err = r.adopt(ctx, x, &one)
		}
		if err != nil {
			failures = append(failures, fmt.Errorf("shard %d of %s: %w", one.Shard, one.Collection, err))
		}
	}
	return errors.Join(failures...)
}

// adopt brings a shard into the state that the records say.
func (r *Replicas) adopt(ctx context.Context, x *replica, one *store.Shard) error {
	x.writing.Lock()
	defer x.writing.Unlock()
	if x.sure && x.index.Generation() == one.Generation {
		return nil
	}
	return r.goBack(ctx, x, one)
}

// goBack brings a shard into the state that the records say, whatever it is in. The caller is the one
// who writes it.
func (r *Replicas) goBack(ctx context.Context, x *replica, one *store.Shard) error {
	x.sure = false
	m, err := manifestOf(one, x.index.Space())
	if err != nil {
		return err
	}
	if !reflect.DeepEqual(x.index.Manifest(), m.Manifest) {
		err := x.index.Adopt(m.Manifest, func(name, path string) error { return r.Cluster.Fetch(ctx, ledger.Segment+m.Sums[name], path) })
		if errors.Is(err, ledger.ErrNoObject) {
			return fmt.Errorf("%w: %w", store.ErrOutdated, err) // there is a newer one
		}
		if err != nil {
			return err
		}
	}
	x.sure = true
	r.stepped()
	return nil
}

// Needed returns the names of the files in common that the shards of all collections need.
func (r *Replicas) Needed(ctx context.Context) ([]string, error) {
	all, err := r.Store.Shards(ctx, "")
	if err != nil {
		return nil, err
	}
	var out []string
	for _, one := range all {
		m, err := manifestOf(&one, index.Space{})
		if err != nil {
			return nil, err
		}
		for _, sum := range m.Sums {
			out = append(out, ledger.Segment+sum)
		}
	}
	return out, nil
}

// Check reads the shards that this host has of a collection, and returns what is wrong.
func (r *Replicas) Check(ctx context.Context, collection string, progress func(done, all int)) ([]string, error) {
	r.mu.Lock()
	open := map[int]*index.Index{}
	for n, x := range r.open {
		if n.collection == collection {
			open[n.shard] = x.index
		}
	}
	r.mu.Unlock()
	problems := []string{}
	for _, number := range slices.Sorted(maps.Keys(open)) {
		if err := open[number].Check(ctx, progress); err != nil {
			if ctx.Err() != nil {
				return nil, err
			}
			problems = append(problems, fmt.Sprintf("shard %d on this host: %v", number, err))
		}
	}
	docs, err := r.Store.Documents(ctx, collection)
	if err != nil {
		return nil, err
	}
	for _, d := range docs {
		if d.State == store.Ready && d.Taken < 0 {
			problems = append(problems, d.Name+" is ready and in no shard yet")
		}
	}
	return problems, nil
}
