package replica

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"maps"
	"os"
	"slices"

	"jardinet/index"
	"jardinet/ledger"
	"jardinet/shard"
	"jardinet/store"
)

// takenAtATime is how many documents a shard takes in at a time.
const takenAtATime = 64

// A waiting list is what a shard is to take in, and to let go of.
type waiting struct {
	stale []store.Document
	dead  []string
}

// A batch is what a shard takes in, and lets go of, in one step.
type batch struct {
	add      []index.Document
	taken    map[string]store.Taken
	replaced []string // older versions of what it takes in
	dead     []string
}

// writeAll takes in what is waiting for the shards that this host writes.
func (r *Replicas) writeAll(ctx context.Context) error {
	all, err := r.waiting(ctx)
	if err != nil {
		return err
	}
	var failures []error
	for n, w := range all {
		if r.writer(n.shard) != r.Cluster.Host {
			continue
		}
		for len(w.stale) > 0 || len(w.dead) > 0 {
			most := min(takenAtATime, len(w.stale))
			err := r.write(ctx, n, w.stale[:most], w.dead)
			if errors.Is(err, store.ErrNotFound) {
				break // the collection is gone
			}
			if err != nil {
				failures = append(failures, fmt.Errorf("shard %d of %s: %w", n.shard, n.collection, err))
				break
			}
			w.stale, w.dead = w.stale[most:], nil
		}
	}
	return errors.Join(failures...)
}

// writer returns the host that writes a shard: the first of those that have it that is there.
func (r *Replicas) writer(shard int) string {
	for _, host := range r.hostsOf(shard) {
		for _, m := range r.Cluster.Hosts() {
			if m.Host == host && m.Alive() {
				return host
			}
		}
	}
	return ""
}

func (r *Replicas) waiting(ctx context.Context) (map[name]*waiting, error) {
	shards, _ := r.Cluster.Terms()
	out := map[name]*waiting{}
	list := func(collection, document string) *waiting {
		n := name{collection, shard.Of(collection, document, shards)}
		if out[n] == nil {
			out[n] = &waiting{}
		}
		return out[n]
	}
	stale, err := r.Store.Stale(ctx)
	if err != nil {
		return nil, err
	}
	for _, d := range stale {
		w := list(d.Collection, d.Name)
		w.stale = append(w.stale, d)
	}
	dead, err := r.Store.Dead(ctx, "")
	if err != nil {
		return nil, err
	}
	for _, d := range dead {
		w := list(d.Collection, d.Name)
		w.dead = append(w.dead, d.ID)
	}
	return out, nil
}

// write takes documents into a shard and lets go of others.
func (r *Replicas) write(ctx context.Context, n name, stale []store.Document, dead []string) error {
	x, err := r.replica(n)
	if err != nil {
		return err
	}
	before, err := r.recorded(ctx, n)
	if err != nil {
		return err
	}
	if err := r.adopt(ctx, x, before); err != nil {
		return err
	}
	b, err := r.prepare(ctx, stale)
	if err != nil {
		return err
	}
	b.dead = dead
	if err := r.take(ctx, x, before, b); err != nil {
		return err
	}
	r.stepped()
	r.Took(ctx, b.taken, b.replaced)
	return nil
}

// take does what a batch says, here and in the records, or in neither.
func (r *Replicas) take(ctx context.Context, x *replica, before *store.Shard, b *batch) error {
	x.writing.Lock()
	defer x.writing.Unlock()
	remove := slices.Concat(b.dead, b.replaced)
	for _, d := range b.add {
		remove = append(remove, d.Key)
	}
	err := x.index.Apply(b.add, remove)
	if err == nil {
		err = r.publish(ctx, x, before, b)
	}
	if err != nil {
		return errors.Join(err, r.goBack(ctx, x, before))
	}
	return nil
}

