package index

import (
	"errors"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"syscall"
	"testing"

	"jardinet/text"
)

// A faulty disk fails at some operation and remembers what a power cut would
// lose: what was written since the last sync of a file, and renames since the
// last sync of the directory.
type faulty struct {
	random   *rand.Rand
	failAt   int // operation, counted down
	failed   bool
	unsynced map[string]bool   // files with content that is not on the platter
	renamed  map[string][]byte // files that were replaced, with what was there before; nil for nothing
}

var errFault = errors.New("the disk failed")

func newFaulty(seed uint64) *faulty {
	random := rand.New(rand.NewPCG(seed, 11))
	return &faulty{random: random, failAt: random.IntN(60), unsynced: map[string]bool{}, renamed: map[string][]byte{}}
}

// fault tells whether the operation at hand fails. After the first all do, as
// if the machine were gone.
func (f *faulty) fault() bool {
	f.failAt--
	f.failed = f.failed || f.failAt < 0
	return f.failed
}

func (f *faulty) disk() *disk {
	return &disk{
		write: func(file *os.File, p []byte) (int, error) {
			f.unsynced[file.Name()] = true
			if f.fault() {
				n, _ := file.Write(p[:f.random.IntN(len(p)+1)])
				return n, []error{nil, errFault, syscall.ENOSPC}[f.random.IntN(3)]
			}
			return file.Write(p)
		},
		sync: func(file *os.File) error {
			if f.fault() {
				return errFault
			}
			delete(f.unsynced, file.Name())
			return nil
		},
		rename: func(from, to string) error {
			if f.fault() {
				return errFault
			}
			old, err := os.ReadFile(to)
			if err != nil {
				old = nil
			}
			if _, again := f.renamed[to]; !again {
				f.renamed[to] = old
			}
			f.unsynced[to] = f.unsynced[from]
			delete(f.unsynced, from)
			return os.Rename(from, to)
		},
		syncDir: func(string) error {
			if f.fault() {
				return errFault
			}
			clear(f.renamed)
			return nil
		},
	}
}

// cut turns the power off: what was not synced is gone, in whole or in part.
func (f *faulty) cut(t *testing.T) {
	t.Helper()
	for path, old := range f.renamed {
		if f.random.IntN(2) == 0 {
			continue // the directory happened to be written
		}
		var err error
		if old == nil {
			err = os.Remove(path)
		} else {
			err = os.WriteFile(path, old, 0o644)
		}
		if err != nil && !errors.Is(err, os.ErrNotExist) {
			t.Fatal(err)
		}
	}
	for path, lost := range f.unsynced {
		info, err := os.Stat(path)
		if !lost || err != nil {
			continue
		}
		if err := os.Truncate(path, f.random.Int64N(info.Size()+1)); err != nil {
			t.Fatal(err)
		}
	}
}

// TestPowerCuts writes at random to a disk that fails at some operation, cuts
// the power, opens the index again and wants it to be in the state before the
// write that failed or after it, whole.
func TestPowerCuts(t *testing.T) {
	seeds := 1500
	if testing.Short() {
		seeds = 100
	}
	for seed := range uint64(seeds) {
		dir := filepath.Join(t.TempDir(), "x")
		x := open(t, dir)
		f := newFaulty(seed)
		x.disk = f.disk()
		before, after := []string{}, []string{}
		for step := 0; !f.failed && step < 12; step++ {
			before = slices.Clone(after)
			var add []Document
			var remove []string
			for i := range 1 + f.random.IntN(3) {
				key := fmt.Sprintf("d%d-%d", step, i)
				add = append(add, doc(key, strings.Repeat("seed vault keeper ", 1+f.random.IntN(9)), key))
				after = append(after, key)
			}
			if len(before) > 0 && f.random.IntN(2) == 0 {
				gone := before[f.random.IntN(len(before))]
				remove = append(remove, gone)
				after = slices.DeleteFunc(after, func(k string) bool { return k == gone })
			}
			if err := x.Apply(add, remove); err != nil && !f.failed {
				t.Fatalf("seed %d: %v", seed, err)
			} else if err == nil {
				before = slices.Clone(after)
			}
		}
		f.cut(t)
		x, err := Open(dir, Space{})
		if err != nil {
			t.Fatalf("seed %d: after the power cut: %v", seed, err)
		}
		slices.Sort(before)
		slices.Sort(after)
		if keys := x.Keys(); !slices.Equal(keys, before) && !slices.Equal(keys, after) {
			t.Fatalf("seed %d: after the power cut %v, want %v or %v", seed, keys, before, after)
		}
		if err := x.Check(t.Context(), nil); err != nil {
			t.Fatalf("seed %d: %v", seed, err)
		}
	}
}

