package service

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
	"path/filepath"
	"reflect"
	"slices"
	"strconv"
	"sync"
	"time"

	"github.com/nats-io/nats.go"

	"jardinet/answer"
	"jardinet/cluster"
	"jardinet/index"
	"jardinet/ledger"
	"jardinet/shard"
	"jardinet/store"
)

// Each shard is written by one host, the first alive of those that have it: it takes in the documents
// that are waiting, hands on the new segments and makes the new manifest part of the records, in one
// step with the documents' being ready. The others fetch the segments and adopt the manifest. That two
// hosts write at once does no harm: the records take only the one that began from what they say.

// shardSubject is where a host is asked about its shards.
const shardSubject = "jardinet.shard."

// shelves are the shards that this host has.
type shelves struct {
	mu      sync.Mutex
	open    map[shelfName]*shelf
	parts   map[string][]shard.Part // by collection, as the records say
	changes uint64
	placed  map[int][]string     // hosts by shard
	avoided map[string]avoided   // hosts that were late
	vain    map[shelfName]uint64 // the generations that were waited for in vain
	moved   chan struct{}        // closed when a shelf is in a new state
	wake    chan struct{}
}

type shelfName struct {
	collection string
	shard      int
}

// A shelf is a shard on this host.
type shelf struct {
	writing sync.Mutex
	index   *index.Index
	sure    bool // what it holds is what the records say of its generation
}

func newShelves() shelves {
	return shelves{open: map[shelfName]*shelf{}, parts: map[string][]shard.Part{}, placed: map[int][]string{}, avoided: map[string]avoided{}, vain: map[shelfName]uint64{}, moved: make(chan struct{}), wake: make(chan struct{}, 1)}
}

func (h *shelves) wakeUp() {
	select {
	case h.wake <- struct{}{}:
	default:
	}
}

