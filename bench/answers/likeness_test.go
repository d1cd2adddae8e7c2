package main

import (
	"encoding/json"
	"math"
	"os"
	"path/filepath"
	"testing"
)

func TestMoreIsFittedBesideWhatIsGiven(t *testing.T) {
	questions := made(60)
	for i := range questions {
		for k := range questions[i].all {
			if questions[i].right[k] {
				questions[i].all[k].Features.Taught = 1
			}
		}
	}
	given := fitEvidence(made(60), everything, 0.003)
	w := fitMore(questions, given, ofLessons, 0.003)
	if w[at("taught")] < 1 || w[at("told")] != 0 {
		t.Errorf("taught %.2f, told %.2f", w[at("taught")], w[at("told")])
	}
	for k, name := range everything {
		if name != "taught" && w[k] != given[k] {
			t.Errorf("%s went from %.2f to %.2f", name, given[k], w[k])
		}
	}
}

// TestTaughtFromWeighsInventions has right answers from a confidence of .5 on, and below
// it either wrong ones or invented ones, which cost more.
func TestTaughtFromWeighsInventions(t *testing.T) {
	at := func(p float64, right, answerable bool) sample {
		return sample{"lookup", []float64{math.Log(p / (1 - p))}, right, answerable}
	}
	questions := []question{{answerable: true}, {answerable: true}, {answerable: true}, {}}
	mixed := []sample{at(0.9, true, true), at(0.8, true, true), at(0.6, true, true), at(0.4, false, true), at(0.3, true, true)}
	if from := taughtFrom(mixed, []float64{1}, questions); from > 0.3 {
		t.Errorf("a wrong one, which costs a half, for a right one: answered from %.2f on", from)
	}
	mixed[3].answerable = false
	mixed[4].right = false
	if from := taughtFrom(mixed, []float64{1}, questions); from <= 0.4 || from > 0.6 {
		t.Errorf("with an invention below the right ones it is answered from %.2f on", from)
	}
	if from := taughtFrom(mixed[3:], []float64{1}, questions); from != 1 {
		t.Errorf("where nothing is right it is answered from %.2f on", from)
	}
}

func TestSchoolingIsReplacedPartByPart(t *testing.T) {
	t.Chdir(t.TempDir())
	if err := os.Mkdir("answer", 0o755); err != nil {
		t.Fatal(err)
	}
	path := filepath.Join("answer", "lessons.json")
	if err := os.WriteFile(path, []byte(`{"likeness": {"asked": 1}, "evidence": {"taught": 2}}`), 0o644); err != nil {
		t.Fatal(err)
	}
	if err := writeSchooling("evidence", map[string]float64{"taught": 3}); err != nil {
		t.Fatal(err)
	}
	var got map[string]map[string]float64
	data, _ := os.ReadFile(path)
	if err := json.Unmarshal(data, &got); err != nil || got["likeness"]["asked"] != 1 || got["evidence"]["taught"] != 3 {
		t.Errorf("it holds %s, error %v", data, err)
	}
	if named := byName([]string{"a", "b"}, []float64{0.12345, -2}); named["a"] != 0.123 || named["b"] != -2 {
		t.Errorf("named %v", named)
	}
}
