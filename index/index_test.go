package index

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"

	"jardinet/text"
)

func open(t testing.TB, dir string) *Index {
	t.Helper()
	x, err := Open(dir, Space{})
	if err != nil {
		t.Fatal(err)
	}
	return x
}

func apply(t testing.TB, x *Index, add []Document, remove ...string) {
	t.Helper()
	if err := x.Apply(add, remove); err != nil {
		t.Fatal(err)
	}
}

func doc(key string, bodies ...string) Document {
	d := Document{Key: key}
	for i, body := range bodies {
		d.Passages = append(d.Passages, Passage{Heading: key + " section", Body: body, Language: "en", Stored: fmt.Appendf(nil, "%s/%d", key, i)})
	}
	return d
}

// search returns the hits as "key/ordinal".
func search(t testing.TB, x *Index, query string, top int) []string {
	t.Helper()
	q := x.Parse(query)
	hits, err := x.Search(context.Background(), &q, top)
	if err != nil {
		t.Fatal(err)
	}
	out := []string{}
	for _, h := range hits {
		out = append(out, fmt.Sprintf("%s/%d", h.Key, h.Ordinal))
	}
	return out
}

func TestSearch(t *testing.T) {
	x := open(t, t.TempDir())
	apply(t, x, []Document{
		doc("water", "The tank holds rain water.", "Mains water is hard."),
		doc("storm", "Close the vents in a storm.", "The storm broke many panes of the glasshouses."),
	})
	tests := []struct {
		query string
		want  []string
	}{
		{"glasshouse panes", []string{"storm/1"}},
		{"rain", []string{"water/0"}},
		{"When is the mains hard?", []string{"water/1"}},
		{"zeppelin", []string{}},
	}
	for _, test := range tests {
		if got := search(t, x, test.query, 10); !slices.Equal(got, test.want) {
			t.Errorf("%q finds %v, want %v", test.query, got, test.want)
		}
	}
	if got := search(t, x, "storm", 1); len(got) != 1 {
		t.Errorf("the best one hit is %v", got)
	}
}

func TestStoredBytesComeBack(t *testing.T) {
	x := open(t, t.TempDir())
	apply(t, x, []Document{doc("a", "first words", "second words")})
	apply(t, x, []Document{doc("b", "third words")})
	q := x.Parse("words")
	hits, err := x.Search(t.Context(), &q, 10)
	if err != nil || len(hits) != 3 {
		t.Fatalf("%d hits, error %v", len(hits), err)
	}
	for _, h := range hits {
		stored, err := h.Stored()
		if want := fmt.Sprintf("%s/%d", h.Key, h.Ordinal); err != nil || string(stored) != want {
			t.Errorf("%s has stored %q, error %v", want, stored, err)
		}
	}
}

func TestRemoveAndReplace(t *testing.T) {
	x := open(t, t.TempDir())
	apply(t, x, []Document{doc("old", "quarantine is 90 days"), doc("other", "nothing here")})
	apply(t, x, []Document{doc("new", "quarantine is 180 days")}, "old")
	if got := search(t, x, "quarantine days", 10); !slices.Equal(got, []string{"new/0"}) {
		t.Errorf("after replacing, %v", got)
	}
	if x.Has("old") || !x.Has("new") || x.Passages() != 2 {
		t.Errorf("keys are %v, %d passages", x.Keys(), x.Passages())
	}
	apply(t, x, nil, "new", "other", "never there")
	if x.Passages() != 0 || len(search(t, x, "quarantine", 10)) != 0 {
		t.Error("an emptied index still finds something")
	}
}

// What was replaced leaves no trace in the scores of what is there.
func TestReplacingLeavesNoTrace(t *testing.T) {
	var all []Document
	for i := range 40 {
		all = append(all, doc(fmt.Sprint("d", i), "Ferns are watered daily.", strings.Repeat("Palms are not. ", i%5)))
	}
	calm, busy := open(t, t.TempDir()), open(t, t.TempDir())
	apply(t, calm, all)
	apply(t, busy, []Document{doc("gone", "Ferns, ferns and ferns again.")})
	for _, d := range all {
		apply(t, busy, []Document{d})
	}
	for _, d := range all[10:25] {
		apply(t, busy, []Document{d}, d.Key, "gone")
	}
	for _, query := range []string{"ferns", "palms", "are ferns or palms watered"} {
		if got, want := scores(t, busy, query), scores(t, calm, query); got != want {
			t.Errorf("%q: scores %s, without replacing %s", query, got, want)
		}
	}
}

