package cluster

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math/rand/v2"
	"net"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"jardinet/faults/history"
	"jardinet/natsserver"
	"jardinet/store"
)

// quick is a timing with which much goes wrong in a short time.
var quick = timing{beat: 30 * time.Millisecond, lease: 500 * time.Millisecond, gone: 2 * time.Second}

// A wire is a connection to the NATS server that can be broken: nothing goes through it, or only
// towards the server.
type wire struct {
	listener net.Listener
	to       string
	mu       sync.Mutex
	cut      bool // nothing goes through
	deaf     bool // nothing comes back
	open     map[net.Conn]bool
}

func newWire(t testing.TB, to string) *wire {
	t.Helper()
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	w := &wire{listener: l, to: to, open: map[net.Conn]bool{}}
	t.Cleanup(func() { l.Close(); w.drop() })
	go func() {
		for {
			from, err := l.Accept()
			if err != nil {
				return
			}
			go w.carry(from)
		}
	}()
	return w
}

func (w *wire) url() string { return "nats://" + w.listener.Addr().String() }

func (w *wire) carry(from net.Conn) {
	defer from.Close()
	to, err := net.Dial("tcp", w.to)
	if err != nil {
		return
	}
	defer to.Close()
	w.mu.Lock()
	w.open[from], w.open[to] = true, true
	w.mu.Unlock()
	done := make(chan struct{}, 2)
	go func() { w.copy(to, from, func() bool { return w.cut }); done <- struct{}{} }()
	go func() { w.copy(from, to, func() bool { return w.cut || w.deaf }); done <- struct{}{} }()
	<-done
}

// copy carries bytes, and loses them where the wire is broken; what follows would make no sense, so that
// the connection ends once it is mended.
func (w *wire) copy(to, from net.Conn, broken func() bool) {
	buffer, lost := make([]byte, 32<<10), false
	for {
		n, err := from.Read(buffer)
		if err != nil {
			return
		}
		w.mu.Lock()
		now := broken()
		w.mu.Unlock()
		if lost = lost || now; lost {
			if !now {
				return
			}
			continue
		}
		if _, err := to.Write(buffer[:n]); err != nil {
			return
		}
	}
}

func (w *wire) drop() {
	w.mu.Lock()
	defer w.mu.Unlock()
	for c := range w.open {
		c.Close()
	}
	clear(w.open)
}

func (w *wire) set(cut, deaf bool) {
	w.mu.Lock()
	w.cut, w.deaf = cut, deaf
	w.mu.Unlock()
}

// A trial is three hosts in this process, of which one after another has something happen to it.
type trial struct {
	t       testing.TB
	random  *rand.Rand
	hosts   []*tried
	began   time.Time
	mu      sync.Mutex
	ops     []history.Op
	added   map[string]bool // documents whose addition was acknowledged
	unsure  map[string]bool
	written int
}

// A tried is one of its hosts.
type tried struct {
	name string
	dir  string
	wire *wire
	mu   sync.RWMutex // held for writing while it is down
	*Cluster
	store *store.Store
	slow  func() // is called with each change
}

func (h *tried) up(ctx context.Context) error {
	opts := Options{URL: h.wire.url(), Host: h.name, Roles: []Role{Answer}, Copies: 1, Shards: 2, Replicas: 2, Version: "test", timing: &quick}
	c, err := Connect(ctx, opts, h.dir)
	if err != nil {
		return err
	}
	c.ledger.Try, c.ledger.Wait = 1500*time.Millisecond, 150*time.Millisecond
	st, err := store.Open(ctx, h.dir)
	if err != nil {
		return err
	}
	if err := c.Start(ctx, st, func(*store.Change, bool) { h.slow() }, nil); err != nil {
		return errors.Join(err, st.Close())
	}
	h.Cluster, h.store = c, st
	return nil
}

// die ends a host without a word to the others.
func (h *tried) die() {
	h.wire.set(true, true)
	h.stop()
	h.conn.Close()
	h.done.Wait()
	h.store.Close()
	h.wire.drop()
	h.wire.set(false, false)
}

