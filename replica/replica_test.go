package replica

import (
	"context"
	"fmt"
	"log/slog"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"jardinet/cluster"
	"jardinet/index"
	"jardinet/natsserver"
	"jardinet/shard"
	"jardinet/store"
	"jardinet/text"
)

var space = index.Space{Model: "test", Dimensions: 64}

// A host is one of several in this process, whose shards are brought up to date when the test says so.
type host struct {
	*Replicas
	t       *testing.T
	dir     string
	damaged string          // name of a document whose pages are damaged
	taken   map[string]bool // documents that this host took in
	old     []string        // that were replaced
}

// together starts hosts with a NATS server of their own.
func together(t *testing.T, names ...string) []*host {
	t.Helper()
	server, err := natsserver.Start(natsserver.Options{Name: "only", Dir: t.TempDir(), Listen: "127.0.0.1:0"})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(server.Stop)
	var hosts []*host
	for _, name := range names {
		hosts = append(hosts, start(t, cluster.Options{URL: server.URL(), Host: name, Roles: []cluster.Role{cluster.Answer}, Copies: 1, Shards: 2, Replicas: 2, Version: "test"}))
	}
	return hosts
}

func start(t *testing.T, opts cluster.Options) *host {
	t.Helper()
	h := &host{t: t, dir: t.TempDir(), taken: map[string]bool{}}
	c, err := cluster.Connect(t.Context(), opts, h.dir)
	if err != nil {
		t.Fatal(err)
	}
	st, err := store.Open(t.Context(), h.dir)
	if err != nil {
		t.Fatal(err)
	}
	h.open(c, st)
	if err := c.Start(t.Context(), st, func(change *store.Change, _ bool) { h.Changed(change) }, nil); err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { c.Close(); st.Close() })
	if err := h.Serve(t.Context()); err != nil {
		t.Fatal(err)
	}
	return h
}

// open begins with what is on the host's disk.
func (h *host) open(c *cluster.Cluster, st *store.Store) {
	h.Replicas = New(Options{
		Cluster: c, Store: st, Log: slog.New(slog.DiscardHandler),
		Dir: func(collection string) string { return filepath.Join(h.dir, "index", collection) },
		Space: func(collection string) (index.Space, error) {
			all, err := st.Collections(context.Background())
			if err == nil && !slices.ContainsFunc(all, func(c store.Collection) bool { return c.ID == collection }) {
				err = store.ErrNotFound
			}
			return space, err
		},
		Cut: func(_ context.Context, d store.Document) (index.Document, error) {
			if d.Name == h.damaged {
				return index.Document{}, store.ErrDamaged
			}
			return index.Document{Key: d.ID, Passages: []index.Passage{{Body: "the rake of " + d.Name + " " + d.SHA256, Language: text.English, Stored: []byte(d.SHA256)}}}, nil
		},
		Took: func(_ context.Context, taken map[string]store.Taken, replaced []string) {
			for id := range taken {
				h.taken[id] = true
			}
			h.old = append(h.old, replaced...)
		},
	})
}

// add adds a document that has been read, and returns its id.
func (h *host) add(c *store.Collection, name, content string) string {
	h.t.Helper()
	d, _, err := h.Store.AddDocument(h.t.Context(), c, name, content, 1)
	if err == nil {
		err = h.Store.SetRead(h.t.Context(), d, nil)
	}
	if err != nil {
		h.t.Fatal(err)
	}
	return d.ID
}

// settle has every host do what the others have changed, and bring its shards up to date, twice: what
// one writes the others adopt.
func settle(t *testing.T, hosts []*host) {
	t.Helper()
	for range 2 {
		for _, h := range hosts {
			for _, other := range hosts {
				if err := h.Store.Reached(t.Context(), other.Store.Number()); err != nil {
					t.Fatal(err)
				}
			}
			if err := h.update(t.Context()); err != nil {
				t.Fatal(err)
			}
		}
	}
}

// finds returns what a host finds with the word that every document has.
func (h *host) finds(collection string) (out []string) {
	h.t.Helper()
	q := index.Parse("rake", []text.Language{text.English})
	hits, err := h.Set(collection).Search(h.t.Context(), &q, 100)
	if err != nil || q.LeftOut.Parts > 0 {
		h.t.Fatalf("%s finds not all: %+v, error %v", h.Cluster.Host, q.LeftOut, err)
	}
	for _, hit := range hits {
		stored, err := hit.Stored()
		if err != nil {
			h.t.Fatal(err)
		}
		out = append(out, string(stored))
	}
	slices.Sort(out)
	return out
}

