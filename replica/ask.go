package replica

import (
	"context"
	"maps"
	"slices"
	"time"

	"jardinet/index"
	"jardinet/shard"
)

// subject is where a host is asked about its shards.
const subject = "jardinet.shard."

// Serve answers what other hosts ask about the shards of this one, until ctx is done.
func (r *Replicas) Serve(ctx context.Context) error {
	return r.Cluster.Reply(ctx, subject+r.Cluster.Host, func(request []byte) ([]byte, bool) { return r.holder.Answer(ctx, request), true })
}

// adoptsWithin is how long a question waits for a shard to be in the state that it asks for.
const adoptsWithin = 200 * time.Millisecond

// await returns a shard that this host has once it is in the state of a generation.
func (r *Replicas) await(ctx context.Context, collection string, number int, generation uint64) (*index.Index, bool) {
	n := name{collection, number}
	late := time.NewTimer(adoptsWithin)
	defer late.Stop()
	for {
		r.mu.Lock()
		x, moved, has := r.open[n], r.moved, slices.Contains(r.placed[number], r.Cluster.Host)
		vain := r.vain[n] >= generation
		r.mu.Unlock()
		if x != nil && x.index.Generation() >= generation {
			return x.index, true
		}
		if !has || vain {
			return nil, false
		}
		r.Wake()
		select {
		case <-moved:
		case <-late.C: // whoever asks next need not wait too
			r.mu.Lock()
			r.vain[n] = generation
			r.mu.Unlock()
			return nil, false
		case <-ctx.Done():
			return nil, false
		}
	}
}

// Set returns a collection's shards as they are now.
func (r *Replicas) Set(collection string) *shard.Set {
	parts := r.parts(collection)
	shards, _ := r.Cluster.Terms()
	changes := uint64(0)
	for _, p := range parts {
		changes += p.Generation
	}
	r.mu.Lock()
	words := &r.of(collection).words
	r.mu.Unlock()
	return &shard.Set{
		Collection: collection, Parts: parts, Of: shards, Holder: r.holder, Self: r.Cluster.Host, Changes: changes, Known: words,
		Hosts: r.order(collection, parts), Late: r.late, Ask: r.ask, Entry: r.Visit,
		Dead:    func() []string { return r.dead(collection) },
		Unbuilt: func() []int { return r.unbuilt(collection, shards) },
		Current: func() []string { return r.current(collection) },
	}
}

func (r *Replicas) ask(ctx context.Context, host string, request []byte) ([]byte, error) {
	return r.Cluster.Ask(ctx, subject+host, request)
}

// The records are on this host: what they do not tell is an error of its own, and is logged.

func (r *Replicas) dead(collection string) []string {
	dead, err := r.Store.Dead(context.Background(), collection)
	if err != nil {
		r.Log.Error("it is not known which documents are gone", "error", err)
	}
	out := make([]string, len(dead))
	for i := range dead {
		out[i] = dead[i].ID
	}
	return out
}

func (r *Replicas) unbuilt(collection string, shards int) (out []int) {
	names, err := r.Store.Unbuilt(context.Background(), collection)
	if err != nil {
		r.Log.Error("it is not known which documents are still to be taken in", "error", err)
	}
	for _, name := range names {
		out = append(out, shard.Of(collection, name, shards))
	}
	return out
}

func (r *Replicas) current(collection string) []string {
	keys, err := r.Store.Ready(context.Background(), collection)
	if err != nil {
		r.Log.Error("it is not known which documents are there", "error", err)
	}
	return keys
}

// An avoided host was late, and is asked last for a while: longer each time that it is late again.
type avoided struct {
	until time.Time
	last  time.Duration
}

// How long a host that was late is asked last, the first time and at most.
const (
	avoidFor     = 5 * time.Second
	avoidLongest = time.Minute
)

// late notes whether a host answered in time.
func (r *Replicas) late(host string, late bool) {
	r.mu.Lock()
	defer r.mu.Unlock()
	before, known := r.avoided[host]
	switch now := time.Now(); {
	case !late && known:
		delete(r.avoided, host)
	case late && now.After(before.until): // else others were asking at the same time
		pause := min(avoidLongest, max(avoidFor, 2*before.last))
		r.avoided[host] = avoided{now.Add(pause), pause}
	}
}

// order returns what tells which hosts have a shard of a collection: this one in front if it is up to
// date, then those that are there, and those that were late at the end.
func (r *Replicas) order(collection string, parts []shard.Part) func(shard int) []string {
	alive, here := map[string]bool{}, map[int]bool{}
	for _, m := range r.Cluster.Hosts() {
		alive[m.Host] = m.Alive()
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	placed, late, now := r.placed, maps.Clone(r.avoided), time.Now()
	for _, p := range parts {
		x := r.open[name{collection, p.Shard}]
		here[p.Shard] = x != nil && x.index.Generation() >= p.Generation
	}
	return func(shard int) []string {
		worth := func(host string) int {
			switch {
			case host == r.Cluster.Host && here[shard]:
				return 0
			case host == r.Cluster.Host:
				return 2
			case alive[host] && now.After(late[host].until):
				return 1
			}
			return 3
		}
		return slices.SortedStableFunc(slices.Values(placed[shard]), func(a, b string) int { return worth(a) - worth(b) })
	}
}
