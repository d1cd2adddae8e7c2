package rank

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"sync"
)

// Features are what is known of a passage for a question.
type Features struct {
	Words    float64 `json:"words"`    // BM25F over the most that the question's words could bring; the best passage has 1
	Meaning  float64 `json:"meaning"`  // cosine of the vectors
	Nearest  float64 `json:"nearest"`  // the same, between 0 for the farthest candidate and 1 for the nearest
	Clear    float64 `json:"clear"`    // the square of that: how clearly it is among the nearest
	Coverage float64 `json:"coverage"` // share of the words asked that stand in it or in its headings, by their rarity
	Heading  float64 `json:"heading"`  // share of them that stand in its headings
	Pairs    float64 `json:"pairs"`    // share of the words side by side in the question that are so here
	Literal  float64 `json:"literal"`  // share of the part numbers, options and the like that stand in it letter by letter
}

// Weights say how much each feature counts.
type Weights Features

// weights.json is written by bench/ranking -fit.
//
//go:embed weights.json
var fitted []byte

// DefaultWeights returns the weights that come with the program.
var DefaultWeights = sync.OnceValue(func() Weights {
	var file struct {
		Weights Weights `json:"weights"`
	}
	if err := json.Unmarshal(fitted, &file); err != nil {
		panic(fmt.Errorf("rank: weights.json: %w", err)) // the program was built wrong
	}
	return file.Weights
})

// Names are the features' names in the order of Vector.
var Names = []string{"words", "meaning", "nearest", "clear", "coverage", "heading", "pairs", "literal"}

// Vector returns the features in a fixed order.
func (f *Features) Vector() []float64 {
	return []float64{f.Words, f.Meaning, f.Nearest, f.Clear, f.Coverage, f.Heading, f.Pairs, f.Literal}
}

// Times returns what each feature adds to the score.
func (f *Features) Times(w *Weights) Features {
	return Features{
		f.Words * w.Words, f.Meaning * w.Meaning, f.Nearest * w.Nearest, f.Clear * w.Clear,
		f.Coverage * w.Coverage, f.Heading * w.Heading, f.Pairs * w.Pairs, f.Literal * w.Literal,
	}
}

func (f *Features) score(w *Weights) float64 {
	parts, sum := f.Times(w), 0.0
	for _, v := range parts.Vector() {
		sum += v
	}
	return sum
}

// scale fills in the features that compare the candidates of a question. What has no
// vector yet is taken to mean as much as its words say.
func scale(all []Candidate) {
	best, near, far := 0.0, -1.0, 1.0
	for i := range all {
		f := &all[i].Features
		best = max(best, f.Words)
		if all[i].Hit.HasVector {
			near, far = max(near, f.Meaning), min(far, f.Meaning)
		}
	}
	for i := range all {
		f := &all[i].Features
		if best > 0 {
			f.Words /= best
		}
		switch {
		case near <= far:
		case all[i].Hit.HasVector:
			f.Nearest = (f.Meaning - far) / (near - far)
		default:
			f.Nearest = f.Words
			f.Meaning = far + f.Nearest*(near-far)
		}
		f.Clear = f.Nearest * f.Nearest
	}
}
