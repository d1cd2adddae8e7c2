// Package replica keeps the shards that a host of a cluster has.
//
// Each shard is written by one host, the first alive of those that have it: it takes in the documents
// that are waiting, hands on the new segments and makes the new manifest part of the records, in one
// step with the documents' being ready. The others fetch the segments and adopt the manifest. That two
// hosts write at once does no harm: the records take only the one that began from what they say.
//
// A question goes to all shards of a collection (shard.Set), each of which is asked of a host that has
// it: of this one before others, and of one that was late last.
package replica

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"slices"
	"strconv"
	"sync"
	"time"

	"jardinet/cluster"
	"jardinet/index"
	"jardinet/shard"
	"jardinet/store"
)

// Options are what replicas are made from.
type Options struct {
	Cluster *cluster.Cluster
	Store   *store.Store
	Log     *slog.Logger
	// Dir returns the directory of a collection's shards.
	Dir func(collection string) string
	// Space returns the space of a collection's vectors, ErrNotFound of the store if it is gone.
	Space func(collection string) (index.Space, error)
	// Cut makes a document's entry from its kept pages. One that cannot be made from them is
	// store.ErrDamaged, and is left out.
	Cut func(ctx context.Context, d store.Document) (index.Document, error)
	// Visit visits the passages of a document as they are cut from its kept pages.
	Visit func(key string, visit func(ordinal int, stored []byte) error) error
	// Holds returns what tells whether a stored passage holds phrases.
	Holds func(phrases [][]string) func(stored []byte) bool
	// Took is told which documents were taken in here, and which older ones they replace.
	Took func(ctx context.Context, taken map[string]store.Taken, replaced []string)
}

// Replicas are the shards that one host has, of all collections.
type Replicas struct {
	Options
	holder *shard.Holder

	mu      sync.Mutex
	open    map[name]*replica
	known   map[string]*known
	changes uint64           // counts what changed in the records
	placed  map[int][]string // hosts by shard
	avoided map[string]avoided
	vain    map[name]uint64 // the generations that were waited for in vain
	moved   chan struct{}   // closed when a replica is in a new state
	wake    chan struct{}
}

// A name is that of a shard.
type name struct {
	collection string
	shard      int
}

// known is what this host knows of a collection.
type known struct {
	parts []shard.Part // as the records say; nil for not looked up
	words shard.Known
}

// A replica is a shard on this host.
type replica struct {
	writing sync.Mutex
	index   *index.Index
	sure    bool // what it holds is what the records say of its generation
}

// New returns the replicas of a host, none of which is open yet.
func New(opts Options) *Replicas {
	r := &Replicas{
		Options: opts, open: map[name]*replica{}, known: map[string]*known{}, placed: map[int][]string{}, avoided: map[string]avoided{}, vain: map[name]uint64{},
		moved: make(chan struct{}), wake: make(chan struct{}, 1),
	}
	r.holder = &shard.Holder{Holds: opts.Holds, Index: r.await}
	return r
}

// How often the shards are looked at without need, and after a failure.
const (
	looksEvery = 5 * time.Second
	triesEvery = 300 * time.Millisecond
)

// Run brings this host's shards up to date whenever something changes, until ctx is done.
func (r *Replicas) Run(ctx context.Context) {
	for ctx.Err() == nil {
		rest := looksEvery
		if err := r.update(ctx); err != nil && ctx.Err() == nil {
			rest = triesEvery
			if !errors.Is(err, store.ErrOutdated) {
				r.Log.Warn("the shards are not up to date yet", "error", err)
			}
		}
		select {
		case <-r.wake:
		case <-time.After(rest):
		case <-ctx.Done():
		}
	}
}

// update adopts what others wrote, and writes the shards that this host writes.
func (r *Replicas) update(ctx context.Context) error {
	if err := r.Locate(ctx); err != nil {
		return err
	}
	return errors.Join(r.adoptAll(ctx), r.writeAll(ctx))
}

