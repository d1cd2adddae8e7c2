// Package measure tells how good the answers are: it asks every question of a
// set and compares what comes back with what was expected.
//
// Retrieval is judged by pages, since pages are what a reader checks: recall@k
// asks whether the first k passages hold a page (or all the pages) that proves
// the answer; the reciprocal rank asks how early. Answers are judged by whether
// they contain an accepted wording, citations by whether they point to a page
// that proves. What is judged is the short answer, not all that is said with it: at most
// forty words, unless steps or a list were asked for. Each figure has a 95 % interval from the
// bootstrap (Efron, 1979) over documents and their questions, seeded so that the same run gives the
// same interval. Each question that came out wrong is followed from its page to the answer, and
// the place where it was lost is its cause.
package measure

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"sync"
	"time"

	"golang.org/x/sync/errgroup"

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
	Cause      Cause             `json:"cause,omitempty"` // where it was lost, if it came out wrong
	Answerable bool              `json:"answerable"`
	Judged     bool              `json:"judged"` // the set says what to accept
	Evidence   []Evidence        `json:"evidence"`
	Rank       int               `json:"rank"` // of the passage that completes the evidence, 0 if not among the first ten
	Cited      bool              `json:"cited"`
	Citations  []answer.Citation `json:"citations"`
	Proving    int               `json:"proving"` // citations on a page that proves
	Retrieved  []Retrieved       `json:"retrieved"`
	Timing     answer.Timing     `json:"timing_ms"`

	Signals answer.Signals `json:"-"` // that the confidence is made of
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
	Collection string  `json:"collection"`
	Documents  int     `json:"documents"`
	Pages      int     `json:"pages"`
	Passages   int     `json:"passages"`
	Lessons    int     `json:"lessons"` // that can be heeded
	State      string  `json:"state"`   // hash of the documents, the set-up and the lessons
	Setup      string  `json:"setup"`   // "live", or the name of a trial
	Recipe     any     `json:"recipe"`
	Certain    float64 `json:"certain"` // confidence from which answers were given; 0 for the fitted one
	Reads      int     `json:"reads"`   // passages that were read for an answer; 0 for twelve
}

// SetInfo names the question set that was used.
type SetInfo struct {
	Name      string `json:"name"`
	Version   int    `json:"version,omitempty"` // of a kept set
	Part      string `json:"part,omitempty"`    // of it, if not all was measured
	SHA256    string `json:"sha256"`
	Questions int    `json:"questions"`
}

func (set *Set) info() SetInfo {
	return SetInfo{Name: set.Name, Version: set.Version, Part: set.Part, SHA256: set.SHA256, Questions: len(set.Questions)}
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
	Version string              `json:"version"`          // of the program
	Judged  bool                `json:"judged,omitempty"` // by people
	Subject Subject             `json:"subject"`
	Set     SetInfo             `json:"question_set"`
	Figures []Figure            `json:"figures"`
	ByTag   map[string][]Figure `json:"by_tag"`
	// ByDocument are the figures of the questions about each document.
	ByDocument  map[string][]Figure `json:"by_document"`
	Causes      map[Cause]int       `json:"causes"` // how many questions were lost where
	Calibration *Calibration        `json:"calibration,omitempty"`
	Stages      []Stage             `json:"stages_ms"`
	Records     []Record            `json:"records"`
}

// A Run is how a set is to be measured.
type Run struct {
	Answerer *answer.Answerer
	Set      *Set
	Read     Reader         // what was read from pages; nil leaves the causes out
	AtOnce   int            // questions that are asked at a time; 0 for one, whose time is that of a lone asker
	Progress func(done int) // nil for nobody; called by one goroutine at a time
}