func (h *shelves) forget(collection string) {
	h.mu.Lock()
	defer h.mu.Unlock()
	for name := range h.open {
		if name.collection == collection {
			delete(h.open, name)
		}
	}
	delete(h.parts, collection)
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
func (h *shelves) late(host string, late bool) {
	h.mu.Lock()
	defer h.mu.Unlock()
	before, known := h.avoided[host]
	switch now := time.Now(); {
	case !late && known:
		delete(h.avoided, host)
	case late && now.After(before.until): // else others were asking at the same time
		pause := min(avoidLongest, max(avoidFor, 2*before.last))
		h.avoided[host] = avoided{now.Add(pause), pause}
	}
}

// hostsOf returns what tells which hosts have a shard of a collection: this one in front if it is up
// to date, then those that are there, and those that were late at the end.
func (h *shelves) hostsOf(c *cluster.Cluster, collection string, parts []shard.Part) func(shard int) []string {
	alive := map[string]bool{}
	for _, m := range c.Hosts() {
		alive[m.Host] = m.Alive()
	}
	h.mu.Lock()
	defer h.mu.Unlock()
	placed, late, now, here := h.placed, maps.Clone(h.avoided), time.Now(), map[int]bool{}
	for _, p := range parts {
		sh := h.open[shelfName{collection, p.Shard}]
		here[p.Shard] = sh != nil && sh.index.Generation() >= p.Generation
	}
	return func(shard int) []string {
		worth := func(host string) int {
			switch {
			case host == c.Host && here[shard]:
				return 0
			case host == c.Host:
				return 2
			case alive[host] && now.After(late[host].until):
				return 1
			}
			return 3
		}
		return slices.SortedStableFunc(slices.Values(placed[shard]), func(a, b string) int { return worth(a) - worth(b) })
	}
}

// serveShards answers what other hosts ask.
func (s *Service) serveShards(ctx context.Context) error {
	holder := s.holder()
	asked, err := s.hosts.Conn().Subscribe(shardSubject+s.hosts.Host, func(msg *nats.Msg) {
		go func() {
			// One who asked and got no answer asks another host.
			_ = msg.Respond(holder.Answer(ctx, msg.Data))
		}()
	})
	if err != nil {
		return fmt.Errorf("service: %w", err)
	}
	context.AfterFunc(ctx, func() { _ = asked.Unsubscribe() })
	return nil
}

// adoptsWithin is how long a question waits for a shard to be in the state that it asks for.
const adoptsWithin = 200 * time.Millisecond

func (s *Service) holder() *shard.Holder {
	h := &s.hosts.shelves
	return &shard.Holder{Holds: answer.Holding, Index: func(ctx context.Context, collection string, number int, generation uint64) (*index.Index, bool) {
		late := time.NewTimer(adoptsWithin)
		defer late.Stop()
		for {
			h.mu.Lock()
			name := shelfName{collection, number}
			sh, moved, has := h.open[name], h.moved, slices.Contains(h.placed[number], s.hosts.Host)
			vain := h.vain[name] >= generation
			h.mu.Unlock()
			if sh != nil && sh.index.Generation() >= generation {
				return sh.index, true
			}
			if !has || vain {
				return nil, false
			}
			h.wakeUp()
			select {
			case <-moved:
			case <-late.C: // whoever asks next need not wait too
				h.mu.Lock()
				h.vain[name] = generation
				h.mu.Unlock()
				return nil, false
			case <-ctx.Done():
				return nil, false
			}
		}
	}}
}

// parts returns the shards of a collection as the records say.
func (s *Service) parts(collection string) []shard.Part {
	h := &s.hosts.shelves
	h.mu.Lock()
	parts, known := h.parts[collection]
	changes := h.changes
	h.mu.Unlock()
	if known {
		return parts
	}
	all, err := s.store.Shards(context.Background(), collection)
	if err != nil {
		s.Log.Error("the shards cannot be looked up", "error", err)
		return nil
	}
	parts = []shard.Part{}
	for _, one := range all {
		p := shard.Part{Shard: one.Shard, Generation: one.Generation}
		if err := json.Unmarshal(one.Totals, &p.Totals); err != nil {
			s.Log.Error("a shard cannot be read", "error", err)
		}
		parts = append(parts, p)
	}
	h.mu.Lock()
	defer h.mu.Unlock()
	if changes == h.changes { // else it may be of before
		h.parts[collection] = parts
	}
	return parts
}

// keepShelves brings this host's shards up to date whenever something changes, until ctx is done.
func (s *Service) keepShelves(ctx context.Context) {
	for ctx.Err() == nil {
		rest := shelvesEvery
		if err := s.updateShelves(ctx); err != nil && ctx.Err() == nil {
			rest = retryShelves
			if !errors.Is(err, store.ErrOutdated) {
				s.Log.Warn("the shards are not up to date yet", "error", err)
			}
		}
		select {
		case <-s.hosts.shelves.wake:
		case <-time.After(rest):
		case <-ctx.Done():
		}
	}
}

// How often the shards are looked at without need, and after a failure.
const (
	shelvesEvery = 5 * time.Second
	retryShelves = 300 * time.Millisecond
)

// updateShelves adopts what others wrote, and writes the shards that this host writes.
func (s *Service) updateShelves(ctx context.Context) error {
	placed, err := s.lookWhere(ctx)
	if err != nil {
		return err
	}
	return errors.Join(s.adoptAll(ctx, placed), s.writeAll(ctx, placed))
}

// lookWhere takes over which hosts have which shards.
func (s *Service) lookWhere(ctx context.Context) (map[int][]string, error) {
	placed, err := s.store.Placement(ctx)
	if err != nil {
		return nil, err
	}
	h := &s.hosts.shelves
	h.mu.Lock()
	defer h.mu.Unlock()
	h.placed = placed
	return placed, nil
}

// adoptAll adopts the manifests of the shards that are placed on this host.
func (s *Service) adoptAll(ctx context.Context, placed map[int][]string) error {
	all, err := s.store.Shards(ctx, "")
	if err != nil {
		return err
	}
	var failures []error
	for _, one := range all {
		if !slices.Contains(placed[one.Shard], s.hosts.Host) {
			continue
		}
		c, err := s.byID(one.Collection)
		if err != nil {
			continue // removed meanwhile
		}
		sh, err := s.shelf(c, one.Shard)
		if err == nil {
			err = s.adopt(ctx, sh, &one)
		}
		if err != nil {
			failures = append(failures, fmt.Errorf("shard %d of %s: %w", one.Shard, c.Name, err))
		}
	}
	return errors.Join(failures...)
}

// shelf opens a shard on this host.
func (s *Service) shelf(c *collection, number int) (*shelf, error) {
	h := &s.hosts.shelves
	name := shelfName{c.ID, number}
	h.mu.Lock()
	defer h.mu.Unlock()
	space := spaceOf(c.recipe.Load())
	if sh := h.open[name]; sh != nil && sh.index.Space() == space {
		return sh, nil
	}
	dir := filepath.Join(s.indexDir(c.ID), strconv.Itoa(number))
	x, err := index.Open(dir, space)
	if err != nil {
		s.Log.Warn("a shard cannot be used and is fetched anew", "collection", c.Name, "shard", number, "error", err)
		if err := os.RemoveAll(dir); err != nil {
			return nil, fmt.Errorf("service: %w", err)
		}
		if x, err = index.Open(dir, space); err != nil {
			return nil, err
		}
	}
	x.Mark(s.hosts.Host)
	sh := &shelf{index: x}
	h.open[name] = sh
	return sh, nil
}

// A bound is a manifest whose segments can be fetched by their hashes.
type bound struct {
	index.Manifest
	Sums map[string]string `json:"sums"` // by name
}

// adopt brings a shard into the state that the records say.
func (s *Service) adopt(ctx context.Context, sh *shelf, one *store.Shard) error {
	sh.writing.Lock()
	defer sh.writing.Unlock()
	if sh.sure && sh.index.Generation() == one.Generation {
		return nil
	}
	return s.goBack(ctx, sh, one)
}

// goBack brings a shard into the state that the records say, whatever it is in. The caller is the one
// who writes it.
func (s *Service) goBack(ctx context.Context, sh *shelf, one *store.Shard) error {
	sh.sure = false
	m, err := manifestOf(one, sh.index.Space())
	if err != nil {
		return err
	}
	if !reflect.DeepEqual(sh.index.Manifest(), m.Manifest) {
		err := sh.index.Adopt(m.Manifest, func(name, path string) error { return s.hosts.Fetch(ctx, ledger.Segment+m.Sums[name], path) })
		if errors.Is(err, ledger.ErrNoObject) {
			return fmt.Errorf("%w: %w", store.ErrOutdated, err) // there is a newer one
		}
		if err != nil {
			return err
		}
	}
	sh.sure = true
	s.hosts.shelves.step()
	return nil
}

// step tells those who wait that a shard is in a new state.
func (h *shelves) step() {
	h.mu.Lock()
	defer h.mu.Unlock()
	close(h.moved)
	h.moved = make(chan struct{})
}

// takenAtATime is how many documents a shard takes in at a time.
const takenAtATime = 64

// writeAll takes in what is waiting for the shards that this host writes.
func (s *Service) writeAll(ctx context.Context, placed map[int][]string) error {
	waiting, err := s.waiting(ctx)
	if err != nil {
		return err
	}
	var failures []error
	for name, w := range waiting {
		if s.writer(placed[name.shard]) != s.hosts.Host {
			continue
		}
		c, err := s.byID(name.collection)
		if err != nil {
			continue
		}
		for len(w.stale) > 0 || len(w.dead) > 0 {
			n := min(takenAtATime, len(w.stale))
			if err := s.writeShard(ctx, c, name.shard, w.stale[:n], w.dead); err != nil {
				failures = append(failures, fmt.Errorf("shard %d of %s: %w", name.shard, c.Name, err))
				break
			}
			w.stale, w.dead = w.stale[n:], nil
		}
	}
	return errors.Join(failures...)
}

// writer returns the host that writes a shard: the first of those that have it that is there.
func (s *Service) writer(placed []string) string {
	for _, host := range placed {
		for _, m := range s.hosts.Hosts() {
			if m.Host == host && m.Alive() {
				return host
			}
		}
	}
	return ""
}

// A waitingList is what a shard is to take in, and to let go of.
type waitingList struct {
	stale []store.Document
	dead  []string
}

func (s *Service) waiting(ctx context.Context) (map[shelfName]*waitingList, error) {
	shards, _ := s.hosts.Terms()
	out := map[shelfName]*waitingList{}
	list := func(collection, document string) *waitingList {
		name := shelfName{collection, shard.Of(collection, document, shards)}
		if out[name] == nil {
			out[name] = &waitingList{}
		}
		return out[name]
	}
	stale, err := s.store.Stale(ctx)
	if err != nil {
		return nil, err
	}
	for _, d := range stale {
		l := list(d.Collection, d.Name)
		l.stale = append(l.stale, d)
	}
	dead, err := s.store.Dead(ctx, "")
	if err != nil {
		return nil, err
	}
	for _, d := range dead {
		l := list(d.Collection, d.Name)
		l.dead = append(l.dead, d.ID)
	}
	return out, nil
}

// writeShard takes documents into a shard and lets go of others.
func (s *Service) writeShard(ctx context.Context, c *collection, number int, stale []store.Document, dead []string) error {
	sh, err := s.shelf(c, number)
	if err != nil {
		return err
	}
	before, err := s.recorded(ctx, c.ID, number)
	if err != nil {
		return err
	}
	if err := s.adopt(ctx, sh, before); err != nil {
		return err
	}
	add, taken, replaced, err := s.prepareEntries(ctx, c, stale)
	if err != nil {
		return err
	}
	sh.writing.Lock()
	defer sh.writing.Unlock()
	remove := slices.Concat(dead, replaced)
	for _, d := range add {
		remove = append(remove, d.Key)
	}
	err = sh.index.Apply(add, remove)
	if err == nil {
		err = s.publishShard(ctx, c, number, sh, before, taken, replaced, dead)
	}
	if err != nil {
		return errors.Join(err, s.goBack(ctx, sh, before))
	}
	s.hosts.shelves.step()
	for id := range taken {
		s.tell(ctx, id)
	}
	for _, id := range replaced {
		s.tell(ctx, id)
	}
	s.wantEncoded(ctx, taken)
	return nil
}

// recorded returns what the records say of a shard, an empty one if nothing.
func (s *Service) recorded(ctx context.Context, collection string, number int) (*store.Shard, error) {
	all, err := s.store.Shards(ctx, collection)
	if err != nil {
		return nil, err
	}
	for _, one := range all {
		if one.Shard == number {
			return &one, nil
		}
	}
	return &store.Shard{Collection: collection, Shard: number}, nil
}

// manifestOf reads the manifest of a shard; one that nothing is recorded of is empty.
func manifestOf(one *store.Shard, space index.Space) (bound, error) {
	if len(one.Manifest) == 0 {
		out := bound{Manifest: index.Empty(space)}
		out.Generation = one.Generation
		return out, nil
	}
	var out bound
	if err := json.Unmarshal(one.Manifest, &out); err != nil {
		return out, fmt.Errorf("service: manifest of a shard: %w", err)
	}
	return out, nil
}

// checkShards reads the shards that this host has of a collection, and returns what is wrong.
func (s *Service) checkShards(ctx context.Context, c *collection, progress func(done, all int)) ([]string, error) {
	h := &s.hosts.shelves
	h.mu.Lock()
	open := map[int]*index.Index{}
	for name, sh := range h.open {
		if name.collection == c.ID {
			open[name.shard] = sh.index
		}
	}
	h.mu.Unlock()
	problems := []string{}
	for _, number := range slices.Sorted(maps.Keys(open)) {
		if err := open[number].Check(ctx, progress); err != nil {
			if ctx.Err() != nil {
				return nil, err
			}
			problems = append(problems, fmt.Sprintf("shard %d on this host: %v", number, err))
		}
	}
	docs, err := s.store.Documents(ctx, c.ID)
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

// prepareEntries cuts documents for a shard, and says which older ones they replace. Of two of one
// name the later one is taken in.
func (s *Service) prepareEntries(ctx context.Context, c *collection, stale []store.Document) (add []index.Document, taken map[string]store.Taken, replaced []string, err error) {
	taken = map[string]store.Taken{}
	newest := map[string]string{}
	for _, d := range stale {
		newest[d.Name] = d.ID
	}
	for _, d := range stale {
		if d.State == store.Indexing && newest[d.Name] != d.ID {
			replaced = append(replaced, d.ID)
			continue
		}
		if d.State == store.Indexing {
			older, err := s.store.ReadyNamed(ctx, c.ID, d.Name)
			if err != nil {
				return nil, nil, nil, err
			}
			replaced = append(replaced, slices.DeleteFunc(older, func(id string) bool { return id == d.ID })...)
		}
		entry, err := s.fromPages(ctx, c, d)
		if errors.Is(err, errDamaged) {
			if err := s.setAside(ctx, d, err); err != nil {
				return nil, nil, nil, err
			}
			continue
		}
		if err != nil {
			return nil, nil, nil, err
		}
		add = append(add, entry)
		taken[d.ID] = store.Taken{Revision: d.Revision, Counts: counts(&entry)}
	}
	return add, taken, replaced, nil
}

// publishShard hands on the segments of a shard and makes its state part of the records.
func (s *Service) publishShard(ctx context.Context, c *collection, number int, sh *shelf, before *store.Shard, taken map[string]store.Taken, replaced, dead []string) error {
	old, err := manifestOf(before, sh.index.Space())
	if err != nil {
		return err
	}
	now := bound{Manifest: sh.index.Manifest(), Sums: map[string]string{}}
	for _, seg := range now.Segments {
		sum, ok := old.Sums[seg.Name]
		if !ok {
			if sum, err = s.handOn(ctx, sh.index.SegmentPath(seg.Name)); err != nil {
				return err
			}
		}
		now.Sums[seg.Name] = sum
	}
	manifest, err := json.Marshal(now)
	if err != nil {
		return fmt.Errorf("service: %w", err)
	}
	totals, err := json.Marshal(sh.index.Totals())
	if err != nil {
		return fmt.Errorf("service: %w", err)
	}
	one := &store.Shard{Collection: c.ID, Shard: number, Generation: now.Generation, Manifest: manifest, Totals: totals}
	if err := s.store.PublishShard(ctx, one, before.Generation, taken, replaced, slices.Concat(dead, replaced)); err != nil {
		return err
	}
	for name, sum := range old.Sums {
		if now.Sums[name] == "" && !slices.Contains(slices.Collect(maps.Values(now.Sums)), sum) {
			if err := s.hosts.Ledger().Remove(ctx, ledger.Segment+sum); err != nil {
				s.Log.Warn("a segment that is no longer used could not be removed", "error", err)
			}
		}
	}
	return nil
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
	defer s.hosts.shelves.wakeUp()
	return s.store.Renew(ctx, c.ID, "")
}

// beginShardsAnew has the shards of a collection made from nothing.
func (s *Service) beginShardsAnew(ctx context.Context, c *collection) error {
	defer s.hosts.shelves.wakeUp()
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

// handOn gives the other hosts a segment, and returns its hash.
func (s *Service) handOn(ctx context.Context, path string) (sum string, err error) {
	f, err := os.Open(path)
	if err != nil {
		return "", fmt.Errorf("service: %w", err)
	}
	defer f.Close()
	hash := sha256.New()
	if _, err := io.Copy(hash, f); err != nil {
		return "", fmt.Errorf("service: %w", err)
	}
	if _, err := f.Seek(0, io.SeekStart); err != nil {
		return "", fmt.Errorf("service: %w", err)
	}
	sum = hex.EncodeToString(hash.Sum(nil))
	return sum, s.hosts.Ledger().Put(ctx, ledger.Segment+sum, f)
}
