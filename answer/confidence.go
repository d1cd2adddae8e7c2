package answer

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strings"
	"sync"

	"jardinet/passage"
	"jardinet/text"
)

// Signals are what tells whether the best finding is right.
type Signals struct {
	Relevance float64 `json:"relevance"` // a tenth of the reader's logit
	Share     float64 `json:"share"`     // what the reader gives it among all passages and "none of these"
	Agreement float64 `json:"agreement"` // share of the next passages in which the same words answer
	Margin    float64 `json:"margin"`    // by how much its score is above the next passage's, a tenth of it, at most 1
	Evidence  float64 `json:"evidence"`  // probability that its sentences are those that prove
	Span      float64 `json:"span"`      // probability of the words that answer
	Meaning   float64 `json:"meaning"`   // cosine of the question's vector and the passage's
	Standing  float64 `json:"standing"`  // where retrieval has it, from the last to the first
	Likeness  float64 `json:"likeness"`  // the same of the question and the run of sentences that is given
	Coverage  float64 `json:"coverage"`  // share of the words asked that stand in the passage or its headings, by their rarity
	Covered   float64 `json:"covered"`   // the same of the run of sentences and the headings
	Pairs     float64 `json:"pairs"`     // share of the words side by side in the question that are so there
	Unsaid    float64 `json:"unsaid"`    // share of the question's numbers that stand nowhere near
	Unknown   float64 `json:"unknown"`   // share of the words asked that no document has
	Foreign   float64 `json:"foreign"`   // 1 where the trained reader did not read
}

// Vector returns the signals in the order of SignalNames.
func (s *Signals) Vector() []float64 {
	return []float64{1, s.Relevance, s.Share, s.Agreement, s.Margin, s.Evidence, s.Span, s.Meaning, s.Likeness, s.Standing, s.Coverage, s.Covered, s.Pairs, s.Unsaid, s.Unknown, s.Foreign}
}

// SignalNames are the names of Vector's numbers; the first is always 1.
var SignalNames = []string{"base", "relevance", "share", "agreement", "margin", "evidence", "span", "meaning", "likeness", "standing", "coverage", "covered", "pairs", "unsaid", "unknown", "foreign"}

// confidence.json is written by bench/confidence.
//
//go:embed confidence.json
var fittedConfidence []byte

// A calibration maps signals to the probability that an answer is right (logistic
// regression; Platt 1999).
type calibration struct {
	Weights map[string]float64 `json:"weights"`
	From    float64            `json:"answer_from"` // probability from which an answer is given
	Maybe   float64            `json:"maybe_from"`  // and from which the nearest passage is said to be one perhaps
	Words   float64            `json:"words_from"`  // probability of a span from which it is the short answer
}

var calibrated = sync.OnceValue(func() *calibration {
	c := new(calibration)
	if err := json.Unmarshal(fittedConfidence, c); err != nil {
		panic(fmt.Errorf("answer: confidence.json: %w", err)) // the program was built wrong
	}
	return c
})

// confidence is the probability that a finding with such signals is right.
func (s *Signals) confidence(c *calibration) float64 {
	sum := 0.0
	for i, v := range s.Vector() {
		sum += c.Weights[SignalNames[i]] * v
	}
	return math.Round(1000/(1+math.Exp(-sum))) / 1000
}

// signals collects what is known of the best of some findings.
func signals(s *Search, found []finding) Signals {
	f := &found[0]
	c := &s.Candidates[f.candidate]
	out := Signals{
		Relevance: f.reading.Relevance / 10, Margin: 1, Span: f.sure, Unsaid: f.missing,
		Meaning: c.Features.Meaning, Coverage: c.Features.Coverage, Pairs: c.Features.Pairs, Standing: standing(s.Candidates, f.candidate),
	}
	if len(found) > 1 {
		out.Margin = min(1, (f.score-found[1].score)/10)
	}
	out.Share, out.Agreement = share(found), agreement(s, found)
	for i := f.first; i <= f.last; i++ {
		out.Evidence += f.reading.Evidence[i]
	}
	if terms := len(s.Query.Terms); terms > 0 {
		out.Unknown = float64(len(s.unknown())) / float64(terms)
	}
	if !f.reading.Trained() {
		out.Foreign = 1
	}
	out.Likeness = f.likeness
	out.Covered = covered(s, f)
	return out
}

// share is the probability of the best finding's passage among all that were read and
// none of them, whose relevance is 0.
func share(found []finding) float64 {
	sum := 1.0
	for _, f := range found {
		sum += math.Exp(f.reading.Relevance)
	}
	return math.Exp(found[0].reading.Relevance) / sum
}

// agreeing is how many passages after the best are looked at for the same answer.
const agreeing = 3

// agreement is the share of them whose words that answer are those of the best, or within
// these, or around them.
func agreement(s *Search, found []finding) float64 {
	words := func(f *finding) string {
		return text.Normal(s.Candidates[f.candidate].Passage.Text[f.from:f.to])
	}
	best := words(&found[0])
	if best == "" {
		return 0
	}
	same := 0.0
	for i := range found[1:min(len(found), 1+agreeing)] {
		if other := words(&found[1+i]); other != "" && (strings.Contains(other, best) || strings.Contains(best, other)) {
			same++
		}
	}
	return same / agreeing
}

// covered is the share of the words asked that stand in a run of sentences, or in what
// they stand under, by their rarity.
func covered(s *Search, f *finding) float64 {
	c := &s.Candidates[f.candidate]
	there := forms(heading(c)+"\n"+said(c.Passage, f), text.NewStemmer(c.Passage.Language))
	held, all := 0.0, 0.0
	for _, t := range s.Query.Terms {
		all += t.IDF * t.Weight
		if there[t.Word] || slices.ContainsFunc(t.Forms, func(form string) bool { return there[form] }) {
			held += t.IDF * t.Weight
		}
	}
	if all == 0 {
		return 0
	}
	return held / all
}

// said is the run of sentences of a finding.
func said(p *passage.Passage, f *finding) string {
	return p.Text[p.Sentences[f.first].Start:p.Sentences[f.last].End]
}

// Threshold is the confidence from which an answer is given unless a style says otherwise.
func Threshold() float64 { return calibrated().From }
