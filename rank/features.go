package rank

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"math"
	"sync"
)

// Features are what is known of a candidate. All but the first and the last are
// standard scores: how many standard deviations above the mean of all candidates.
type Features struct {
	Words  float64 `json:"words"`  // BM25F by the words asked, over the sum of their IDF
	Wide   float64 `json:"wide"`   // the same with words of like meaning
	Soft   float64 `json:"soft"`   // best window's share of the words asked, or like them
	Window float64 `json:"window"` // best window's cosine
	Near   float64 `json:"near"`   // the passage's cosine
	// Literal is the share of the question's literals that it holds; as it is.
	Literal float64 `json:"literal"`
}

// Weights say how much each feature counts.
type Weights = Features

// weights.json is written by bench/fit.
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

// Vector returns the features in a fixed order; Names names them.
func (f *Features) Vector() []float64 {
	return []float64{f.Words, f.Wide, f.Soft, f.Window, f.Near, f.Literal}
}

// Names are the features' names in the order of Vector.
var Names = []string{"words", "wide", "soft", "window", "near", "literal"}

// Times returns the features each times its weight.
func (f *Features) Times(w *Weights) Features {
	return Features{w.Words * f.Words, w.Wide * f.Wide, w.Soft * f.Soft, w.Window * f.Window, w.Near * f.Near, w.Literal * f.Literal}
}

func score(w, f *Features) float64 {
	return w.Words*f.Words + w.Wide*f.Wide + w.Soft*f.Soft + w.Window*f.Window + w.Near*f.Near + w.Literal*f.Literal
}

// standardise turns features into standard scores.
func standardise(candidates []Candidate) {
	for _, feature := range []func(*Features) *float64{
		func(f *Features) *float64 { return &f.Wide },
		func(f *Features) *float64 { return &f.Soft },
		func(f *Features) *float64 { return &f.Window },
		func(f *Features) *float64 { return &f.Near },
	} {
		sum, squares := 0.0, 0.0
		for i := range candidates {
			v := *feature(&candidates[i].Features)
			sum, squares = sum+v, squares+v*v
		}
		n := math.Max(1, float64(len(candidates)))
		mean := sum / n
		deviation := math.Sqrt(math.Max(squares/n-mean*mean, 0))
		for i := range candidates {
			v := feature(&candidates[i].Features)
			*v -= mean
			if deviation > 1e-6 {
				*v /= deviation
			}
		}
	}
}