// recorded returns what the records say of a shard, an empty one if nothing.
func (r *Replicas) recorded(ctx context.Context, n name) (*store.Shard, error) {
	all, err := r.Store.Shards(ctx, n.collection)
	if err != nil {
		return nil, err
	}
	for _, one := range all {
		if one.Shard == n.shard {
			return &one, nil
		}
	}
	return &store.Shard{Collection: n.collection, Shard: n.shard}, nil
}

// prepare cuts documents for a shard, and says which older ones they replace. Of two of one name the
// later one is taken in.
func (r *Replicas) prepare(ctx context.Context, stale []store.Document) (*batch, error) {
	b := &batch{taken: map[string]store.Taken{}}
	newest := map[string]string{}
	for _, d := range stale {
		newest[d.Name] = d.ID
	}
	for _, d := range stale {
		if d.State == store.Indexing && newest[d.Name] != d.ID {
			b.replaced = append(b.replaced, d.ID)
			continue
		}
		entry, err := r.Cut(ctx, d)
		if errors.Is(err, store.ErrDamaged) {
			continue
		}
		if err != nil {
			return nil, err
		}
		if d.State == store.Indexing {
			older, err := r.Store.ReadyNamed(ctx, d.Collection, d.Name)
			if err != nil {
				return nil, err
			}
			b.replaced = append(b.replaced, slices.DeleteFunc(older, func(id string) bool { return id == d.ID })...)
		}
		b.add = append(b.add, entry)
		b.taken[d.ID] = store.Taken{Revision: d.Revision, Counts: store.Counts{Passages: len(entry.Passages), Encoded: entry.Encoded()}}
	}
	return b, nil
}

// publish hands on the segments of a shard and makes its state part of the records.
func (r *Replicas) publish(ctx context.Context, x *replica, before *store.Shard, b *batch) error {
	old, err := manifestOf(before, x.index.Space())
	if err != nil {
		return err
	}
	now := manifest{Manifest: x.index.Manifest(), Sums: map[string]string{}}
	for _, seg := range now.Segments {
		sum, ok := old.Sums[seg.Name]
		if !ok {
			if sum, err = r.handOn(ctx, x.index.SegmentPath(seg.Name)); err != nil {
				return err
			}
		}
		now.Sums[seg.Name] = sum
	}
	one := &store.Shard{Collection: before.Collection, Shard: before.Shard, Generation: now.Generation}
	if one.Manifest, err = json.Marshal(now); err != nil {
		return fmt.Errorf("replica: %w", err)
	}
	if one.Totals, err = json.Marshal(x.index.Totals()); err != nil {
		return fmt.Errorf("replica: %w", err)
	}
	if err := r.Store.PublishShard(ctx, one, before.Generation, b.taken, b.replaced, slices.Concat(b.dead, b.replaced)); err != nil {
		return err
	}
	r.letGo(ctx, old.Sums, now.Sums)
	return nil
}

// letGo removes the segments that a shard no longer has from what is in common.
func (r *Replicas) letGo(ctx context.Context, old, now map[string]string) {
	kept := slices.Collect(maps.Values(now))
	for _, sum := range old {
		if slices.Contains(kept, sum) {
			continue
		}
		if err := r.Cluster.Ledger().Remove(ctx, ledger.Segment+sum); err != nil { // it is removed later
			r.Log.Warn("a segment that is no longer used could not be removed", "error", err)
		}
	}
}

// handOn gives the other hosts a segment, and returns its hash.
func (r *Replicas) handOn(ctx context.Context, path string) (sum string, err error) {
	f, err := os.Open(path)
	if err != nil {
		return "", fmt.Errorf("replica: %w", err)
	}
	defer f.Close()
	hash := sha256.New()
	if _, err := io.Copy(hash, f); err != nil {
		return "", fmt.Errorf("replica: %w", err)
	}
	if _, err := f.Seek(0, io.SeekStart); err != nil {
		return "", fmt.Errorf("replica: %w", err)
	}
	sum = hex.EncodeToString(hash.Sum(nil))
	return sum, r.Cluster.Ledger().Put(ctx, ledger.Segment+sum, f)
}