// newTrial starts three hosts, the first of which founds the cluster.
func newTrial(t testing.TB, seed uint64) *trial {
	t.Helper()
	dir := t.TempDir()
	server, err := natsserver.Start(natsserver.Options{Name: "only", Dir: filepath.Join(dir, "nats"), Listen: "127.0.0.1:0"})
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(server.Stop)
	tr := &trial{t: t, random: rand.New(rand.NewPCG(seed, 30)), began: time.Now(), added: map[string]bool{}, unsure: map[string]bool{}}
	for i := range 3 {
		h := &tried{name: string(rune('a' + i)), dir: filepath.Join(dir, string(rune('a'+i))), wire: newWire(t, server.Address()), slow: func() {}}
		if err := h.up(t.Context()); err != nil {
			t.Fatal(err)
		}
		tr.hosts = append(tr.hosts, h)
	}
	t.Cleanup(func() {
		for _, h := range tr.hosts {
			h.Close()
			h.store.Close()
		}
	})
	return tr
}

// collection is what the trial's records are in.
const collection = "garden"

// write sets the register, or adds a document, at one of the hosts.
func (tr *trial) write(ctx context.Context, random *rand.Rand) {
	h := tr.hosts[random.IntN(3)]
	if !h.mu.TryRLock() {
		return // it is down
	}
	defer h.mu.RUnlock()
	tr.mu.Lock()
	tr.written++
	value := strconv.Itoa(tr.written)
	tr.mu.Unlock()
	c, err := h.store.Collection(ctx, collection)
	if err != nil {
		return
	}
	if random.IntN(4) == 0 {
		_, _, err = h.store.AddDocument(ctx, c, value, "sum of "+value, 1)
		tr.mu.Lock()
		tr.added[value], tr.unsure[value] = err == nil, err != nil
		tr.mu.Unlock()
		return
	}
	op := history.Op{Register: "r", Client: "writer at " + h.name, Write: true, Value: value, Begin: time.Since(tr.began)}
	err = h.store.SetDescription(ctx, c.ID, value)
	if err == nil {
		err = h.Settled(ctx, h.store.Number())
	}
	op.End, op.Lost = time.Since(tr.began), err != nil
	tr.note(op)
}

func (tr *trial) read(ctx context.Context, random *rand.Rand) {
	h := tr.hosts[random.IntN(3)]
	if !h.mu.TryRLock() {
		return
	}
	defer h.mu.RUnlock()
	op := history.Op{Register: "r", Client: "reader at " + h.name, Begin: time.Since(tr.began)}
	if h.MayAnswer() != nil {
		return
	}
	c, err := h.store.Collection(ctx, collection)
	if err != nil || h.MayAnswer() != nil {
		return
	}
	op.Value, op.End = c.Description, time.Since(tr.began)
	tr.note(op)
}

func (tr *trial) note(op history.Op) {
	tr.mu.Lock()
	defer tr.mu.Unlock()
	tr.ops = append(tr.ops, op)
}

// harm lets something go wrong at one host for a while.
func (tr *trial) harm(ctx context.Context) {
	h := tr.hosts[tr.random.IntN(3)]
	rest := time.Duration(50+tr.random.IntN(700)) * time.Millisecond
	switch tr.random.IntN(5) {
	case 0:
		h.wire.set(true, true)
		time.Sleep(rest)
		h.wire.set(false, false)
	case 1: // what it sends arrives, and it does not hear that it did
		h.wire.set(false, true)
		time.Sleep(rest)
		h.wire.set(false, false)
	case 2:
		h.wire.drop()
	case 3:
		h.mu.Lock() // until the operations under way have ended
		h.die()
		time.Sleep(rest / 2)
		err := h.up(ctx)
		h.mu.Unlock()
		if err != nil {
			tr.t.Errorf("host %s does not come back: %v", h.name, err)
		}
	case 4:
		unlock, err := h.store.Hold(ctx)
		if err != nil {
			return
		}
		time.Sleep(rest)
		unlock()
	}
}

// run lets clients work while something goes wrong, and checks what they saw, and what is there.
func (tr *trial) run(seed uint64, during time.Duration) {
	t := tr.t
	for {
		_, err := tr.hosts[0].store.CreateCollection(t.Context(), collection, "{}")
		if err == nil || errors.Is(err, store.ErrExists) {
			break
		}
		if !errors.Is(err, ErrCutOff) { // a busy machine may need longer than such a lease lasts
			t.Fatal(err)
		}
	}
	for _, h := range tr.hosts {
		if err := h.store.Reached(t.Context(), tr.hosts[0].store.Number()); err != nil {
			t.Fatal(err)
		}
	}
	ctx, stop := context.WithTimeout(t.Context(), during)
	defer stop()
	var clients sync.WaitGroup
	for i := range 4 {
		random := rand.New(rand.NewPCG(seed, uint64(i)))
		clients.Go(func() {
			for ctx.Err() == nil {
				if i%2 == 0 {
					tr.write(t.Context(), random)
				} else {
					tr.read(t.Context(), random)
				}
				time.Sleep(time.Duration(random.IntN(8)) * time.Millisecond)
			}
		})
	}
	for ctx.Err() == nil {
		tr.harm(t.Context())
		time.Sleep(time.Duration(tr.random.IntN(200)) * time.Millisecond)
	}
	clients.Wait()
	tr.settle()
}

