package answer

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"math"
	"strings"
	"sync"
)

// Signals are what tells whether the best evidence bears an answer.
type Signals struct {
	Coverage  float64 // share of what was asked about that stands in the sentence or around it
	Inside    float64 // the square root of the share in the sentence itself
	Gap       float64 // share of the weightiest word that nothing there is like
	Literal   float64 // share of part numbers and the like that stand there
	Unfit     float64 // 1 if the wanted kind of thing is missing
	Apart     float64 // 1 if the attribute asked about is missing
	Words     float64 // the passage's BM25F by the words asked and those like them, over their IDF
	Soft      float64 // its soft match
	Window    float64 // the cosine of its best window
	Standing  float64 // its place among the passages found, 1 for the best
	Pairs     float64 // share of words side by side in the question that are so here
	Around    float64 // cosine of the sentence with those beside it
	Margin    float64 // how much likelier it is than the best evidence in another passage, of 1
	Section   float64 // share of the words asked that stand in its section path alone
	Score     float64 // its score, a tenth of it
	Likely    float64 // the probability that it is the one, among all that was weighed
	Here      float64 // the same of its passage and of what says the same elsewhere
	Exact     float64 // share of what was asked about that stands in it, its section, its title or beside it, word for word
	Missed    float64 // share of what was asked about that the documents call so, and that stands nowhere near
	Swapped   float64 // the same of what stands near by words of like meaning alone
	Misnumber float64 // part of the numbers that name something which it is not about
	Unnamed   float64 // share of what was asked about that are names that stand nowhere near
	Nobody    float64 // 1 if a person is asked for and none is said
	Lacks     float64 // 1 if the unit, the noun or the look of what is asked for is known, and missing
	Near      float64 // the same, or by words of like meaning
	Along     float64 // 1 for a follow-up, if it stands in the passage of the last answer
	Taught    float64 // how likely lessons make it, by the logarithm of the odds: 0 for no lesson, 1 for a certain one
	Few       float64 // 1 for a question of one word, a half for one of two, and so on
}

// Vector returns the signals in a fixed order, after a one; SignalNames names
// them.
func (s *Signals) Vector() []float64 {
	return []float64{1, s.Coverage, s.Inside, s.Gap, s.Literal, s.Unfit, s.Apart, s.Words, s.Soft, s.Window, s.Standing, s.Pairs, s.Around, s.Margin, s.Section, s.Score, s.Likely, s.Here, s.Few, s.Exact, s.Unnamed, s.Nobody, s.Lacks, s.Near, s.Misnumber, s.Missed, s.Swapped, s.Along, s.Taught}
}

// SignalNames are the names of Vector's numbers.
var SignalNames = []string{"base", "coverage", "inside", "gap", "literal", "unfit", "apart", "words", "soft", "window", "standing", "pairs", "around", "margin", "section", "score", "likely", "here", "few", "exact", "unnamed", "nobody", "lacks", "near", "misnumber", "missed", "swapped", "along", "taught"}

// confidence.json is written by bench/answers.
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
func (s *Signals) confidence(c *calibration) float64 {
	return math.Round(1000*logistic(ordered(SignalNames, c.Weights), s.Vector())) / 1000
}

// logistic is the probability that logistic regression gives to some values.
func logistic(weights, values []float64) float64 {
	sum := 0.0
	for i, v := range values {
		sum += weights[i] * v
	}
	return 1 / (1 + math.Exp(-sum))
}

// odds turns a probability into a number between 0 and 1 that grows with the logarithm
// of the odds, as a logistic regression has it.
func odds(p float64) float64 {
	const least = 0.01
	p = min(max(p, least), 1-least)
	return (1 + math.Log(p/(1-p))/math.Log((1-least)/least)) / 2
}

// agreeing are how many of the best are looked at for whether they say the same
// as the best does.
const agreeing = 12

// agrees tells whether two pieces of evidence say the same: nearly word for word, or
// as a short answer.
func agrees(a, b *evidence) bool {
	return a.said != "" && strings.EqualFold(a.said, b.said) || repeats([]evidence{*a}, *b)
}

// signals collects what is known of the best evidence, which comes first.
func signals(found []evidence) Signals {
	e := &found[0]
	f := &e.features
	s := Signals{
		Coverage: e.coverage, Inside: math.Sqrt(f.Inside + alike*f.Like), Gap: f.Gap, Literal: f.Literal, Unfit: f.Unfit, Apart: f.Apart,
		Words: e.passage.Words, Soft: e.passage.Coverage, Window: e.passage.Meaning, Standing: better(f.Standing, 0),
		Pairs: f.Pairs, Around: f.Around, Section: f.Section, Margin: 1, Score: e.score / 10, Few: e.few, Exact: e.exact, Unnamed: f.Unnamed, Nobody: e.nobody, Lacks: f.Lacks, Near: e.near, Misnumber: f.Misnumber, Missed: e.missed, Swapped: e.swapped, Along: f.Along, Taught: odds(e.taught),
	}
	for i := range found {
		if found[i].candidate != e.candidate && !listed(e, &found[i]) {
			s.Margin = 1 - better(found[i].score, e.score)
			break
		}
	}
	all, same := 0.0, 0.0
	for i := range found[:min(len(found), mostAlternatives)] {
		p := better(found[i].score, e.score)
		all += p
		if i == 0 || e.step && found[i].step && found[i].candidate == e.candidate || listed(e, &found[i]) {
			same += p // any item of a list brings the whole
		}
		if found[i].candidate == e.candidate || listed(e, &found[i]) || i < agreeing && agrees(e, &found[i]) {
			s.Here += p
		}
	}
	s.Likely, s.Here = same/all, s.Here/all
	return s
}
