// Package measure tells how good the answers are: it asks every question of a
// set and compares what comes back with what was expected.
//
// Retrieval is judged by pages, since pages are what a reader checks: recall@k
// asks whether the first k passages hold a page (or all the pages) that proves
// the answer; the reciprocal rank asks how early. Answers are judged by whether
// they contain an accepted wording, citations by whether they point to a page
// that proves. What is judged is the short answer, not all that is said with it: at most
// forty words, unless steps or a list were asked for. Each figure has a 95 % interval from the bootstrap over
// questions (Efron, 1979), seeded so that the same run gives the same interval.
package measure

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"jardinet/answer"
	"jardinet/text"
)

// Outcomes of a question.
const (
	Right         = "right"    // a short answer with an accepted wording, or a refusal where one is due
	Wrong         = "wrong"    // a short answer without an accepted wording
	Refused       = "refused"  // nothing found although the documents have it
	Invented      = "invented" // an answer where the documents have none
	Unjudged      = "unjudged" // answered, and the set says nothing to accept
	depthOfMetric = 10
)

// A Record is what one question gave.
type Record struct {
	ID         string            `json:"id"`
	Question   string            `json:"question"`
	Tags       []string          `json:"tags"`
	Outcome    string            `json:"outcome"`
	Expected   string            `json:"expected"`
	Answer     string            `json:"answer"`
	State      answer.State      `json:"state"`
	Confidence float64           `json:"confidence"`
	Rank       int               `json:"rank"` // of the passage that completes the evidence, 0 if not among the first ten
	Cited      bool              `json:"cited"`
	Citations  []answer.Citation `json:"citations"`
	Proving    int               `json:"proving"` // citations on a page that proves
	Retrieved  []Retrieved       `json:"retrieved"`
	Timing     answer.Timing     `json:"timing_ms"`

	Signals answer.Signals `json:"-"` // that the confidence is made of

	question *Question
}

// Retrieved is one of the first ten passages.
type Retrieved struct {
	Document string  `json:"document"`
	Pages    []int   `json:"pages"`
	Score    float64 `json:"score"`
}

// A Figure is a mean over questions with its 95 % interval.
type Figure struct {
	Name      string  `json:"name"`
	Value     float64 `json:"value"`
	Low       float64 `json:"low"`
	High      float64 `json:"high"`
	Questions int     `json:"questions"`
}

// Subject says what was measured.
type Subject struct {
	Collection string `json:"collection"`
	Documents  int    `json:"documents"`
	Pages      int    `json:"pages"`
	Passages   int    `json:"passages"`
	Lessons    int    `json:"lessons"` // that can be heeded
	State      string `json:"state"`   // hash of the documents, the recipe and the lessons
	Recipe     any    `json:"recipe"`
}

// SetInfo names the question set that was used.
type SetInfo struct {
	Name      string `json:"name"`
	SHA256    string `json:"sha256"`
	Questions int    `json:"questions"`
}

// Stage is how long a stage took over all questions, in milliseconds.
type Stage struct {
	Name string  `json:"name"`
	P50  float64 `json:"p50"`
	P95  float64 `json:"p95"`
	P99  float64 `json:"p99"`
}

// A Measurement is one run.
type Measurement struct {
	ID      string              `json:"id"`
	Created time.Time           `json:"created"`
	Version string              `json:"version"` // of the program
	Subject Subject             `json:"subject"`
	Set     SetInfo             `json:"question_set"`
	Figures []Figure            `json:"figures"`
	ByTag   map[string][]Figure `json:"by_tag"`
	Stages  []Stage             `json:"stages_ms"`
	Records []Record            `json:"records"`
}

// Run asks every question of the set. progress, if not nil, is told how many
// are done.
func Run(ctx context.Context, answerer *answer.Answerer, set *Set, progress func(done int)) (*Measurement, error) {
	m := &Measurement{Set: SetInfo{set.Name, set.SHA256, len(set.Questions)}, ByTag: map[string][]Figure{}}
	untaught := Untaught(answerer)
	for i := range set.Questions {
		q := &set.Questions[i]
		given, err := untaught(q).Ask(ctx, q.Question, q.After)
		if err != nil {
			return nil, fmt.Errorf("measure: question %s: %w", q.ID, err)
		}
		m.Records = append(m.Records, judge(q, given))
		if progress != nil {
			progress(i + 1)
		}
	}
	m.summarise(figures)
	m.Stages = stages(m.Records)
	return m, nil
}

