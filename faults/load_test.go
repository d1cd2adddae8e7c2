package faults

import (
	"context"
	"errors"
	"fmt"
	"maps"
	"math/rand/v2"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"time"

	"jardinet/api"
	"jardinet/faults/history"
)

// A load is what clients ask of a cluster, and what they saw.
type load struct {
	bed   *testbed
	dir   string
	began time.Time
	stop  context.CancelFunc
	done  sync.WaitGroup

	mu        sync.Mutex
	down      map[string]bool // hosts that clients know they cannot reach
	ops       []history.Op
	initial   map[string]string
	notes     map[string]*note
	twins     map[string]string // what is in them, by the name of those whose addition was acknowledged
	problems  []string
	asked     int
	partial   int           // answers that said that they did without some part
	refused   int           // requests that a host refused or did not answer
	longest   time.Duration // that a question waited for an answer from any host
	slowest   []string      // what was tried for that one
	writes    int           // that were acknowledged
	longWrite time.Duration // the longest of those
}

// A note is a document that was added.
type note struct {
	name, code string
	acked      bool
	ready      time.Duration // when it was first seen to be ready; 0 for not yet
	removing   time.Duration // when its removal began; 0 if it has not
	removed    time.Duration // when that was acknowledged; 0 if it was not
}

// What the load is about.
const (
	garden    = "garden"
	shed      = "shed" // twins are removed from it
	barn      = "barn" // and added to this one
	registers = 3
)

// startLoad begins with the clients' work. Seeds make the choices, not the timing, the same again.
func (b *testbed) startLoad(seed uint64) *load {
	ctx, stop := context.WithCancel(context.Background())
	l := &load{bed: b, dir: b.t.TempDir(), began: time.Now(), stop: stop, down: map[string]bool{}, initial: map[string]string{}, notes: map[string]*note{}, twins: map[string]string{}}
	for i := range registers {
		c, err := b.hosts[0].Collection(ctx, register(i))
		if err != nil {
			b.t.Fatal(err)
		}
		l.initial[c.Name] = c.Description
	}
	for i := range 3 {
		random := rand.New(rand.NewPCG(seed, uint64(i)))
		l.done.Go(func() { l.each(ctx, func() { l.writeRegister(ctx, random, i) }, 50*time.Millisecond) })
		l.done.Go(func() { l.each(ctx, func() { l.readRegister(ctx, random2(seed, i)) }, 20*time.Millisecond) })
	}
	for i := range 2 {
		random := rand.New(rand.NewPCG(seed, uint64(100+i)))
		n := 0
		l.done.Go(func() {
			l.each(ctx, func() { n++; l.addNote(ctx, random, fmt.Sprintf("%d-%d-%d", seed, i, n)) }, 300*time.Millisecond)
		})
		l.done.Go(func() { l.each(ctx, func() { l.question(ctx, random2(seed, 200+i)) }, 30*time.Millisecond) })
	}
	l.done.Go(func() { l.each(ctx, func() { l.removeNote(ctx, random2(seed, 300)) }, 900*time.Millisecond) })
	random, n := rand.New(rand.NewPCG(seed, 400)), 0
	l.done.Go(func() { l.each(ctx, func() { n++; l.twin(ctx, random, fmt.Sprintf("%d-%d", seed, n)) }, time.Second) })
	return l
}

func random2(seed uint64, i int) *rand.Rand {
	return rand.New(rand.NewPCG(seed^uint64(time.Now().UnixNano()), uint64(i)))
}

func register(i int) string { return fmt.Sprintf("register-%d", i) }

// each does something again and again until ctx is done.
func (l *load) each(ctx context.Context, do func(), pause time.Duration) {
	for ctx.Err() == nil {
		do()
		select {
		case <-ctx.Done():
		case <-time.After(pause):
		}
	}
}

func (l *load) now() time.Duration { return time.Since(l.began) }

// host picks a host that clients know nothing against.
func (l *load) host(random *rand.Rand) *host {
	l.mu.Lock()
	defer l.mu.Unlock()
	for {
		h := l.bed.hosts[random.IntN(len(l.bed.hosts))]
		if !l.down[h.name] {
			return h
		}
	}
}

