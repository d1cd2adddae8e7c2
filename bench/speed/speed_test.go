package main

import (
	"encoding/json"
	"image/png"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"
)

// books puts made-up manuals where the corpus looks for sentences.
func books(t *testing.T) {
	t.Helper()
	t.Chdir(t.TempDir())
	if err := os.MkdirAll(cache, 0o755); err != nil {
		t.Fatal(err)
	}
	var all [][]string
	for _, subject := range []string{"palms", "ferns"} {
		var book []string
		for range 200 {
			book = append(book, "The "+subject+" in the glasshouse are watered every morning before the visitors arrive at the gate.")
		}
		all = append(all, book)
	}
	data, err := json.Marshal(all)
	if err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(filepath.Join(cache, "sentences.json"), data, 0o644); err != nil {
		t.Fatal(err)
	}
}

func passages(t *testing.T, n int) []made {
	t.Helper()
	var out []made
	err := corpus(n, func(i int, p made) error {
		if i != len(out) {
			t.Errorf("passage %d comes as number %d", i, len(out))
		}
		out = append(out, p)
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
	return out
}

func TestCorpusIsTheSameEveryTime(t *testing.T) {
	books(t)
	first, second := passages(t, 50), passages(t, 50)
	for i := range first {
		if first[i] != second[i] {
			t.Fatalf("passage %d differs", i)
		}
		if n := len(strings.Fields(first[i].Body)); n < passageWords || n > passageWords+40 {
			t.Errorf("passage %d has %d words", i, n)
		}
	}
}

func TestQueriesComeFromTheirPassages(t *testing.T) {
	books(t)
	all := passages(t, 80)
	asked, err := queries(80, 20)
	if err != nil || len(asked) != 20 {
		t.Fatalf("%d queries, error %v", len(asked), err)
	}
	for _, q := range asked {
		body := strings.ToLower(all[q.Target].Body)
		for _, word := range strings.Fields(q.Words) {
			if !strings.Contains(body, word) {
				t.Errorf("%q is not in passage %d", word, q.Target)
			}
		}
	}
}

func TestSearchOurs(t *testing.T) {
	books(t)
	dir := filepath.Join(cache, "search", "40")
	if _, err := buildOurs(dir, 40); err != nil {
		t.Fatal(err)
	}
	asked, err := queries(40, 10)
	if err != nil {
		t.Fatal(err)
	}
	data, err := json.Marshal(asked)
	if err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(filepath.Join(dir, "queries.json"), data, 0o644); err != nil {
		t.Fatal(err)
	}
	got := searchOurs(dir)
	if got.P50 <= 0 || got.P99 < got.P50 || got.Memory <= 0 || got.Recall < 0 || got.Recall > 1 {
		t.Errorf("measured %+v", got)
	}
}

func TestPercentiles(t *testing.T) {
	var times []time.Duration
	for i := range 100 {
		times = append(times, time.Duration(100-i)*time.Millisecond)
	}
	var s search
	s.record(times, 50, 25)
	if s.P50 != 76 || s.P99 != 100 || s.Recall != 0.5 || s.Asked50 != 26 || s.Asked99 != 50 {
		t.Errorf("recorded %+v", s)
	}
}

func TestDrawGrowth(t *testing.T) {
	path := filepath.Join(t.TempDir(), "growth.png")
	points := []grown{{20_000, 1, 100}, {40_000, 2.1, 150}, {60_000, 3.3, 180}}
	if err := drawGrowth(points, path); err != nil {
		t.Fatal(err)
	}
	f, err := os.Open(path)
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	if img, err := png.DecodeConfig(f); err != nil || img.Width < 1000 || img.Height < 600 {
		t.Errorf("drawn is %+v, error %v", img, err)
	}
}

func TestMemoryOfThisProcess(t *testing.T) {
	if m := peakMemory(os.Getpid()); m < 1 || m > 100_000 {
		t.Errorf("this process has had %g MiB", m)
	}
	if got := children(os.Getpid()); len(got) > 0 {
		t.Logf("children are %v", got)
	}
}