// summarise sums the records up, all together and by tag.
func (m *Measurement) summarise(figures func([]Record) []Figure) {
	m.Figures = figures(m.Records)
	tags := map[string][]Record{}
	for _, r := range m.Records {
		for _, tag := range r.Tags {
			tags[tag] = append(tags[tag], r)
		}
	}
	for tag, records := range tags {
		m.ByTag[tag] = figures(records)
	}
}

// Retrieval measures another way to find pages by the same figures: find
// returns the best ten places for a question.
func Retrieval(set *Set, find func(question string) ([]Retrieved, error)) (*Measurement, error) {
	m := &Measurement{Set: SetInfo{set.Name, set.SHA256, len(set.Questions)}, ByTag: map[string][]Figure{}}
	for i := range set.Questions {
		q := &set.Questions[i]
		found, err := find(q.Question)
		if err != nil {
			return nil, fmt.Errorf("measure: question %s: %w", q.ID, err)
		}
		r := Record{ID: q.ID, Question: q.Question, Tags: q.Tags, question: q, Retrieved: found[:min(depthOfMetric, len(found))]}
		r.Rank = rank(q.Evidence, r.Retrieved)
		m.Records = append(m.Records, r)
	}
	m.summarise(func(records []Record) []Figure {
		return slices.DeleteFunc(figures(records), func(f Figure) bool {
			return f.Name != Recall1 && f.Name != Recall3 && f.Name != Recall5 && f.Name != Recall10 && f.Name != MRR10 && f.Name != NDCG10
		})
	})
	return m, nil
}

// judge compares an answer with what the question expects.
func judge(q *Question, given *answer.Answer) Record {
	r := Record{
		ID: q.ID, Question: q.Question, Tags: append([]string{}, q.Tags...), Expected: q.Answer, Answer: given.Headline(),
		State: given.State, Confidence: given.Confidence, Signals: given.Signals, Citations: given.Citations, Timing: given.Timing,
		Retrieved: []Retrieved{}, question: q,
	}
	for _, c := range given.Passages[:min(depthOfMetric, len(given.Passages))] {
		r.Retrieved = append(r.Retrieved, Retrieved{c.Document.Name, c.Passage.Pages(), c.Score})
	}
	r.Rank = rank(q.Evidence, r.Retrieved)
	for _, c := range given.Citations {
		if slices.ContainsFunc(c.Boxes, func(b answer.Box) bool { return proves(q.Evidence, c.Document, b.Page) }) {
			r.Proving++
		}
	}
	r.Cited = q.Proven(given.Citations)
	r.Outcome = outcome(q, given)
	return r
}

func outcome(q *Question, given *answer.Answer) string {
	refused := given.State == answer.NotFound
	switch {
	case !q.CanBeAnswered() && refused:
		return Right
	case !q.CanBeAnswered():
		return Invented
	case refused:
		return Refused
	case len(q.Accept) == 0:
		return Unjudged
	}
	if words := given.Headline(); q.Accepts(words) && (given.List || len(given.Parts) > 0 || len(strings.Fields(words)) <= answer.MostHeadline) {
		return Right
	}
	return Wrong
}

// rank returns the place, from 1, of the first passage by which the evidence
// is complete, 0 if it never is.
func rank(evidence []Evidence, retrieved []Retrieved) int {
	best := 0
	for _, e := range evidence {
		last := 0
		for _, need := range e.pages() {
			at := slices.IndexFunc(retrieved, func(r Retrieved) bool {
				return r.Document == need.Document && slices.Contains(r.Pages, need.Page)
			})
			if at < 0 {
				last = 0
				break
			}
			last = max(last, at+1)
		}
		if last > 0 && (best == 0 || last < best) {
			best = last
		}
	}
	return best
}

// proves tells whether a page is named by any evidence.
func proves(evidence []Evidence, document string, page int) bool {
	for _, e := range evidence {
		for _, p := range e.pages() {
			if p.Document == document && p.Page == page {
				return true
			}
		}
	}
	return false
}

// Accepts tells whether an answer holds an accepted wording.
func (q *Question) Accepts(answer string) bool {
	return slices.ContainsFunc(q.Accept, func(accepted string) bool { return text.Contains(answer, accepted) })
}

// Proven tells whether citations hold all pages of some evidence.
func (q *Question) Proven(citations []answer.Citation) bool {
	for _, e := range q.Evidence {
		all := true
		for _, need := range e.pages() {
			all = all && slices.ContainsFunc(citations, func(c answer.Citation) bool {
				return c.Document == need.Document && slices.ContainsFunc(c.Boxes, func(b answer.Box) bool { return b.Page == need.Page })
			})
		}
		if all {
			return true
		}
	}
	return false
}