// next is the host that a client turns to when one did not answer.
func (l *load) next(h *host) *host {
	l.mu.Lock()
	defer l.mu.Unlock()
	for {
		h = l.bed.hosts[h.n%len(l.bed.hosts)]
		if !l.down[h.name] {
			return h
		}
	}
}

// avoid has clients leave a host alone, or come back to it: a balancer has found out that it is gone.
func (l *load) avoid(h *host, avoid bool) {
	l.mu.Lock()
	defer l.mu.Unlock()
	l.down[h.name] = avoid
}

func (l *load) note(op history.Op) {
	l.mu.Lock()
	defer l.mu.Unlock()
	l.ops = append(l.ops, op)
	if op.Lost {
		l.refused++
	} else if op.Write {
		l.writes++
		l.longWrite = max(l.longWrite, op.End-op.Begin)
	}
}

// giveUp is how long a client waits for one answer.
const giveUp = 30 * time.Second

func (l *load) writeRegister(ctx context.Context, random *rand.Rand, client int) {
	h, at := l.host(random), l.now()
	op := history.Op{Register: register(random.IntN(registers)), Client: fmt.Sprintf("writer %d at %s", client, h.name), Write: true, Value: fmt.Sprintf("%d by %d", at, client), Begin: at}
	asking, cancel := context.WithTimeout(context.WithoutCancel(ctx), giveUp)
	defer cancel()
	_, err := h.Describe(asking, op.Register, op.Value)
	op.End, op.Lost = l.now(), err != nil
	l.note(op)
}

func (l *load) readRegister(ctx context.Context, random *rand.Rand) {
	h, at := l.host(random), l.now()
	op := history.Op{Register: register(random.IntN(registers)), Client: "reader at " + h.name, Begin: at}
	asking, cancel := context.WithTimeout(context.WithoutCancel(ctx), giveUp)
	defer cancel()
	c, err := h.Collection(asking, op.Register)
	if op.End, op.Lost = l.now(), err != nil; err == nil {
		op.Value = c.Description
	}
	l.note(op)
}

// addNote adds a document of a few words, one of which is in no other.
func (l *load) addNote(ctx context.Context, random *rand.Rand, id string) {
	n := &note{name: "note-" + id + ".txt", code: code(random)}
	text := fmt.Sprintf("Locker %s\n\nThe code of this locker is %s. It is kept by the gardener on duty in the potting shed.\n", id, n.code)
	path := filepath.Join(l.dir, n.name)
	if err := os.WriteFile(path, []byte(text), 0o600); err != nil {
		l.problem("%v", err)
		return
	}
	l.mu.Lock()
	l.notes[n.name] = n
	l.mu.Unlock()
	asking, cancel := context.WithTimeout(context.WithoutCancel(ctx), giveUp)
	defer cancel()
	begin := l.now()
	added, refused, err := l.host(random).Add(asking, garden, []string{path})
	l.mu.Lock()
	defer l.mu.Unlock()
	if err != nil || len(added) != 1 || len(refused) > 0 {
		l.refused++
		return
	}
	n.acked = true
	l.writes++
	l.longWrite = max(l.longWrite, l.now()-begin)
}

// code returns a word that is in no language.
func code(random *rand.Rand) string {
	var out strings.Builder
	for range 4 {
		out.WriteByte("bcdfghklmnprstvz"[random.IntN(16)])
		out.WriteByte("aeiou"[random.IntN(5)])
	}
	return out.String() + "x"
}

// removeNote removes one that is ready.
func (l *load) removeNote(ctx context.Context, random *rand.Rand) {
	l.mu.Lock()
	var n *note
	for _, one := range l.notes {
		if one.ready > 0 && one.removing == 0 {
			n = one
			n.removing = l.now()
			break
		}
	}
	l.mu.Unlock()
	if n == nil {
		return
	}
	asking, cancel := context.WithTimeout(context.WithoutCancel(ctx), giveUp)
	defer cancel()
	_, err := l.host(random).Remove(asking, garden, n.name, false)
	l.mu.Lock()
	defer l.mu.Unlock()
	if err != nil {
		l.refused++
		return
	}
	n.removed = l.now()
	l.writes++
}

