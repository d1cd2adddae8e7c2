package answer

import (
	"jardinet/index"
	"jardinet/modelapi"
	"jardinet/rank"
)

// A Trace tells how an answer came about.
type Trace struct {
	Standalone string             `json:"standalone"` // the question as it was read
	Terms      []TracedTerm       `json:"terms"`
	Corrected  []index.Correction `json:"corrected"`  // typos
	Candidates []TracedCandidate  `json:"candidates"` // in the order of retrieval
	Lessons    []TracedLesson     `json:"lessons"`    // that mean the same, the likest first
	Findings   []TracedFinding    `json:"findings"`   // what was read in them, the best first
	Signals    map[string]float64 `json:"signals"`    // that the confidence is made of
	From       float64            `json:"from"`       // confidence from which an answer is given
	Model      *TracedModel       `json:"model,omitempty"`
	Request    string             `json:"request,omitempty"` // id of the request, by which its line in the log is found
}

// A TracedTerm is a word looked for.
type TracedTerm struct {
	Word     string   `json:"word"`
	Passages int      `json:"passages"` // that have it
	IDF      float64  `json:"idf"`
	Weight   float64  `json:"weight"`
	Like     []string `json:"like"` // stems that will do as well
}

// A TracedCandidate is a passage that was read.
type TracedCandidate struct {
	Document string        `json:"document"`
	Page     int           `json:"page"`
	Section  []string      `json:"section"`
	Score    float64       `json:"score"`
	Parts    rank.Features `json:"parts"` // what each feature added to the score
}

// A TracedLesson is one that means what was asked.
type TracedLesson struct {
	Question string  `json:"question"`
	Alike    float64 `json:"alike"` // cosine
}

// A TracedFinding is what the reader found in a passage.
type TracedFinding struct {
	Text      string  `json:"text"`  // the sentence that proves
	Words     string  `json:"words"` // in it, that answer
	Document  string  `json:"document"`
	Page      int     `json:"page"`
	Candidate int     `json:"candidate"` // from 1
	Score     float64 `json:"score"`     // by which findings are ordered
	Relevance float64 `json:"relevance"` // the reader's, a logit against "none answers"
	Evidence  float64 `json:"evidence"`  // probability that this sentence proves
	Sure      float64 `json:"sure"`      // probability of the words
	Older     bool    `json:"older"`     // a newer edition replaces it
	Missing   float64 `json:"missing"`   // share of the question's numbers that it lacks
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

// trace writes down what was done for an answer.
func trace(t *attempt) *Trace {
	out := &Trace{
		Standalone: t.question, From: calibrated().From, Signals: map[string]float64{},
		Terms: []TracedTerm{}, Corrected: []index.Correction{}, Candidates: []TracedCandidate{}, Lessons: []TracedLesson{}, Findings: []TracedFinding{},
	}
	out.Corrected = append(out.Corrected, t.search.Query.Corrected...)
	for _, term := range t.search.Query.Terms {
		traced := TracedTerm{Word: term.Word, Passages: term.Frequency, IDF: term.IDF, Weight: term.Weight, Like: []string{}}
		for _, a := range term.Expansions {
			traced.Like = append(traced.Like, a.Form)
		}
		out.Terms = append(out.Terms, traced)
	}
	for i, v := range t.out.Signals.Vector() {
		out.Signals[SignalNames[i]] = v
	}
	for i := range t.search.Candidates {
		c := &t.search.Candidates[i]
		at := TracedCandidate{Document: c.Document.Name, Section: append([]string{}, c.Passage.Section...), Score: c.Score, Parts: c.Features.Times(&t.search.Weights)}
		if pages := c.Passage.Pages(); len(pages) > 0 {
			at.Page = pages[0]
		}
		out.Candidates = append(out.Candidates, at)
	}
	for _, r := range t.recalled {
		out.Lessons = append(out.Lessons, TracedLesson{r.lesson.asked(), r.alike})
	}
	for _, f := range t.found {
		c := &t.search.Candidates[f.candidate]
		at := citation(c, f.best)
		out.Findings = append(out.Findings, TracedFinding{
			Text: at.Quote, Words: c.Passage.Text[f.from:f.to], Document: c.Document.Name, Page: at.Page, Candidate: f.candidate + 1,
			Score: f.score, Relevance: f.reading.Relevance, Evidence: f.reading.Evidence[f.best], Sure: f.sure, Older: f.older, Missing: f.missing,
		})
	}
	return out
}
