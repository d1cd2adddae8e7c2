package answer

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"math"
	"sync"
)

// Signals are what tells whether the best evidence bears an answer.
type Signals struct {
	Coverage float64 // share of what was asked about that stands in the sentence or around it
	Inside   float64 // the square root of the share in the sentence itself
	Gap      float64 // share of the weightiest word that nothing there is like
	Literal  float64 // share of part numbers and the like that stand there
	Unfit    float64 // 1 if the wanted kind of thing is missing
	Apart    float64 // 1 if the attribute asked about is missing
	Words    float64 // the passage's BM25F by the words asked and those like them, over their IDF
	Soft     float64 // its soft match
	Window   float64 // the cosine of its best window
	Standing float64 // its place among the passages found, 1 for the best
}

// Vector returns the signals in a fixed order, after a one; SignalNames names
// them.
func (s *Signals) Vector() []float64 {
	return []float64{1, s.Coverage, s.Inside, s.Gap, s.Literal, s.Unfit, s.Apart, s.Words, s.Soft, s.Window, s.Standing}
}

// SignalNames are the names of Vector's numbers.
var SignalNames = []string{"base", "coverage", "inside", "gap", "literal", "unfit", "apart", "words", "soft", "window", "standing"}

// confidence.json is written by bench/confidence.
//
//go:embed confidence.json
var fittedConfidence []byte

// A calibration maps signals to the probability that an answer is right.
type calibration struct {
	Weights map[string]float64 `json:"weights"`
	From    float64            `json:"answer_from"` // probability from which an answer is given
	Whole   float64            `json:"whole_from"`  // and from which nothing is said to be open
}

var calibrated = sync.OnceValue(func() *calibration {
	c := new(calibration)
	if err := json.Unmarshal(fittedConfidence, c); err != nil {
		panic(fmt.Errorf("answer: confidence.json: %w", err)) // the program was built wrong
	}
	return c
})

// confidence is the probability that an answer from this evidence is right
// (logistic regression).
func (s *Signals) confidence() float64 {
	sum := 0.0
	for i, v := range s.Vector() {
		sum += calibrated().Weights[SignalNames[i]] * v
	}
	return math.Round(1000/(1+math.Exp(-sum))) / 1000
}

// signals collects what is known of the best evidence.
func signals(q *question, e evidence, c Candidate) Signals {
	s := Signals{
		Coverage: e.coverage, Inside: math.Sqrt(e.inside), Gap: e.gap, Literal: e.literal,
		Words: c.Raw.Wide, Soft: c.Raw.Soft, Window: c.Raw.Window, Standing: e.standing,
	}
	if !e.fits && (q.want == wantQuantity || q.want == wantDate || q.want == wantPerson) {
		s.Unfit = 1
	}
	// A quantity of the right dimension needs no name: 14 °C is a temperature.
	if e.apart && !(e.fits && q.want == wantQuantity && q.units != nil) {
		s.Apart = 1
	}
	return s
}