// twin adds a document to one collection and removes it there for good, while another host takes the
// same file into another collection, which is to have it then.
func (l *load) twin(ctx context.Context, random *rand.Rand, id string) {
	name, text := "twin-"+id+".txt", "The other code is "+code(random)+".\n"
	path := filepath.Join(l.dir, name)
	if err := os.WriteFile(path, []byte(text), 0o600); err != nil {
		l.problem("%v", err)
		return
	}
	asking, cancel := context.WithTimeout(context.WithoutCancel(ctx), giveUp)
	defer cancel()
	remover, adder := l.host(random), l.host(random)
	added, _, err := remover.Add(asking, shed, []string{path})
	if err != nil || len(added) != 1 {
		return
	}
	var removing sync.WaitGroup
	defer removing.Wait()
	removing.Go(func() {
		if _, err := remover.Remove(asking, shed, name, false); err == nil {
			_ = remover.Purge(asking, shed, name) // if not, it stays
		}
	})
	added, _, err = adder.Add(asking, barn, []string{path})
	if err != nil || len(added) != 1 {
		return
	}
	l.mu.Lock()
	defer l.mu.Unlock()
	l.twins[name] = text
	l.writes++
}

// originals tells which twin's original a host cannot give.
func (l *load) originals(h *host) error {
	for name, text := range l.twins {
		status, got, err := h.get("/api/v1/collections/" + barn + "/documents/" + name + "/file")
		if err != nil || status != http.StatusOK || got != strings.TrimSpace(text) {
			return fmt.Errorf("the original of %s: status %d, %.200q, error %v", name, status, got, err)
		}
	}
	return nil
}

// question asks for the code of a document, of whichever host answers.
func (l *load) question(ctx context.Context, random *rand.Rand) {
	l.mu.Lock()
	if len(l.notes) == 0 {
		l.mu.Unlock()
		return
	}
	n := l.notes[slices.Sorted(maps.Keys(l.notes))[random.IntN(len(l.notes))]]
	l.mu.Unlock()
	first := l.now()
	var tried []string
	h := l.host(random)
	for ; ; h = l.next(h) {
		begin := l.now()
		asking, cancel := context.WithTimeout(context.WithoutCancel(ctx), 2*time.Second)
		var err error
		var found *api.Passages
		if random.IntN(4) == 0 { // an answer is audited, and read by the reader
			_, err = h.Ask(asking, garden, api.Ask{Question: "What is the code of locker " + n.code + "?"})
		}
		if err == nil {
			found, err = h.Find(asking, garden, n.code, 5, api.Scope{})
		}
		cancel()
		tried = append(tried, fmt.Sprintf("%s from %s to %s: %v", h.name, begin, l.now(), err))
		l.mu.Lock()
		if now := l.now(); now-first > l.longest {
			l.longest, l.slowest = now-first, tried
		}
		if err != nil {
			l.refused++
		}
		l.mu.Unlock()
		if err == nil {
			l.judge(h, n, found, begin)
			return
		}
		if ctx.Err() != nil {
			return
		}
		time.Sleep(20 * time.Millisecond)
	}
}

// everywhere is after what time at the latest what was seen on one host is seen on every host that
// answers. What is acknowledged is from then on.
const everywhere = 13 * time.Second

