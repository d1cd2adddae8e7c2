package shard

import (
	"context"
	"errors"
	"fmt"
	"math/rand/v2"
	"slices"
	"sync"
	"testing"

	"jardinet/index"
	"jardinet/text"
)

var space = index.Space{Model: "test", Dimensions: 64}

// documents returns made-up documents of words whose frequencies differ widely.
func documents(random *rand.Rand, n int) []index.Document {
	out := make([]index.Document, n)
	for i := range out {
		out[i].Key = fmt.Sprintf("document-%03d", i)
		for p := range 1 + random.IntN(6) {
			body := ""
			for range 5 + random.IntN(60) {
				body += fmt.Sprintf("word%d ", int(random.ExpFloat64()*30))
			}
			out[i].Passages = append(out[i].Passages, index.Passage{
				Heading: fmt.Sprintf("part word%d", random.IntN(40)), Body: body, Language: text.English,
				Stored: fmt.Appendf(nil, "%s/%d", out[i].Key, p), Vector: vector(random),
			})
		}
	}
	return out
}

func vector(random *rand.Rand) []float32 {
	out := make([]float32, space.Dimensions)
	for i := range out {
		out[i] = float32(random.NormFloat64())
	}
	return out
}

func build(t testing.TB, docs []index.Document) *index.Index {
	t.Helper()
	x, err := index.Open(t.TempDir(), space)
	if err != nil {
		t.Fatal(err)
	}
	for some := range slices.Chunk(docs, 17) {
		if err := x.Apply(some, nil); err != nil {
			t.Fatal(err)
		}
	}
	return x
}

// spread returns documents over so many shards, shard k on the hosts k and k+1 of three, and a set
// that asks them from the first host.
func spread(t testing.TB, docs []index.Document, shards int) (*Set, map[string]bool) {
	t.Helper()
	parted := make([][]index.Document, shards)
	var keys []string
	for _, d := range docs {
		at := Of("c", d.Key, shards)
		parted[at] = append(parted[at], d)
		keys = append(keys, d.Key)
	}
	all := make([]*index.Index, shards)
	s := &Set{Collection: "c", Self: "host0", Late: func(string, bool) {}, Known: new(Known), Unbuilt: func() []int { return nil }, Dead: func() []string { return nil }, Current: func() []string { return slices.Clone(keys) }}
	for k := range all {
		all[k] = build(t, parted[k])
		s.Parts = append(s.Parts, Part{k, all[k].Generation(), all[k].Totals()})
	}
	down := map[string]bool{}
	hosts := func(k int) []string { return []string{fmt.Sprint("host", k%3), fmt.Sprint("host", (k+1)%3)} }
	holder := func(host string) *Holder {
		return &Holder{
			Index: func(_ context.Context, _ string, k int, _ uint64) (*index.Index, bool) {
				return all[k], slices.Contains(hosts(k), host)
			},
			Holds: func([][]string) func([]byte) bool { return func([]byte) bool { return true } },
		}
	}
	s.Hosts, s.Holder = hosts, holder("host0")
	s.Ask = func(ctx context.Context, host string, request []byte) ([]byte, error) {
		if down[host] {
			return nil, errors.New("it does not answer")
		}
		return holder(host).Answer(ctx, request), nil
	}
	return s, down
}

// query returns a question with words of like meaning, one word misspelt and a vector.
func query(random *rand.Rand) index.Query {
	q := index.Parse(fmt.Sprintf("word%d word%d word%d wrod and nothing", random.IntN(20), random.IntN(60), random.IntN(200)), []text.Language{text.English})
	q.Terms[0].Expansions = []index.Expansion{{Form: fmt.Sprintf("word%d", random.IntN(30)), Weight: .6}}
	q.Vector = vector(random)
	return q
}

func found(t *testing.T, x index.Searcher, q index.Query) (out []string, left index.LeftOut) {
	t.Helper()
	if err := x.Correct(t.Context(), &q, func(word string) bool { return word == "nothing" }); err != nil {
		t.Fatal(err)
	}
	hits, err := x.Search(t.Context(), &q, 10)
	if err != nil {
		t.Fatal(err)
	}
	for _, h := range hits {
		stored, err := h.Stored()
		if err != nil {
			t.Fatal(err)
		}
		out = append(out, fmt.Sprintf("%s/%d %.17g %.17g %.17g %v %s", h.Key, h.Ordinal, h.Score, h.Expanded, h.Cosine, h.HasVector, stored))
	}
	for _, term := range q.Terms {
		out = append(out, fmt.Sprintf("%s %.17g %d %v", term.Word, term.IDF, term.Frequency, term.Forms))
	}
	return out, q.LeftOut
}