// TestFailedWriteLeavesTheIndexInUse wants searches and writes to go on after a
// write that failed.
func TestFailedWriteLeavesTheIndexInUse(t *testing.T) {
	x := open(t, t.TempDir())
	apply(t, x, []Document{doc("a", "seed vault")})
	f := newFaulty(1)
	f.failAt = 1
	x.disk = f.disk()
	if err := x.Apply([]Document{doc("b", "seed keeper")}, nil); err == nil {
		t.Fatal("a write to a broken disk succeeds")
	}
	if got := search(t, x, "seed", 10); !slices.Equal(got, []string{"a/0"}) {
		t.Errorf("after the failure %v", got)
	}
	x.disk = realDisk
	apply(t, x, []Document{doc("b", "seed keeper")})
	if got := search(t, x, "seed", 10); len(got) != 2 {
		t.Errorf("after another try %v", got)
	}
}

func TestCheckFindsEveryFlippedBit(t *testing.T) {
	dir := t.TempDir()
	x := open(t, dir)
	apply(t, x, []Document{doc("a", "seed vault", "the keeper signs"), doc("b", "palm house")})
	path := x.current.Load().segments[0].path
	whole, err := os.ReadFile(path)
	if err != nil {
		t.Fatal(err)
	}
	told := 0
	if err := x.Check(t.Context(), func(done, all int) { told = done * 10 / all }); err != nil || told != 10 {
		t.Fatalf("a sound index: %v, progress %d", err, told)
	}
	entries, err := readDirectory(whole)
	if err != nil {
		t.Fatal(err)
	}
	for _, e := range entries {
		for at := e.offset; at < e.offset+e.length; at += 7 {
			broken := slices.Clone(whole)
			broken[at] ^= 1 << (at % 8)
			if err := os.WriteFile(path, broken, 0o644); err != nil {
				t.Fatal(err)
			}
			if err := x.Check(t.Context(), nil); err == nil || !strings.Contains(err.Error(), filepath.Base(path)) {
				t.Fatalf("byte %d of section %d is flipped and not found: %v", at, e.id, err)
			}
		}
	}
}

func TestTypedSearches(t *testing.T) {
	x := open(t, t.TempDir())
	apply(t, x, []Document{
		doc("a", "The keeper of the seed vault signs.", "Vault of the seed keeper."), doc("b", "The vault is cold.", "Seed is dry."),
	})
	for typed, want := range map[string][]string{
		`"seed vault"`:       {"a/0", "a/1"}, // the order is for the caller to check
		`vault -keeper`:      {"b/0"},
		`seed -vault -dry`:   {},
		`"the vault" cold`:   {"b/0", "a/0", "a/1"},
		`"vault`:             {"a/0", "a/1", "b/0"},
		`-keeper -cold seed`: {"b/1"},
		`""`:                 {},
	} {
		q, _ := x.ParseSearch(typed)
		hits, err := x.Search(t.Context(), &q, 10)
		if err != nil {
			t.Fatal(err)
		}
		var got []string
		for _, h := range hits {
			got = append(got, fmt.Sprintf("%s/%d", h.Key, h.Ordinal))
		}
		slices.Sort(got)
		slices.Sort(want)
		if !slices.Equal(got, want) {
			t.Errorf("%s finds %v, want %v", typed, got, want)
		}
	}
	q, phrases := x.ParseSearch(`"seed vault" -cold`)
	if len(phrases) != 1 || !slices.Equal(phrases[0], []string{"seed", "vault"}) {
		t.Errorf("phrases %v of %+v", phrases, q)
	}
	q.Verify = func(stored []byte) bool { return string(stored) == "a/1" }
	if hits, err := x.Search(t.Context(), &q, 10); err != nil || len(hits) != 1 || hits[0].Ordinal != 1 {
		t.Errorf("verified %+v, error %v", hits, err)
	}
}

func TestCorrect(t *testing.T) {
	x := open(t, t.TempDir())
	apply(t, x, []Document{doc("a", "temperature of the glasshouse", "quarantine quarantine", "the orchid house"), doc("b", "quarantine", "orchids and ferns")})
	nothing := func(string) bool { return false }
	for asked, want := range map[string]string{
		"temprature": "temperatur", "qaurantine": "quarantin", "orchyd": "orchid", "glashouse": "glasshous",
		"zeppelin": "", "fern": "", "orc": "", "orchid7": "",
	} {
		q := x.Parse(asked)
		if err := x.Correct(t.Context(), &q, nothing); err != nil {
			t.Fatal(err)
		}
		got := ""
		if len(q.Corrected) > 0 {
			got = q.Corrected[0].Form
		}
		if got != want {
			t.Errorf("%s is taken for %q, want %q", asked, got, want)
		}
	}
	q := x.Parse("orchyd")
	if err := x.Correct(t.Context(), &q, func(word string) bool { return word == "orchyd" }); err != nil || len(q.Corrected) != 0 {
		t.Error("a known word is corrected")
	}
}