// settle waits until all hosts are equal, and checks.
func (tr *trial) settle() {
	t := tr.t
	ctx, cancel := context.WithTimeout(t.Context(), 20*time.Second)
	defer cancel()
	c, err := tr.hosts[0].store.Collection(ctx, collection)
	if err != nil {
		t.Fatal(err)
	}
	// One more change, which follows all others.
	var last uint64
	for {
		if err = tr.hosts[0].store.SetDescription(ctx, c.ID, "the end"); err == nil {
			last = tr.hosts[0].store.Number()
			break
		}
		if ctx.Err() != nil {
			t.Fatalf("nothing can be changed at the end: %v", err)
		}
	}
	var first []store.Document
	for _, h := range tr.hosts {
		if err := h.store.Reached(ctx, last); err != nil {
			t.Errorf("host %s: %v; it says %v", h.name, err, h.MayAnswer())
			continue
		}
		docs, err := h.store.Documents(ctx, c.ID)
		if err != nil {
			t.Fatal(err)
		}
		again, err := h.store.Collection(ctx, collection)
		if err != nil || again.Description != "the end" || first != nil && len(docs) != len(first) {
			t.Errorf("%s has %d documents and the description %q, error %v", h.name, len(docs), again.Description, err)
		}
		first = docs
		there := map[string]bool{}
		for _, d := range docs {
			if there[d.Name] {
				t.Errorf("%s has document %s twice", h.name, d.Name)
			}
			there[d.Name] = true
		}
		for name, acknowledged := range tr.added {
			if acknowledged && !there[name] {
				t.Errorf("%s lost document %s", h.name, name)
			}
		}
	}
	if err := history.Check(tr.ops, map[string]string{"r": ""}); err != nil {
		t.Error(err)
	}
}

// seeds returns how many runs are made: few with the other tests, many by make cluster-test.
func seeds(t *testing.T) int {
	n, err := strconv.Atoi(os.Getenv("JARDINET_SEEDS"))
	if err != nil {
		return 4
	}
	return n
}

// TestSeededRuns lets hosts be cut off, go deaf, die, hang and lose their connections while they are
// written to and read from.
func TestSeededRuns(t *testing.T) {
	n := seeds(t)
	var mu sync.Mutex
	writes, reads := 0, 0
	t.Run("seeds", func(t *testing.T) {
		for seed := range n {
			t.Run(strconv.Itoa(seed), func(t *testing.T) {
				t.Parallel()
				tr := newTrial(t, uint64(seed))
				tr.run(uint64(seed), 2*time.Second)
				mu.Lock()
				defer mu.Unlock()
				for _, op := range tr.ops {
					if op.Write && !op.Lost {
						writes++
					} else if !op.Write {
						reads++
					}
				}
			})
		}
	})
	if writes == 0 || reads == 0 {
		t.Errorf("%d writes and %d reads", writes, reads)
	}
	fmt.Printf("%d seeded runs: %d acknowledged writes, %d reads\n", n, writes, reads)
}