// Locate takes over from the records which hosts have which shards.
func (r *Replicas) Locate(ctx context.Context) error {
	placed, err := r.Store.Placement(ctx)
	if err != nil {
		return err
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	r.placed = placed
	return nil
}

// hostsOf returns the hosts that are to have a shard. The caller does not change them.
func (r *Replicas) hostsOf(shard int) []string {
	r.mu.Lock()
	defer r.mu.Unlock()
	return r.placed[shard]
}

// Wake has this host look at once at what is to be done.
func (r *Replicas) Wake() {
	select {
	case r.wake <- struct{}{}:
	default:
	}
}

// Changed takes note of a change of the records.
func (r *Replicas) Changed(c *store.Change) {
	r.mu.Lock()
	r.changes++
	if c.Touches("shards") {
		for _, k := range r.known {
			k.parts = nil
		}
	}
	r.mu.Unlock()
	if c.Touches("shards") || c.Touches("documents") || c.Touches("placement") || c.Touches("collections") {
		r.Wake()
	}
}

// Forget lets go of a collection that is gone.
func (r *Replicas) Forget(collection string) {
	r.mu.Lock()
	defer r.mu.Unlock()
	for n := range r.open {
		if n.collection == collection {
			delete(r.open, n)
		}
	}
	delete(r.known, collection)
}

// replica opens a shard on this host.
func (r *Replicas) replica(n name) (*replica, error) {
	space, err := r.Space(n.collection)
	if err != nil {
		return nil, err
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	if one := r.open[n]; one != nil && one.index.Space() == space {
		return one, nil
	}
	dir := filepath.Join(r.Dir(n.collection), strconv.Itoa(n.shard))
	x, err := index.Open(dir, space)
	if err != nil {
		r.Log.Warn("a shard cannot be used and is fetched anew", "collection", n.collection, "shard", n.shard, "error", err)
		if err := os.RemoveAll(dir); err != nil {
			return nil, fmt.Errorf("replica: %w", err)
		}
		if x, err = index.Open(dir, space); err != nil {
			return nil, err
		}
	}
	x.Mark(r.Cluster.Host)
	one := &replica{index: x}
	r.open[n] = one
	return one, nil
}

// stepped tells those who wait that a replica is in a new state.
func (r *Replicas) stepped() {
	r.mu.Lock()
	defer r.mu.Unlock()
	close(r.moved)
	r.moved = make(chan struct{})
}

// of returns what is known of a collection. The lock is held.
func (r *Replicas) of(collection string) *known {
	if r.known[collection] == nil {
		r.known[collection] = &known{}
	}
	return r.known[collection]
}

// parts returns the shards of a collection as the records say.
func (r *Replicas) parts(collection string) []shard.Part {
	r.mu.Lock()
	parts, changes := r.of(collection).parts, r.changes
	r.mu.Unlock()
	if parts != nil {
		return parts
	}
	all, err := r.Store.Shards(context.Background(), collection)
	if err != nil {
		r.Log.Error("the shards cannot be looked up", "error", err)
		return nil
	}
	parts = []shard.Part{}
	for _, one := range all {
		p := shard.Part{Shard: one.Shard, Generation: one.Generation}
		if err := json.Unmarshal(one.Totals, &p.Totals); err != nil {
			r.Log.Error("a shard cannot be read", "error", err)
		}
		parts = append(parts, p)
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	if changes == r.changes { // else it may be of before
		r.of(collection).parts = parts
	}
	return parts
}

// State tells which shards this host has up to date, in order, and how many it has yet to fetch.
func (r *Replicas) State(ctx context.Context) (current []int, behind int, err error) {
	all, err := r.Store.Shards(ctx, "")
	if err != nil {
		return nil, 0, err
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	old := map[int]bool{}
	for _, one := range all {
		if !slices.Contains(r.placed[one.Shard], r.Cluster.Host) {
			continue
		}
		if x := r.open[name{one.Collection, one.Shard}]; one.Generation > 0 && (x == nil || x.index.Generation() < one.Generation) {
			old[one.Shard] = true
			behind++
		}
	}
	current = []int{}
	for number, hosts := range r.placed {
		if slices.Contains(hosts, r.Cluster.Host) && !old[number] {
			current = append(current, number)
		}
	}
	slices.Sort(current)
	return current, behind, nil
}