// TestReplicas has two hosts write a shard each and adopt the other's, and a third ask them.
func TestReplicas(t *testing.T) {
	hosts := together(t, "a", "b", "c")
	a, b := hosts[0], hosts[1]
	ctx := t.Context()
	c, err := a.Store.CreateCollection(ctx, "garden", "{}")
	if err != nil {
		t.Fatal(err)
	}
	if err := a.Store.Place(ctx, map[int][]string{0: {"a", "b"}, 1: {"b", "a"}}); err != nil {
		t.Fatal(err)
	}
	want, parted := []string{}, map[string]int{}
	for i := range 12 {
		name, content := fmt.Sprint("manual ", i), fmt.Sprintf("content-%02d", i)
		parted[a.add(c, name, content)] = shard.Of(c.ID, name, 2)
		want = append(want, content)
	}
	a.damaged = "manual 5"
	b.damaged = a.damaged
	settle(t, hosts)
	want = slices.Delete(want, 5, 6)
	for _, h := range hosts {
		if got := h.finds(c.ID); !slices.Equal(got, want) {
			t.Errorf("%s finds %q", h.Cluster.Host, got)
		}
	}
	for id, number := range parted {
		if a.taken[id] && number != 0 || b.taken[id] && number != 1 {
			t.Errorf("a document of shard %d was taken in by another host than the one that writes it", number)
		}
	}

	a.damaged, b.damaged = "", ""
	newer := a.add(c, "manual 3", "content-03, revised")
	if _, err := a.Store.PutIntoBin(ctx, c.ID, "manual 4"); err != nil {
		t.Fatal(err)
	}
	settle(t, hosts)
	want = []string{"content-00", "content-01", "content-02", "content-03, revised", "content-05", "content-06", "content-07", "content-08", "content-09", "content-10", "content-11"}
	for _, h := range hosts {
		if got := h.finds(c.ID); !slices.Equal(got, want) {
			t.Errorf("after changes %s finds %q", h.Cluster.Host, got)
		}
	}
	if !a.taken[newer] && !b.taken[newer] || len(a.old)+len(b.old) != 1 {
		t.Errorf("the newer version replaces %q and %q", a.old, b.old)
	}
	if dead, err := a.Store.Dead(ctx, ""); err != nil || len(dead) > 0 {
		t.Errorf("still to be let go of: %+v, error %v", dead, err)
	}
	fetchedAnew(t, hosts, c.ID, want)
	asksInOrder(t, hosts[2], c.ID)
}

// fetchedAnew damages what a host has of its shards, which it then fetches.
func fetchedAnew(t *testing.T, hosts []*host, collection string, want []string) {
	b := hosts[1]
	files, err := filepath.Glob(filepath.Join(b.Dir(collection), "*", "*"))
	if err != nil || len(files) == 0 {
		t.Fatalf("there are %d files of shards, error %v", len(files), err)
	}
	for _, f := range files {
		if err := os.WriteFile(f, []byte("no longer what it was"), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	b.open(b.Cluster, b.Store) // as if it were started again
	if err := b.update(t.Context()); err != nil {
		t.Fatal(err)
	}
	if got := b.finds(collection); !slices.Equal(got, want) {
		t.Errorf("after its disk was damaged it finds %q", got)
	}
	if problems, err := b.Check(t.Context(), collection, nil); err != nil || len(problems) > 0 {
		t.Errorf("its shards have problems: %q, error %v", problems, err)
	}
	current, behind, err := b.State(t.Context())
	if err != nil || !slices.Equal(current, []int{0, 1}) || behind != 0 {
		t.Errorf("it has %v, and %d to fetch, error %v", current, behind, err)
	}
	needed, err := b.Needed(t.Context())
	if err != nil || len(needed) == 0 || !strings.HasPrefix(needed[0], "segment-") {
		t.Errorf("needed are %q, error %v", needed, err)
	}
	b.Forget(collection)
	if left := slices.Collect(maps.Keys(b.Replicas.open)); len(left) > 0 {
		t.Errorf("of a collection that is gone it has %v open", left)
	}
}

// asksInOrder holds that a host which was late is asked last until it answers in time.
func asksInOrder(t *testing.T, h *host, collection string) {
	order := func() string { return strings.Join(h.order(collection, h.parts(collection))(0), " ") }
	if got := order(); got != "a b" {
		t.Errorf("the hosts are asked in the order %s", got)
	}
	h.late("a", true)
	if got := order(); got != "b a" {
		t.Errorf("when the first was late they are asked in the order %s", got)
	}
	h.late("a", false)
	if got := order(); got != "a b" {
		t.Errorf("when it is no longer late they are asked in the order %s", got)
	}
	if _, ok := h.await(t.Context(), collection, 0, 1); ok {
		t.Error("a host has a shard that is not placed on it")
	}
}
