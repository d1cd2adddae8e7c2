package main

import (
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
	var got []string
	paragraphs([]byte("<head><title>no</title></head><h1>Valves</h1><p>Close the <b>valve</b>\n first.</p><pre>x = 1</pre><ul><li>one<li>two</ul>"), func(s string) { got = append(got, s) })
	if want := []string{"Valves", "Close the valve first.", "one", "two"}; !slices.Equal(got, want) {
		t.Errorf("read %q, want %q", got, want)
	}
}

func TestProse(t *testing.T) {
	if got := prose("The pump was replaced in 2024."); strings.Join(got, " ") != "the pump was replaced in 0" {
		t.Errorf("prose is %q", got)
	}
	for _, line := range []string{"Next Previous Contents Index Modules", "x y", ""} {
		if got := prose(line); got != nil {
			t.Errorf("%q is taken for prose: %q", line, got)
		}
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
	dot := func(a, b int) (sum float32) {
		for d := range dimensions {
			sum += all[0][a*dimensions+d] * all[0][b*dimensions+d]
		}
		return sum
	}
	if dot(0, 1) <= dot(0, 2) {
		t.Errorf("a and b are alike by %.2f, a and c by %.2f", dot(0, 1), dot(0, 2))
	}
}