func scores(t *testing.T, x *Index, query string) string {
	t.Helper()
	q := x.Parse(query)
	hits, err := x.Search(t.Context(), &q, 100)
	if err != nil {
		t.Fatal(err)
	}
	out := ""
	for _, h := range hits {
		out += fmt.Sprintf("%s/%d %v; ", h.Key, h.Ordinal, h.Score)
	}
	return out
}

func TestApplyTwiceChangesNothing(t *testing.T) {
	x := open(t, t.TempDir())
	apply(t, x, []Document{doc("a", "some words")})
	generation := x.Generation()
	apply(t, x, []Document{doc("a", "some words")})
	if x.Generation() != generation || x.Passages() != 1 {
		t.Errorf("generation %d became %d, passages %d", generation, x.Generation(), x.Passages())
	}
}

func TestReopenFindsTheSame(t *testing.T) {
	dir := t.TempDir()
	x := open(t, dir)
	for i := range 9 {
		apply(t, x, []Document{doc(fmt.Sprint("d", i), fmt.Sprintf("common word and word%d", i))})
	}
	apply(t, x, nil, "d4")
	os.WriteFile(filepath.Join(dir, "00000099-0.segment"), []byte("left over"), 0o644)
	before := search(t, x, "common word3", 20)
	again := open(t, dir)
	if after := search(t, again, "common word3", 20); !slices.Equal(before, after) {
		t.Errorf("before %v, after %v", before, after)
	}
	if _, err := os.Stat(filepath.Join(dir, "00000099-0.segment")); !os.IsNotExist(err) {
		t.Error("a segment that no manifest names was left behind")
	}
	if n := len(again.current.Load().segments); n > 4 {
		t.Errorf("%d segments for nine documents: merging does not happen", n)
	}
}

// naive scores every passage of every document by the formula alone.
func naive(docs []Document, q Query) []Hit {
	stem := text.NewStemmer("en")
	tokens := func(s string) []string {
		var out []string
		for _, t := range text.Tokens(s) {
			out = append(out, stem.Stem(t.Word))
		}
		return out
	}
	type field struct{ heading, body []string }
	var all []field
	var hits []Hit
	headings, bodies := 0.0, 0.0
	for _, d := range docs {
		for i, p := range d.Passages {
			f := field{tokens(p.Heading), tokens(p.Body)}
			all = append(all, f)
			hits = append(hits, Hit{Key: d.Key, Ordinal: i})
			headings, bodies = headings+float64(len(f.heading)), bodies+float64(len(f.body))
		}
	}
	n := float64(len(all))
	count := func(words []string, form string) (c float64) {
		for _, w := range words {
			if w == form {
				c++
			}
		}
		return c
	}
	for _, term := range q.Terms {
		df := 0.0
		for _, f := range all {
			if count(f.heading, term.Forms[0])+count(f.body, term.Forms[0]) > 0 {
				df++
			}
		}
		idf := math.Log(1 + (n-df+0.5)/(df+0.5))
		for i, f := range all {
			w := count(f.body, term.Forms[0]) / (1 - bodyB + bodyB*float64(len(f.body))/(bodies/n))
			w += headingWeight * count(f.heading, term.Forms[0]) / (1 - headingB + headingB*float64(len(f.heading))/(headings/n))
			if w > 0 {
				hits[i].Score += idf * w * (k1 + 1) / (w + k1)
			}
		}
	}
	hits = slices.DeleteFunc(hits, func(h Hit) bool { return h.Score == 0 })
	slices.SortFunc(hits, compareHits)
	return hits
}

