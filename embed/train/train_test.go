package main

import (
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
)

func TestParseSynset(t *testing.T) {
	s := parseSynset("noun", "00001740 03 n 02 furnace 0 kiln 1 002 @ 00001930 n 0000 + 00002137 v 0101 | an enclosed chamber in which heat is made\n")
	if s == nil || !slices.Equal(s.words, []string{"furnace", "kiln"}) || s.gloss != "an enclosed chamber in which heat is made" {
		t.Fatalf("read %+v", s)
	}
	if want := []relation{{"@", "noun00001930"}, {"+", "verb00002137"}}; !slices.Equal(s.related, want) {
		t.Errorf("it is related to %v", s.related)
	}
	if parseSynset("noun", "  1 This software and database is being provided") != nil {
		t.Error("the licence is taken for a synset")
	}
}

func TestParagraphs(t *testing.T) {
	var got []block
	page := `<head><title>no</title></head><h1>Valves</h1><p id="p7">Close the <b>valve</b>
 first.</p><pre>x = 1</pre><ul><li>one<li>two</ul>`
	paragraphs([]byte(page), func(b block) { got = append(got, b) })
	want := []block{{heading: true, text: "Valves"}, {id: "p7", text: "Close the valve first."}, {text: "one"}, {text: "two"}}
	if !slices.Equal(got, want) {
		t.Errorf("read %+v, want %+v", got, want)
	}
}

func TestTokens(t *testing.T) {
	if got := tokens(block{text: "The pump was replaced in 2024."}, "en"); strings.Join(got.words, " ") != "the pump was replaced in 0" || !got.prose {
		t.Errorf("read %+v", got)
	}
	if got := tokens(block{text: "Die Pumpe wurde 2024 ersetzt."}, "de"); strings.Join(got.words, " ") != "de:die de:pumpe de:wurde 0 de:ersetzt" {
		t.Errorf("read %+v", got)
	}
	for _, line := range []string{"Next Previous Contents Index Modules", "x y", ""} {
		if got := tokens(block{text: line}, "en"); got.prose {
			t.Errorf("%q is taken for prose: %q", line, got.words)
		}
	}
}

func TestPairs(t *testing.T) {
	english, german := &source{Package: "x-help-en", Language: "en", times: 1}, &source{Package: "x-help-de", Language: "de", times: 1}
	numbers := func(from, n int) (out []int32) {
		for i := range n {
			out = append(out, int32(from+i))
		}
		return out
	}
	c := &corpus{documents: []document{
		{english, []line{{heading: true, ids: numbers(0, 2)}, {prose: true, id: "p1", ids: numbers(2, 30)}, {prose: true, ids: numbers(40, 8)}}},
		{german, []line{{prose: true, id: "p1", ids: numbers(100, 5)}}},
	}}
	pairs := c.pairs([][]int32{{7, 8, 9}})
	has := func(a, b []int32) bool {
		return slices.ContainsFunc(pairs, func(p pair) bool { return slices.Equal(p.a, a) && slices.Equal(p.b, b) })
	}
	if !has(numbers(0, 2), append(numbers(2, 30), numbers(40, 8)...)) {
		t.Error("a heading is not set beside its section")
	}
	if !has(numbers(100, 5), numbers(2, 30)) {
		t.Error("a paragraph is not set beside its translation")
	}
	for _, p := range pairs {
		if len(p.a) == 0 || len(p.b) == 0 {
			t.Errorf("an empty side: %v", p)
		}
	}
}

// TestTune sets words 2i and 2i+1 side by side: they have to come near each
// other, and no nearer to the rest.
func TestTune(t *testing.T) {
	const words = 2 * batch
	vectors := make([]float32, words*dimensions)
	random := rand.New(rand.NewPCG(3, 3))
	for i := range vectors {
		vectors[i] = random.Float32() - 0.5
	}
	var pairs []pair
	for range 4 {
		for i := range int32(batch) {
			pairs = append(pairs, pair{[]int32{2 * i}, []int32{2*i + 1}})
		}
	}
	again := slices.Clone(vectors)
	like := func(a, b int) float32 {
		x, y := vectors[a*dimensions:(a+1)*dimensions], vectors[b*dimensions:(b+1)*dimensions]
		return dot(x, y) / float32(math.Sqrt(float64(dot(x, x)*dot(y, y))))
	}
	before := like(0, 1)
	tune(vectors, pairs, func(float64) {})
	tune(again, pairs, func(float64) {})
	if !slices.Equal(vectors, again) {
		t.Error("the same pairs give two sets of vectors")
	}
	if like(0, 1) < before+0.05 || like(0, 1) <= like(0, 3) {
		t.Errorf("a pair is alike by %.2f, before %.2f; strangers by %.2f", like(0, 1), before, like(0, 3))
	}
}

// text2 is a text in which a and b stand in the same places, and c elsewhere.
func text2() (ids []int32, counts []int) {
	counts = make([]int, 8)
	for i := range 300_000 { // most are left out by subsampling, the words being so frequent
		line := []int32{int32(i % 2), 3, 4, -1}
		if i%3 == 0 {
			line = []int32{2, 5, 6, 7, -1}
		}
		ids = append(ids, line...)
		for _, id := range line {
			if id >= 0 {
				counts[id]++
			}
		}
	}
	return ids, counts
}

func TestWordsInTheSamePlacesComeNear(t *testing.T) {
	ids, counts := text2()
	var all [2][]float32
	for i := range all {
		tr := newTrainer(counts)
		tr.train(ids, func(float64) {})
		normalise(tr.in)
		all[i] = tr.in
	}
	if !slices.Equal(all[0], all[1]) {
		t.Error("the same text gives two sets of vectors")
	}
	row := func(i int) []float32 { return all[0][i*dimensions : (i+1)*dimensions] }
	if near, far := dot(row(0), row(1)), dot(row(0), row(2)); near <= far {
		t.Errorf("a and b are alike by %.2f, a and c by %.2f", near, far)
	}
}