// TestSameAsOneIndex holds that what is found in shards on three hosts is what is found in one
// index, in the same order and to the last digit of each score.
func TestSameAsOneIndex(t *testing.T) {
	random := rand.New(rand.NewPCG(30, 1))
	docs := documents(random, 150)
	one := build(t, docs)
	for _, shards := range []int{1, 4, 7} {
		s, _ := spread(t, docs, shards)
		if s.Passages() != one.Passages() || !slices.Equal(s.Languages(), one.Languages()) || !slices.Equal(s.Keys(), one.Keys()) {
			t.Fatalf("in %d shards there are %d passages in %v", shards, s.Passages(), s.Languages())
		}
		for range 60 {
			q := query(random)
			if random.IntN(3) == 0 {
				q.Keep = func(key string) bool { return key < "document-060" }
			}
			again := q
			again.Terms = slices.Clone(q.Terms)
			for i := range again.Terms {
				again.Terms[i].Expansions = slices.Clone(q.Terms[i].Expansions)
				again.Terms[i].Forms = slices.Clone(q.Terms[i].Forms)
			}
			want, _ := found(t, one, q)
			got, left := found(t, s, again)
			if !slices.Equal(got, want) {
				t.Fatalf("%d shards find\n%q\none index\n%q", shards, got, want)
			}
			if left.Parts != 0 {
				t.Errorf("%+v is left out", left)
			}
		}
	}
}

func TestLateHostIsLeftOut(t *testing.T) {
	random := rand.New(rand.NewPCG(30, 2))
	docs := documents(random, 60)
	s, down := spread(t, docs, 6)
	q := query(random)
	want, _ := found(t, s, q)
	down["host1"] = true
	if got, left := found(t, s, q); !slices.Equal(got, want) || left.Parts != 0 {
		t.Errorf("with another host that has the shards it finds\n%q\nnot\n%q, and leaves out %+v", got, want, left)
	}
	down["host2"] = true // host1 and host2 alone have shards 1 and 4
	got, left := found(t, s, q)
	if left.Parts != 2 || left.Of != 6 || !slices.Equal(left.Hosts, []string{"host1", "host2"}) {
		t.Errorf("it leaves out %+v", left)
	}
	if len(got) == 0 || slices.Equal(got, want) {
		t.Errorf("it finds %q", got)
	}
}

// TestLostHostIsLeftAlone holds that a question waits once for a host that does not answer, however
// often it searches.
func TestLostHostIsLeftAlone(t *testing.T) {
	random := rand.New(rand.NewPCG(30, 5))
	s, down := spread(t, documents(random, 60), 6)
	down["host1"], down["host2"] = true, true
	var mu sync.Mutex
	asked := 0
	ask := s.Ask
	s.Ask = func(ctx context.Context, host string, request []byte) ([]byte, error) {
		mu.Lock()
		asked++
		mu.Unlock()
		return ask(ctx, host, request)
	}
	_, first := found(t, s, query(random))
	before := asked
	if before > 4 {
		t.Errorf("two hosts that do not answer are asked %d times", before)
	}
	_, left := found(t, s, query(random))
	if asked != before || left.Parts != first.Parts || !slices.Equal(left.Hosts, []string{"host1", "host2"}) {
		t.Errorf("in the next search they are asked %d times more, and %+v is left out, %+v before", asked-before, left, first)
	}
}

func TestDeadAreNotFound(t *testing.T) {
	random := rand.New(rand.NewPCG(30, 3))
	docs := documents(random, 20)
	s, _ := spread(t, docs, 3)
	s.Dead = func() []string { return []string{"document-000", "document-001"} }
	q := index.Parse("word0 word1 word2 word3", []text.Language{text.English})
	hits, err := s.Search(t.Context(), &q, 100)
	if err != nil || len(hits) == 0 {
		t.Fatalf("found %d, error %v", len(hits), err)
	}
	for _, h := range hits {
		if h.Key <= "document-001" {
			t.Errorf("%s is found", h.Key)
		}
	}
}

// TestReplyIsWrittenDown holds that a reply is read as it was written, and that one that is cut short
// is noticed.
func TestReplyIsWrittenDown(t *testing.T) {
	want := &reply{Missing: []int{3}, Near: []index.Near{{Edits: 1, Frequency: map[string]int{"fern": 2}}}, Stored: [][]byte{[]byte("x"), nil, {}}}
	want.Found[0] = []index.Hit{{Key: "a", Ordinal: 300, Score: 1.0 / 3, Expanded: 2, Cosine: -.5, HasVector: true}}
	want.Found[2] = []index.Hit{{Key: "b"}}
	want.Shards[0], want.Shards[2] = []int{7}, []int{0}
	data := want.encode()
	got, err := decodeReply(data)
	if err != nil {
		t.Fatal(err)
	}
	if fmt.Sprintf("%#v", got) != fmt.Sprintf("%#v", want) {
		t.Errorf("it is\n%#v\nnot\n%#v", got, want)
	}
	for n := range data {
		if _, err := decodeReply(data[:n]); err == nil {
			t.Errorf("cut after %d of %d bytes it is read", n, len(data))
		}
	}
}

func BenchmarkSearch(b *testing.B) {
	random := rand.New(rand.NewPCG(30, 4))
	docs := documents(random, 2000)
	s, _ := spread(b, docs, 4)
	s.Self = "nobody"
	q := query(random)
	for b.Loop() {
		again := q
		again.Terms = slices.Clone(q.Terms)
		if _, err := s.Search(b.Context(), &again, 80); err != nil {
			b.Fatal(err)
		}
	}
}