// TestRankingEqualsTheFormula compares with the naive scorer on random
// collections, built by many small writes so that segments are merged.
func TestRankingEqualsTheFormula(t *testing.T) {
	random := rand.New(rand.NewPCG(7, 7))
	vocabulary := strings.Fields("palm fern orchid cactus moss vent shade frost boiler glass seed vault rail train signal brake pest mite scale lime pump tank storm")
	sentence := func() string {
		var words []string
		for range 3 + random.IntN(30) {
			words = append(words, vocabulary[int(float64(len(vocabulary))*random.Float64()*random.Float64())])
		}
		return strings.Join(words, " ")
	}
	for round := range 8 {
		x := open(t, t.TempDir())
		var docs []Document
		for i := range 30 {
			d := Document{Key: fmt.Sprintf("d%02d", i)}
			for range 1 + random.IntN(6) {
				d.Passages = append(d.Passages, Passage{Heading: vocabulary[random.IntN(len(vocabulary))] + " house", Body: sentence(), Language: "en"})
			}
			docs = append(docs, d)
			if random.IntN(3) == 0 || i == 29 {
				apply(t, x, docs)
			}
		}
		for range 20 {
			query := vocabulary[random.IntN(len(vocabulary))] + " " + vocabulary[random.IntN(len(vocabulary))] + " house"
			q := x.Parse(query)
			want := naive(docs, q)
			got, err := x.Search(t.Context(), &q, 10)
			if err != nil {
				t.Fatal(err)
			}
			if len(got) != min(10, len(want)) {
				t.Fatalf("round %d: %q has %d hits, want %d", round, query, len(got), len(want))
			}
			for i := range got {
				if got[i].Key != want[i].Key || got[i].Ordinal != want[i].Ordinal || math.Abs(got[i].Score-want[i].Score) > 1e-9 {
					t.Fatalf("round %d: %q: hit %d is %s/%d %.17g, want %s/%d %.17g", round, query, i,
						got[i].Key, got[i].Ordinal, got[i].Score, want[i].Key, want[i].Ordinal, want[i].Score)
				}
			}
		}
	}
}

func TestKeepFilters(t *testing.T) {
	x := open(t, t.TempDir())
	apply(t, x, []Document{doc("a", "shared word"), doc("b", "shared word"), doc("c", "shared word")})
	q := x.Parse("shared")
	q.Keep = func(key string) bool { return key != "b" }
	hits, err := x.Search(t.Context(), &q, 10)
	if err != nil || len(hits) != 2 || hits[0].Key != "a" || hits[1].Key != "c" {
		t.Errorf("hits are %v, error %v", hits, err)
	}
}

func TestQueryInAnotherLanguage(t *testing.T) {
	x := open(t, t.TempDir())
	apply(t, x, []Document{
		{Key: "fr", Passages: []Passage{{Body: "Les serres ouvrent à dix heures", Language: "fr"}}},
		{Key: "en", Passages: []Passage{{Body: "The houses open at ten", Language: "en"}}},
	})
	if got := search(t, x, "Quand la serre ouvre-t-elle ?", 5); len(got) == 0 || got[0] != "fr/0" {
		t.Errorf("the French question finds %v", got)
	}
	if got := search(t, x, "opening of the house", 5); len(got) == 0 || got[0] != "en/0" {
		t.Errorf("the English question finds %v", got)
	}
}

func TestFlippedBytesAreErrors(t *testing.T) {
	dir := t.TempDir()
	apply(t, open(t, dir), []Document{doc("a", "the words of a document", "and some more words"), doc("b", "others")})
	paths, _ := filepath.Glob(filepath.Join(dir, "*"+segmentSuffix))
	good, err := os.ReadFile(paths[0])
	if err != nil {
		t.Fatal(err)
	}
	undetected := 0
	for i := range good {
		bad := slices.Clone(good)
		bad[i] ^= 0x10
		path := filepath.Join(t.TempDir(), "bad.segment")
		if err := os.WriteFile(path, bad, 0o644); err != nil {
			t.Fatal(err)
		}
		if _, err := openSegment(path); err == nil {
			undetected++ // padding between sections is not covered
		} else if !strings.Contains(err.Error(), path) {
			t.Errorf("byte %d: the error does not name the segment: %v", i, err)
		}
	}
	if undetected > 7*6 {
		t.Errorf("%d flipped bytes of %d were not noticed", undetected, len(good))
	}
	for i := 0; i < len(good); i += 7 {
		path := filepath.Join(t.TempDir(), "short.segment")
		os.WriteFile(path, good[:i], 0o644)
		if _, err := openSegment(path); err == nil {
			t.Errorf("a segment cut to %d of %d bytes was opened", i, len(good))
		}
	}
}

func TestDamagedManifest(t *testing.T) {
	dir := t.TempDir()
	apply(t, open(t, dir), []Document{doc("a", "words")})
	for _, content := range []string{"{", `{"format":99}`, `{"format":1,"segments":[{"name":"gone.segment"}]}`} {
		os.WriteFile(filepath.Join(dir, manifestName), []byte(content), 0o644)
		if _, err := Open(dir, Space{}); err == nil {
			t.Errorf("manifest %s was accepted", content)
		}
	}
}