// Measure asks every question of the set.
func (run *Run) Measure(ctx context.Context) (*Measurement, error) {
	m := &Measurement{Set: run.Set.info(), Records: make([]Record, len(run.Set.Questions))}
	untaught := Untaught(run.Answerer)
	keys := keysOf(run.Answerer.Index, run.Answerer.Document)
	var mu sync.Mutex
	done := 0
	group, ctx := errgroup.WithContext(ctx)
	group.SetLimit(max(1, run.AtOnce))
	for i := range run.Set.Questions {
		group.Go(func() error {
			if ctx.Err() != nil {
				return ctx.Err()
			}
			r, err := run.one(ctx, untaught, keys, &run.Set.Questions[i])
			if err != nil {
				return fmt.Errorf("measure: question %s: %w", run.Set.Questions[i].ID, err)
			}
			m.Records[i] = *r
			mu.Lock()
			defer mu.Unlock()
			if done++; run.Progress != nil {
				run.Progress(done)
			}
			return nil
		})
	}
	if err := group.Wait(); err != nil {
		return nil, err
	}
	m.Summarise()
	m.Stages = stages(m.Records)
	return m, nil
}

// one asks one question, judges what comes back and finds out why it is wrong.
func (run *Run) one(ctx context.Context, untaught func(*Question) *answer.Answerer, keys map[string]string, q *Question) (*Record, error) {
	answerer := untaught(q)
	given, err := answerer.Ask(ctx, q.Question, q.After)
	if err != nil {
		return nil, err
	}
	r := judge(q, given)
	if run.Read != nil {
		d := diagnosis{answerer: answerer, read: run.Read, keys: keys, q: q, given: given}
		r.Cause, err = d.cause(ctx, &r)
	}
	return &r, err
}

// Summarise sums the records up, all together and by tag; again after they have changed.
func (m *Measurement) Summarise() {
	m.summarise(kinds)
	m.Calibration = calibrationOf(m.Records)
	m.Causes = map[Cause]int{}
	for _, r := range m.Records {
		if r.Cause != "" {
			m.Causes[r.Cause]++
		}
	}
}

// summarise computes some figures, all together, by tag and by document.
func (m *Measurement) summarise(kinds []kind) {
	m.Figures = figures(kinds, m.Records)
	tags, documents := map[string][]Record{}, map[string][]Record{}
	for _, r := range m.Records {
		for _, tag := range r.Tags {
			tags[tag] = append(tags[tag], r)
		}
		if d := r.document(); d != "" {
			documents[d] = append(documents[d], r)
		}
	}
	by := func(groups map[string][]Record) map[string][]Figure {
		out := map[string][]Figure{}
		for name, records := range groups {
			out[name] = figures(kinds, records)
		}
		return out
	}
	m.ByTag, m.ByDocument = by(tags), by(documents)
}

// Retrieval measures another way to find pages by the same figures: find
// returns the places found for a question, the best first.
func Retrieval(set *Set, find func(q *Question) ([]Retrieved, error)) (*Measurement, error) {
	m := &Measurement{Set: set.info()}
	for i := range set.Questions {
		q := &set.Questions[i]
		found, err := find(q)
		if err != nil {
			return nil, fmt.Errorf("measure: question %s: %w", q.ID, err)
		}
		r := Record{ID: q.ID, Question: q.Question, Tags: q.Tags, Answerable: q.CanBeAnswered(), Evidence: q.Evidence, Retrieved: found[:min(depthOfMetric, len(found))]}
		r.Rank = rank(q.Evidence, r.Retrieved)
		m.Records = append(m.Records, r)
	}
	m.summarise(retrieval)
	return m, nil
}

// judge compares an answer with what the question expects.
func judge(q *Question, given *answer.Answer) Record {
	r := Record{
		ID: q.ID, Question: q.Question, Tags: append([]string{}, q.Tags...), Expected: q.Answer, Answer: given.Headline(),
		State: given.State, Confidence: given.Confidence, Signals: given.Signals, Citations: given.Citations, Timing: given.Timing,
		Retrieved: []Retrieved{}, Answerable: q.CanBeAnswered(), Judged: len(q.Accept) > 0, Evidence: append([]Evidence{}, q.Evidence...),
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
