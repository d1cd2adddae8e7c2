package answer

import (
	"jardinet/index"
	"jardinet/modelapi"
	"jardinet/rank"
)

// A Trace tells how an answer came about.
type Trace struct {
	Standalone string             `json:"standalone"` // the question as understood in its conversation
	Kind       string             `json:"kind"`       // of answer that was asked for
	Terms      []TracedTerm       `json:"terms"`
	Corrected  []index.Correction `json:"corrected"` // typos
	Candidates []TracedCandidate  `json:"candidates"`
	Lessons    []TracedLesson     `json:"lessons"`  // that had a say, the likest first
	Evidence   []TracedEvidence   `json:"evidence"` // the best sentences, the best first
	Signals    map[string]float64 `json:"signals"`  // that the confidence is made of
	From       float64            `json:"from"`     // confidence from which an answer is given
	Model      *TracedModel       `json:"model,omitempty"`
}

// A TracedTerm is a word looked for.
type TracedTerm struct {
	Word     string   `json:"word"`
	Passages int      `json:"passages"` // that have it
	IDF      float64  `json:"idf"`
	Weight   float64  `json:"weight"` // less than 1 if taken over from an earlier question
	Like     []string `json:"like"`   // stems that will do as well
}

// A TracedCandidate is a passage that was looked at.
type TracedCandidate struct {
	Document string        `json:"document"`
	Page     int           `json:"page"`
	Section  []string      `json:"section"`
	Score    float64       `json:"score"`
	Parts    rank.Features `json:"parts"` // what each feature added to the score
}

// A TracedLesson is one that the question is like.
type TracedLesson struct {
	Question string  `json:"question"`
	Likely   float64 `json:"likely"` // the probability that its evidence answers here too
}

// A TracedEvidence is a sentence that was weighed.
type TracedEvidence struct {
	Text      string  `json:"text"`
	Document  string  `json:"document"`
	Page      int     `json:"page"`
	Candidate int     `json:"candidate"` // from 1
	Score     float64 `json:"score"`     // how likely it is against the best
	Coverage  float64 `json:"coverage"`
	Inside    float64 `json:"inside"`
	Fits      bool    `json:"fits"` // holds the kind of thing that was asked for
	Chosen    bool    `json:"chosen"`
}

// A TracedModel is what passed between the program and an outside model.
type TracedModel struct {
	URL      string             `json:"url"`
	Model    string             `json:"model"`
	Messages []modelapi.Message `json:"messages"`
	Said     string             `json:"said"`
	Usage    modelapi.Usage     `json:"usage"`
	Cost     float64            `json:"cost"` // at the prices that are set; 0 without
	Dropped  []string           `json:"dropped"`
	Error    string             `json:"error,omitempty"`
}

// Bounds on what a trace lists.
const (
	tracedCandidates = 10
	tracedEvidence   = 12
)

// kindNames are the kinds of answers by their wants.
var kindNames = [...]string{"sentence", "quantity", "date", "person", "place", "yes or no", "steps", "reason", "list", "value"}

// trace writes down what was done for an answer.
func trace(out *Answer, q *question, s *Search, recalled *recollection, found []evidence) *Trace {
	t := &Trace{
		Standalone: q.standalone, Kind: kindNames[q.want], From: out.from, Signals: map[string]float64{},
		Terms: []TracedTerm{}, Corrected: []index.Correction{}, Candidates: []TracedCandidate{}, Lessons: []TracedLesson{}, Evidence: []TracedEvidence{},
	}
	t.Corrected = append(t.Corrected, s.Query.Corrected...)
	for _, term := range s.Query.Terms {
		traced := TracedTerm{Word: term.Word, Passages: term.Frequency, IDF: term.IDF, Weight: term.Weight, Like: []string{}}
		for _, a := range term.Expansions {
			traced.Like = append(traced.Like, a.Form)
		}
		t.Terms = append(t.Terms, traced)
	}
	for i, v := range out.Signals.Vector() {
		t.Signals[SignalNames[i]] = v
	}
	for _, c := range s.Candidates[:min(len(s.Candidates), tracedCandidates)] {
		t.Candidates = append(t.Candidates, TracedCandidate{c.Document.Name, firstPage(c), append([]string{}, c.Passage.Section...), c.Score, c.Features.Times(&s.Weights)})
	}
	for _, r := range recalled.heeded() {
		t.Lessons = append(t.Lessons, TracedLesson{r.Question, r.Likely})
	}
	for _, e := range found[:min(len(found), tracedEvidence)] {
		c := s.Candidates[e.candidate]
		t.Evidence = append(t.Evidence, TracedEvidence{
			e.text, c.Document.Name, pageOf(c, e.sentence), e.candidate + 1, better(e.score, found[0].score), e.coverage, e.features.Inside, e.fits, out.chose(e.text),
		})
	}
	return t
}

// chose tells whether a sentence is among the statements.
func (a *Answer) chose(text string) bool {
	for _, c := range a.Citations {
		if c.Quote == text {
			return true
		}
	}
	return false
}

func firstPage(c Candidate) int {
	if pages := c.Passage.Pages(); len(pages) > 0 {
		return pages[0]
	}
	return 0
}

func pageOf(c Candidate, sentence int) int {
	if marks := c.Passage.Sentences[sentence].Marks; len(marks) > 0 {
		return marks[0].Page
	}
	return firstPage(c)
}