// TestSearchWhileWriting runs searches beside writes that merge and delete:
// each search must see whole documents only.
func TestSearchWhileWriting(t *testing.T) {
	x := open(t, t.TempDir())
	apply(t, x, []Document{doc("fixed", "steady word", "steady word", "steady word")})
	var wg sync.WaitGroup
	stop := make(chan struct{})
	for range 3 {
		wg.Go(func() {
			for {
				select {
				case <-stop:
					return
				default:
				}
				q := x.Parse("steady")
				hits, err := x.Search(context.Background(), &q, 100)
				if err != nil || len(hits)%3 != 0 || len(hits) == 0 {
					t.Errorf("%d hits, error %v", len(hits), err)
					return
				}
				for _, h := range hits {
					if _, err := h.Stored(); err != nil {
						t.Error(err)
					}
				}
			}
		})
	}
	for i := range 60 {
		apply(t, x, []Document{doc(fmt.Sprint("n", i), "steady word", "steady word", "steady word")}, fmt.Sprint("n", i-4))
	}
	close(stop)
	wg.Wait()
}

func TestCancelledSearch(t *testing.T) {
	x := open(t, t.TempDir())
	apply(t, x, []Document{doc("a", "words")})
	ctx, cancel := context.WithCancel(t.Context())
	cancel()
	q := x.Parse("words")
	if _, err := x.Search(ctx, &q, 10); err == nil {
		t.Error("a cancelled search succeeded")
	}
}

func large(b *testing.B) *Index {
	random := rand.New(rand.NewPCG(1, 2))
	x := open(b, b.TempDir())
	d := Document{Key: "large"}
	for range 20_000 {
		var body strings.Builder
		for range 120 {
			fmt.Fprintf(&body, "w%d ", int(math.Pow(random.Float64(), 3)*30_000))
		}
		d.Passages = append(d.Passages, Passage{Body: body.String(), Language: "en"})
	}
	apply(b, x, []Document{d})
	return x
}

func BenchmarkSearch(b *testing.B) {
	x := large(b)
	b.ReportAllocs()
	b.ResetTimer()
	for i := 0; b.Loop(); i++ {
		q := x.Parse(fmt.Sprintf("w%d w%d w%d", i%50, 100+i%700, 5000+i%9000))
		if _, err := x.Search(context.Background(), &q, 10); err != nil {
			b.Fatal(err)
		}
	}
}

// TestRandomWork compares the index with a map under random additions, removals
// and reopenings.
func TestRandomWork(t *testing.T) {
	for seed := range uint64(6) {
		random := rand.New(rand.NewPCG(seed, 99))
		dir := t.TempDir()
		x := open(t, dir)
		model := map[string]int{} // passages by key
		for step := range 60 {
			var add []Document
			var remove []string
			for range random.IntN(4) {
				key := fmt.Sprint("k", random.IntN(25))
				if _, there := model[key]; there || slices.ContainsFunc(add, func(d Document) bool { return d.Key == key }) {
					continue
				}
				bodies := make([]string, 1+random.IntN(5))
				for i := range bodies {
					bodies[i] = "shared word" + fmt.Sprint(random.IntN(9))
				}
				add = append(add, doc(key, bodies...))
			}
			for key := range model {
				if random.IntN(6) == 0 {
					remove = append(remove, key)
				}
			}
			apply(t, x, add, remove...)
			for _, key := range remove {
				delete(model, key)
			}
			for _, d := range add {
				model[d.Key] = len(d.Passages)
			}
			if random.IntN(5) == 0 {
				x = open(t, dir)
			}
			total := 0
			for _, n := range model {
				total += n
			}
			if found := search(t, x, "shared", 1000); len(found) != total || x.Passages() != total || len(x.Keys()) != len(model) {
				t.Fatalf("seed %d, step %d: %d found, %d passages, %d keys; want %d and %d", seed, step, len(found), x.Passages(), len(x.Keys()), total, len(model))
			}
		}
	}
}

func BenchmarkPostings(b *testing.B) {
	x := large(b)
	seg := x.current.Load().segments[0]
	term := seg.find("w") // the letter in front of every made word
	sum := 0
	b.ReportAllocs()
	b.ResetTimer()
	for b.Loop() {
		seg.each(term, func(p posting) bool { sum += p.body; return true })
	}
	b.ReportMetric(float64(seg.termFrequency(term)), "postings/op")
}

func BenchmarkBuild(b *testing.B) {
	d := doc("d", strings.Repeat("The vault keeps seed of wild plants at minus twenty degrees. ", 12))
	for range 9 {
		d.Passages = append(d.Passages, d.Passages[0])
	}
	b.ReportAllocs()
	for b.Loop() {
		if _, err := build(Space{}, []Document{d}); err != nil {
			b.Fatal(err)
		}
	}
}