// judge tells whether an answer may be as it is.
func (l *load) judge(h *host, n *note, found *api.Passages, begin time.Duration) {
	end := l.now()
	there := slices.ContainsFunc(found.Passages, func(f api.Found) bool { return f.Document == n.name && strings.Contains(f.Text, n.code) })
	l.mu.Lock()
	defer l.mu.Unlock()
	l.asked++
	if found.LeftOut != nil {
		l.partial++
	}
	for _, f := range found.Passages {
		if other := l.notes[f.Document]; other != nil && other.removed > 0 && other.removed < begin {
			l.problems = append(l.problems, fmt.Sprintf("%s answered at %s from %s, which had been removed at %s", h.name, begin, f.Document, other.removed))
		}
	}
	switch {
	case there && n.ready == 0:
		n.ready = end
	case !there && n.ready > 0 && n.ready+everywhere < begin && n.removing == 0 && found.LeftOut == nil:
		l.problems = append(l.problems, fmt.Sprintf("%s did not find %s at %s, which had been found at %s", h.name, n.name, begin, n.ready))
	}
}

func (l *load) problem(format string, args ...any) {
	l.mu.Lock()
	defer l.mu.Unlock()
	l.problems = append(l.problems, fmt.Sprintf(format, args...))
}

// end ends the clients' work and checks what they saw, and what is there now on every host.
func (l *load) end() (summary string) {
	l.stop()
	l.done.Wait()
	t := l.bed.t
	t.Helper()
	for _, h := range l.bed.hosts {
		l.bed.eventually("host "+h.name+" has all that was acknowledged", 90*time.Second, func() error { return errors.Join(l.whole(h), l.originals(h)) })
	}
	if err := history.Check(l.ops, l.initial); err != nil {
		l.problem("%v", err)
	}
	for _, p := range l.problems {
		t.Error(p)
	}
	return fmt.Sprintf("%5d answers, longest %4.1f s, %d partial; %4d writes, longest %4.1f s; %d refused", l.asked, l.longest.Seconds(), l.partial, l.writes, l.longWrite.Seconds(), l.refused)
}

// whole tells what a host lacks of what was acknowledged, or has that was removed.
func (l *load) whole(h *host) error {
	ctx, cancel := context.WithTimeout(context.Background(), 10*time.Second)
	defer cancel()
	docs, err := h.Documents(ctx, garden)
	if err != nil {
		return err
	}
	times := map[string]int{}
	for _, d := range docs {
		times[d.Name]++
		n := l.notes[d.Name]
		switch {
		case n == nil:
			continue // of an earlier load
		case n.removed > 0:
			return fmt.Errorf("%s is there, which was removed", d.Name)
		case n.acked && n.removing == 0 && d.State != "ready":
			return fmt.Errorf("%s is %s: %s", d.Name, d.State, d.Reason)
		}
	}
	for name, n := range l.notes {
		if times[name] > 1 {
			return fmt.Errorf("%s is there %d times", name, times[name])
		}
		if n.acked && n.removing == 0 && times[name] == 0 {
			return fmt.Errorf("%s is lost", name)
		}
	}
	return l.findable(ctx, h)
}

// findable tells which of the documents a host does not find, or finds though they were removed.
func (l *load) findable(ctx context.Context, h *host) error {
	checked := 0
	for _, name := range slices.Sorted(maps.Keys(l.notes)) {
		n := l.notes[name]
		if !n.acked || n.removing > 0 && n.removed == 0 {
			continue
		}
		if checked++; checked > 25 {
			break
		}
		found, err := h.Find(ctx, garden, n.code, 5, api.Scope{})
		if err = errors.Join(err, leftOut(found)); err != nil {
			return err
		}
		there := slices.ContainsFunc(found.Passages, func(f api.Found) bool { return f.Document == name })
		if there != (n.removed == 0) {
			return fmt.Errorf("%s is found: %v", name, there)
		}
	}
	return nil
}

// leftOut tells which parts were not looked at.
func leftOut(found *api.Passages) error {
	if found == nil || found.LeftOut == nil {
		return nil
	}
	return fmt.Errorf("%d of %d shards are left out", found.LeftOut.Parts, found.LeftOut.Of)
}

// settleCollections makes the collections of the load.
func (b *testbed) settleCollections() {
	ctx := context.Background()
	names := []string{garden, shed, barn}
	for i := range registers {
		names = append(names, register(i))
	}
	for _, name := range names {
		if _, err := b.hosts[0].CreateCollection(ctx, name, nil); err != nil {
			b.t.Fatal(err)
		}
	}
}