// TestFuzzyEqualsTheDistance compares with the table of distances, computed for
// every term.
func TestFuzzyEqualsTheDistance(t *testing.T) {
	random := rand.New(rand.NewPCG(5, 5))
	word := func() string {
		var b strings.Builder
		for range 3 + random.IntN(8) {
			b.WriteByte("aeprst"[random.IntN(6)])
		}
		return b.String()
	}
	d := Document{Key: "d"}
	for range 400 {
		d.Passages = append(d.Passages, Passage{Body: word() + " " + word(), Language: "xx"})
	}
	x := open(t, t.TempDir())
	apply(t, x, []Document{d})
	seg := x.current.Load().segments[0]
	for range 300 {
		asked := []rune(word())
		for most := 1; most <= 2; most++ {
			got := map[int]int{}
			seg.fuzzy(asked, most, func(term, distance int) { got[term] = distance })
			for i := range seg.termCount() {
				term := []rune(seg.term(i))
				distance := text.Edits(asked, term)
				if found, ok := got[i]; ok != (distance <= most) || ok && found != distance {
					t.Fatalf("%s and %s differ by %d; found %t with %d", string(asked), string(term), distance, ok, found)
				}
			}
		}
	}
}

// TestNearestEqualsTheExactScan holds the search by signs to the exact one.
func TestNearestEqualsTheExactScan(t *testing.T) {
	const dimensions, passages, top = 64, 20_000, 10
	random := rand.New(rand.NewPCG(9, 9))
	centres := make([][]float32, 200) // meaning is clustered, as that of text is
	for i := range centres {
		centres[i] = make([]float32, dimensions)
		for k := range centres[i] {
			centres[i][k] = float32(random.NormFloat64())
		}
	}
	vector := func() []float32 {
		v := slices.Clone(centres[random.IntN(len(centres))])
		for k := range v {
			v[k] += 0.7 * float32(random.NormFloat64())
		}
		return v
	}
	x, err := Open(t.TempDir(), Space{"test", dimensions})
	if err != nil {
		t.Fatal(err)
	}
	docs := make([]Document, 100)
	for i := range docs {
		docs[i].Key = fmt.Sprintf("d%03d", i)
		for range passages / len(docs) {
			docs[i].Passages = append(docs[i].Passages, Passage{Body: "x", Language: "en", Vector: vector()})
		}
	}
	apply(t, x, docs)
	seg := x.current.Load().segments[0]
	if seg.stats.Passages*dimensions <= finest {
		t.Fatal("the segment is too small to be searched by signs")
	}
	all, some := make([]bool, len(docs)), make([]bool, len(docs))
	for i := range docs {
		all[i], some[i] = true, i%3 == 0
	}
	found, of := 0, 0
	for range 50 {
		target := aim(vector())
		for _, allowed := range [][]bool{all, some} {
			var exact []near
			for p := range seg.stats.Passages {
				if allowed[seg.documentOf(p)] {
					exact = append(exact, near{p, seg.cosineOf(p, target)})
				}
			}
			slices.SortFunc(exact, seg.compareNear)
			got := seg.nearest(t.Context(), target, allowed, top)
			for _, e := range exact[:top] {
				of++
				if slices.Contains(got, e) {
					found++
				}
			}
			for _, g := range got {
				if !allowed[seg.documentOf(g.passage)] {
					t.Fatal("a passage of a document that is not allowed was found")
				}
			}
		}
	}
	if recall := float64(found) / float64(of); recall < 0.98 {
		t.Errorf("recall@10 is %.3f against the exact scan", recall)
	}
}

func TestSpaces(t *testing.T) {
	dir := t.TempDir()
	x, err := Open(dir, Space{"m", 3})
	if err != nil {
		t.Fatal(err)
	}
	with := Document{Key: "a", Passages: []Passage{{Body: "x", Language: "en", Vector: []float32{1, 2, 3}}}}
	if err := x.Apply([]Document{{Key: "b", Passages: []Passage{{Body: "x", Vector: []float32{1}}}}}, nil); err == nil {
		t.Error("a vector of another length is taken")
	}
	apply(t, x, []Document{with})
	if _, err := Open(dir, Space{"m2", 3}); !errors.Is(err, ErrSpace) {
		t.Errorf("another model: %v", err)
	}
	q := Query{Vector: []float32{1, 2, 2.9}}
	hits, err := x.Search(t.Context(), &q, 3)
	if err != nil || len(hits) != 1 || hits[0].Cosine < 0.99 {
		t.Errorf("hits %+v, error %v", hits, err)
	}
	q.Vector = []float32{0, 0, 0}
	if hits, err := x.Search(t.Context(), &q, 3); err != nil || len(hits) != 0 {
		t.Errorf("a vector that points nowhere finds %+v, error %v", hits, err)
	}
}