// TestWaitsForOlderHosts holds that a host makes no change that another one, which has not been upgraded
// yet, could not follow.
func TestWaitsForOlderHosts(t *testing.T) {
	tr := newTrial(t, 0)
	h := tr.hosts[0]
	ctx := t.Context()
	old, err := json.Marshal(Member{Host: "old", Schema: store.Schema - 1, Sent: time.Now(), Nonce: "once"})
	if err != nil {
		t.Fatal(err)
	}
	if err := h.ledger.Beat(ctx, "old", old); err != nil {
		t.Fatal(err)
	}
	if err := h.wait(ctx, func() bool { return h.members["old"] != nil }, nil); err != nil {
		t.Fatal(err)
	}
	if _, err := h.store.CreateCollection(ctx, collection, "{}"); !errors.Is(err, ErrOldHosts) {
		t.Errorf("beside a host that is older a change gives %v", err)
	}
	if err := h.MayAnswer(); err != nil {
		t.Errorf("it does not answer: %v", err)
	}
	gone, err := json.Marshal(Member{Host: "old", Schema: store.Schema - 1, Leaving: true})
	if err != nil {
		t.Fatal(err)
	}
	if err := h.ledger.Beat(ctx, "old", gone); err != nil {
		t.Fatal(err)
	}
	if err := h.wait(ctx, func() bool { return h.members["old"].Leaving }, nil); err != nil {
		t.Fatal(err)
	}
	if _, err := h.store.CreateCollection(ctx, collection, "{}"); err != nil {
		t.Errorf("once the old one is gone a change gives %v", err)
	}
}

// TestComesBackByASnapshot lets a host be away until the changes that it lacks are only in a snapshot.
func TestComesBackByASnapshot(t *testing.T) {
	tr := newTrial(t, 0)
	ctx := t.Context()
	away, writer := tr.hosts[2], tr.hosts[0]
	away.die()
	if _, err := writer.store.CreateCollection(ctx, collection, "{}"); err != nil {
		t.Fatal(err)
	}
	for range 3 {
		c, err := writer.store.Collection(ctx, collection)
		if err != nil {
			t.Fatal(err)
		}
		for i := range 5 {
			if err := writer.store.SetDescription(ctx, c.ID, strconv.Itoa(i)); err != nil {
				t.Fatal(err)
			}
		}
		if err := writer.Compact(ctx); err != nil {
			t.Fatal(err)
		}
	}
	if err := away.up(ctx); err != nil {
		t.Fatal(err)
	}
	if c, err := away.store.Collection(ctx, collection); err != nil || c.Description != "4" {
		t.Errorf("it comes back with %+v, error %v", c, err)
	}
	if err := away.store.SetDescription(ctx, "none", "x"); !errors.Is(err, store.ErrNotFound) {
		t.Errorf("to change what is not there gives %v", err)
	}
}

// TestRecordsOfOthers holds that records are not overwritten by those of a cluster that they are not of.
func TestRecordsOfOthers(t *testing.T) {
	tr := newTrial(t, 0)
	dir := t.TempDir()
	st, err := store.Open(t.Context(), dir)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := st.CreateCollection(t.Context(), "own", "{}"); err != nil {
		t.Fatal(err)
	}
	if err := st.Close(); err != nil {
		t.Fatal(err)
	}
	opts := tr.hosts[0].Options
	opts.Host = "stranger"
	if _, err := Connect(t.Context(), opts, dir); err == nil || !strings.Contains(err.Error(), "empty directory") {
		t.Errorf("a host with records of its own is told %v", err)
	}
	other := newTrial(t, 1)
	opts = other.hosts[0].Options
	other.hosts[1].die()
	opts.Host = "b"
	opts.URL = tr.hosts[0].URL
	if _, err := Connect(t.Context(), opts, other.hosts[1].dir); err == nil || !strings.Contains(err.Error(), "another cluster") {
		t.Errorf("a host of another cluster is told %v", err)
	}
	if err := other.hosts[1].up(t.Context()); err != nil {
		t.Fatal(err)
	}
}

// BenchmarkWriters has sixteen clients at each of three hosts change something at once.
func BenchmarkWriters(b *testing.B) {
	tr := newTrial(b, 0)
	c, err := tr.hosts[0].store.CreateCollection(b.Context(), collection, "{}")
	if err != nil {
		b.Fatal(err)
	}
	var left atomic.Int64
	left.Store(int64(b.N))
	before := tr.hosts[0].store.Number()
	b.ResetTimer()
	var clients sync.WaitGroup
	for _, h := range tr.hosts {
		for range 16 {
			clients.Go(func() {
				for n := left.Add(-1); n >= 0; n = left.Add(-1) {
					if err := h.store.SetDescription(b.Context(), c.ID, strconv.FormatInt(n, 10)); err != nil {
						b.Error(err)
						return
					}
				}
			})
		}
	}
	clients.Wait()
	b.StopTimer()
	b.ReportMetric(float64(b.N)/b.Elapsed().Seconds(), "writes/s")
	b.ReportMetric(float64(tr.hosts[0].store.Number()-before)/float64(b.N), "changes/write")
}
