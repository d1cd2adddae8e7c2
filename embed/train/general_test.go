package main

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"testing"
)

func randomRows(n, width int, seed uint64) []float32 {
	random := rand.New(rand.NewPCG(seed, 1))
	out := make([]float32, n*width)
	for i := range out {
		out[i] = random.Float32() - 0.5
	}
	return out
}

// TestFill takes rows that are a turn of others: one that is cleared comes back.
func TestFill(t *testing.T) {
	const n, width = 60, 4
	from := randomRows(n, width, 1)
	to := make([]float32, len(from))
	for i := 0; i < len(from); i += width {
		to[i], to[i+1], to[i+2], to[i+3] = from[i+1], -from[i], from[i+3], from[i+2]
	}
	want := slices.Clone(to[:width])
	clear(to[:width])
	fill(to, width, from, width)
	got := to[:width]
	normaliseRow := func(row []float32) float64 { return float64(dot(row, row)) }
	if like := float64(dot(got, want)); like*like < 0.99*normaliseRow(got)*normaliseRow(want) || like < 0 {
		t.Errorf("the lacking row became %v, want the way of %v", got, want)
	}
}

// TestJoin has words 0 and 1 alike in general vectors alone, and word 2 lack one.
func TestJoin(t *testing.T) {
	const n = 400
	own, general := randomRows(n, dimensions, 2), randomRows(n, generalWidth, 3)
	copy(general[generalWidth:2*generalWidth], general[:generalWidth])
	clear(general[2*generalWidth : 3*generalWidth])
	both := join(own, general, generalWidth)
	normalise(both)
	row := func(i int) []float32 { return both[i*dimensions : (i+1)*dimensions] }
	if near, far := dot(row(0), row(1)), dot(row(0), row(3)); near < far+0.4 {
		t.Errorf("words alike in general are alike by %.2f, strangers by %.2f", near, far)
	}
	if zero(row(2)) {
		t.Error("a word that general English lacks has no vector")
	}
	if again := join(randomRows(n, dimensions, 2), general, generalWidth); len(again) != len(both) {
		t.Errorf("it has %d numbers", len(again))
	}
}

func TestReadGeneral(t *testing.T) {
	path := filepath.Join(t.TempDir(), "general.json")
	vector := make([]float32, generalWidth+2) // what follows the numbers is not ours
	vector[0], vector[generalWidth] = 0.5, 9
	file, err := json.Marshal(map[string]any{"dimensions": 2, "words": []string{"the", "minibus", "x-1"}, "vectors": map[string]any{"minibus": vector, "zzz": vector}})
	if err != nil {
		t.Fatal(err)
	}
	write := func(data []byte) {
		if err := os.WriteFile(path, data, 0o644); err != nil {
			t.Fatal(err)
		}
	}
	write(file)
	c := &corpus{words: []string{"minibus", "pump"}, number: map[string]int32{"minibus": 0, "pump": 1}}
	rows, err := c.general(path)
	if err != nil {
		t.Fatal(err)
	}
	if len(rows) != 2*generalWidth || rows[0] != 0.5 || !zero(rows[generalWidth:]) {
		t.Errorf("read %d numbers, the first %v", len(rows), rows[:2])
	}
	for _, damaged := range []string{`{}`, `{"words":["a"]`, `{"vectors":{"minibus":[1,2]}}`, `{"vectors":{"minibus":"x"}}`} {
		write([]byte(damaged))
		if _, err := c.general(path); err == nil {
			t.Errorf("%s is taken for vectors", damaged)
		} else if fmt.Sprint(err) == "EOF" {
			t.Errorf("%s: the error says only %v", damaged, err)
		}
	}
}
