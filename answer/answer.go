// Package answer finds, in passages, the sentences that answer a question, and
// says so when none do.
//
// It invents nothing: every statement is a sentence, list item or table row of
// a document, word for word, with the page and the boxes that it stands in. In
// front of the statements it puts a short answer where the question asks for
// one (a figure, a date, a name, yes or no), which is a part of a statement.
// Whether the evidence bears the answer is judged by how much of what was asked
// about stands together in one place; too little is a refusal.
package answer

import (
	"context"
	"maps"
	"slices"
	"strings"
	"time"

	"jardinet/index"
	"jardinet/modelapi"
	"jardinet/passage"
	"jardinet/rank"
	"jardinet/text"
	"jardinet/wording"
)

// A State tells what came of a question.
type State string

// States of an answer.
const (
	Answered State = "answered"
	Partial  State = "partial" // something asked about is not borne out
	NotFound State = "not_found"
)

// A Document is what an answer needs to know of one.
type Document struct {
	Name   string // file name
	Title  string
	Labels []string // printed page labels
	Added  time.Time
}

// called is what a document may be named by.
func (d *Document) called() string { return d.Title + " " + d.Name }

// A Box is a marked area of a page, in points from its top left.
type Box struct {
	Page int     `json:"page"`
	X0   float32 `json:"x0"`
	Y0   float32 `json:"y0"`
	X1   float32 `json:"x1"`
	Y1   float32 `json:"y1"`
}

// A Citation says where a statement stands.
type Citation struct {
	Number     int      `json:"number"` // from 1, as marked in the text
	DocumentID string   `json:"document_id"`
	Document   string   `json:"document"`
	Title      string   `json:"title"`
	Page       int      `json:"page"` // physical, of the first box
	Label      string   `json:"label"`
	Section    []string `json:"section"`
	Quote      string   `json:"quote"`
	Boxes      []Box    `json:"boxes"`
}

// A Statement is one sentence, list item or table row.
type Statement struct {
	Text      string `json:"text"`
	Citations []int  `json:"citations"`          // numbers
	Unproven  bool   `json:"unproven,omitempty"` // said by an outside model, and not borne out
	// Contrary is where another document, or another edition, says otherwise: its
	// title and date. Empty for what belongs to the answer itself.
	Contrary string `json:"contrary,omitempty"`
}

// A Nearest is a passage shown when nothing answers.
type Nearest struct {
	DocumentID string   `json:"document_id"`
	Document   string   `json:"document"`
	Title      string   `json:"title"`
	Page       int      `json:"page"`
	Label      string   `json:"label"`
	Section    []string `json:"section"`
	Text       string   `json:"text"`
	Sentences  []Line   `json:"sentences"` // the text, sentence by sentence
}

// A Line is a sentence, list item or table row of a passage.
type Line struct {
	Page int    `json:"page"`
	Text string `json:"text"`
}

// Timing is what the stages took, in milliseconds.
type Timing struct {
	Analysis  float64 `json:"analysis"`
	Search    float64 `json:"search"`
	Evidence  float64 `json:"evidence"`
	Composing float64 `json:"composing"`
	Model     float64 `json:"model,omitempty"` // an outside one
	Total     float64 `json:"total"`
}

func (t *Timing) add(o Timing) {
	t.Analysis += o.Analysis
	t.Search += o.Search
	t.Evidence += o.Evidence
	t.Composing += o.Composing
	t.Model += o.Model
	t.Total += o.Total
}

// An Answer is what is given back.
type Answer struct {
	Question   string      `json:"question"`
	Standalone string      `json:"standalone"` // the question as understood in its conversation
	State      State       `json:"state"`
	Short      string      `json:"short"`             // empty where none is asked for or found
	Verdict    string      `json:"verdict,omitempty"` // which of two things it is that were set against each other, or yes or no
	Text       string      `json:"answer"`
	Statements []Statement `json:"statements"`
	Citations  []Citation  `json:"citations"`
	Parts      []Part      `json:"parts,omitempty"` // where several things were asked in one
	Missing    []string    `json:"missing"`         // words asked about that the evidence lacks
	Nearest    []Nearest   `json:"nearest"`
	Confidence float64     `json:"confidence"`      // 0 to 1
	Added      string      `json:"added,omitempty"` // a sentence that the house style adds
	Note       string      `json:"note,omitempty"`  // how the answer was made, where a reader should know
	Trace      *Trace      `json:"trace,omitempty"` // only if it was asked for
	// Conversation is the id under which the question is kept, if it is.
	Conversation string `json:"conversation,omitempty"`
	Timing       Timing `json:"timing_ms"`

	Passages []Candidate    `json:"-"` // by the best evidence in them, then as they were found
	Unknown  []string       `json:"-"` // words asked that no document has
	Signals  Signals        `json:"-"` // that the confidence is made of
	Usage    modelapi.Usage `json:"-"` // of an outside model
	Recalled []Recalled     `json:"-"` // lessons that the question is like, the likest first
	Taught   bool           `json:"-"` // lessons had a say
	Untaught float64        `json:"-"` // the confidence by the documents' own words, where they had
	// Alternatives are what would be said by each piece of evidence, the best
	// first; only if they were asked for.
	Alternatives []Alternative `json:"-"`

	unproven  bool // it follows from something that the documents do not say
	eitherWay bool // the question may be meant by itself or lean on those before it

	from   float64 // confidence from which an answer is given
	stands *Place  // its best evidence; nil for none, and for an answer in parts
}

// A Candidate is a passage that was found for a question.
type Candidate struct {
	DocumentID string
	Ordinal    int // of the passage in it
	Document   Document
	Passage    *passage.Passage
	Score      float64
	Features   rank.Features
}

// An Asker answers questions from one index.
type Asker struct {
	Index *index.Index
	// Document tells of the document under a key of the index; ok is false
	// for one that has just been removed.
	Document func(key string) (d Document, ok bool)
	// Rank finds passages.
	Rank *rank.Ranker
	// Wording reads them.
	Wording *wording.Ranker
	// Style is how answers shall be.
	Style Style
	// Draft is handed what an outside model says, as it comes; nil for nobody.
	Draft func(part string)
	// Only are the documents to look in, by their keys; nil for all.
	Only func(key string) bool
	// Lessons are what the collection has been taught; nil for nothing.
	Lessons *Lessons
	// Trace has answers tell how they came about.
	Trace bool
	// Alternatives has answers tell what else might have been said.
	Alternatives bool
	// before is the last question of a conversation that was answered; nil where there is
	// none.
	before *turn
	// Embed returns a question's vector in the index's space; nil or an error does
	// without.
	Embed func(ctx context.Context, question string, language text.Language) ([]float32, error)
}

// depth is how many passages are looked at for evidence.
const depth = 30

// A Search is what was found for a query, and how.
type Search struct {
	Candidates []Candidate
	Query      index.Query
	Weights    rank.Weights
	asked      *wording.Asked
	question   rank.Question
	weighed    *index.Prepared
	hits       []index.Hit
}

// Find returns the best passages for a query, without answering it. Words in
// quotes have to stand in a passage one after the other, -words must not.
func (a *Asker) Find(ctx context.Context, query string, top int) (*Search, error) {
	q, phrases := a.Index.ParseSearch(query)
	if len(phrases) > 0 {
		q.Verify = func(stored []byte) bool {
			p, err := passage.Decode(stored)
			return err == nil && holdsAll(p, phrases)
		}
	}
	out := &Search{Query: q}
	err := a.ranked(ctx, query, a.language(query), out, top)
	out.Query = out.question.Query // with the glossary's words and their worth
	return out, err
}

// holdsAll tells whether a passage, with its section path, holds all phrases.
func holdsAll(p *passage.Passage, phrases [][]string) bool {
	tokens := text.Tokens(p.SectionPath() + "\n" + p.Text)
	for _, phrase := range phrases {
		if !holds(tokens, phrase) {
			return false
		}
	}
	return true
}

func holds(tokens []text.Token, phrase []string) bool {
	for i := range len(tokens) - len(phrase) + 1 {
		if slices.EqualFunc(tokens[i:i+len(phrase)], phrase, func(t text.Token, w string) bool { return t.Word == w }) {
			return true
		}
	}
	return false
}

// language guesses the language of a question, with the index's for a default.
func (a *Asker) language(question string) text.Language {
	if languages := a.Index.Languages(); len(languages) > 0 {
		return text.Detect(question, languages[0])
	}
	return text.Detect(question, text.English)
}

// search finds the best passages for the query that out holds, and adds to it what
// evidence may say instead of its words.
func (a *Asker) search(ctx context.Context, question string, language text.Language, out *Search, top int) error {
	if err := a.ranked(ctx, question, language, out, top); err != nil {
		return err
	}
	q := &out.Query
	own := len(q.Terms)
	out.asked = a.Wording.Ask(question, language, q, a.Index.Languages())
	weighCarried(q.Terms[:own], q.Terms[own:])
	a.Index.Prepare(q)
	out.weighed = a.Index.Prepare(&out.question.Query)
	out.asked.Ready()
	return nil
}

// ranked finds the best passages for the query that out holds.
func (a *Asker) ranked(ctx context.Context, question string, language text.Language, out *Search, top int) error {
	q := &out.Query
	q.Keep = a.Only
	soften(q, foldedQuestion(question))
	out.Weights = a.Rank.Weights
	a.Index.Correct(q, func(word string) bool { return a.Wording.Model.Find(word, language) >= 0 })
	out.question = rank.Question{Text: question, Language: language, Query: *q}
	out.question.Query.Terms = slices.Clone(q.Terms)
	out.question.Query.Vector = a.vector(ctx, question, language)
	found, err := a.Rank.Search(ctx, a.Index, &out.question, top)
	if err != nil {
		return err
	}
	for _, c := range found {
		out.hits = append(out.hits, c.Hit)
	}
	a.take(out, found, func(i int, _ rank.Candidate) bool { return i < top })
	return nil
}

// take takes those of ranked passages for candidates that are to be kept by their place,
// from 0.
func (a *Asker) take(out *Search, ranked []rank.Candidate, keep func(i int, c rank.Candidate) bool) {
	documents := map[string]Document{}
	ranked = slices.DeleteFunc(ranked, func(c rank.Candidate) bool {
		doc, ok := a.Document(c.Hit.Key)
		documents[c.Hit.Key] = doc
		return !ok
	})
	for i, c := range ranked {
		if keep(i, c) {
			out.Candidates = append(out.Candidates, Candidate{c.Hit.Key, c.Hit.Ordinal, documents[c.Hit.Key], c.Passage, c.Score, c.Features})
		}
	}
}

// vector returns the question's vector in the index's space, nil if there is
// none.
func (a *Asker) vector(ctx context.Context, question string, language text.Language) []float32 {
	if a.Embed == nil {
		return nil
	}
	v, err := a.Embed(ctx, a.Rank.Glossary.Explain(question, language), text.Guess(question, language))
	if err != nil {
		return nil
	}
	return v
}

// blank returns an answer that says nothing yet.
func blank(question string) *Answer {
	return &Answer{
		Question: question, Standalone: question, State: NotFound,
		Statements: []Statement{}, Citations: []Citation{}, Missing: []string{}, Nearest: []Nearest{},
	}
}

// Ask answers a question; after holds the earlier questions of its
// conversation, the oldest first. A question that asks several things is answered
// part by part, unless the documents answer no part by itself.
func (a *Asker) Ask(ctx context.Context, question string, after []string) (*Answer, error) {
	a, err := a.following(ctx, after)
	if err != nil {
		return nil, err
	}
	var out *Answer
	if all := parts(question); all != nil {
		if out, err = a.several(ctx, question, all, after); err != nil {
			return nil, err
		}
		if c := contestOf(unmarked(question)); c != nil {
			c.decide(out)
		}
	}
	if out == nil || out.State == NotFound && !out.unproven {
		whole, err := a.one(ctx, question, after)
		if err != nil {
			return nil, err
		}
		// What a question takes for granted is worth a word even if the rest is not
		// to be found.
		if out == nil || whole.State != NotFound || !slices.ContainsFunc(out.Parts, func(p Part) bool { return p.Premise }) {
			out = whole
		}
	}
	if a.Style.Add != "" && out.State != NotFound {
		out.Added = a.Style.Add
		out.Text += "\n" + a.Style.Add
	}
	return out, nil
}

// byEvidence puts passages into the order of the best evidence in them; those
// without any stay behind, as they were found.
func byEvidence(candidates []Candidate, found []evidence) []Candidate {
	out := make([]Candidate, 0, len(candidates))
	taken := make([]bool, len(candidates))
	for _, e := range found {
		if !taken[e.candidate] {
			taken[e.candidate] = true
			out = append(out, candidates[e.candidate])
		}
	}
	for i, c := range candidates {
		if !taken[i] {
			out = append(out, c)
		}
	}
	return out
}

// one answers a single question; one that can be read in two ways as it is answered the
// surer.
func (a *Asker) one(ctx context.Context, question string, after []string) (*Answer, error) {
	chosen, err := a.reading(ctx, question, after)
	if err != nil {
		return nil, err
	}
	other := question
	if !chosen.eitherWay {
		if other, err = a.spokenOf(ctx, question, after); err != nil {
			return nil, err
		}
	}
	if other == "" {
		return chosen, nil
	}
	second, err := a.reading(ctx, other, nil)
	if err != nil {
		return nil, err
	}
	timing := chosen.Timing
	timing.add(second.Timing)
	if second.better(chosen) {
		chosen = second
		chosen.Question = question
	}
	chosen.Timing = timing
	return chosen, nil
}

// better tells whether an answer is to be preferred to another: a surer one, or one that
// comes to the point where the other does not.
func (out *Answer) better(than *Answer) bool {
	switch {
	case out.State == NotFound || than.State == NotFound:
		return than.State == NotFound && out.State != NotFound
	case (out.Short == "") != (than.Short == ""):
		return out.Short != ""
	}
	return out.Confidence > than.Confidence
}

// reading answers a question, read in one way: by the documents' own words or, where these
// are not enough, by what lessons tell of.
func (a *Asker) reading(ctx context.Context, question string, after []string) (*Answer, error) {
	clock := newClock()
	asked := a.analyse(question, after)
	out := blank(question)
	out.Standalone, out.eitherWay = asked.standalone, asked.eitherWay
	out.Timing.Analysis = clock.lap()
	search := &Search{Query: asked.query}
	if err := a.search(ctx, asked.standalone, asked.language, search, depth); err != nil {
		return nil, err
	}
	asked.query = search.Query
	for _, t := range asked.query.Terms {
		if t.Frequency == 0 && len(t.Expansions) == 0 && t.Weight == 1 && !strings.ContainsAny(t.Word, "0123456789") {
			out.Unknown = append(out.Unknown, t.Word)
		}
	}
	out.Timing.Search = clock.lap()
	m := newMatcher(asked, search.asked)
	if a.before != nil && a.before.said.stands != nil && asked.standalone != question {
		m.thread = a.before.said.stands
		if err := a.bring(search, *m.thread); err != nil {
			return nil, err
		}
	}
	if err := a.bringDefinitions(search, asked, m); err != nil {
		return nil, err
	}
	found := a.settle(out, asked, m, search, clock)
	recalled := a.Lessons.recall(asked, m, a.Only)
	out.Recalled = recalled.likest
	if len(recalled.heeded()) > 0 && (recalled.likest[0].Likely >= decisive || out.State == NotFound || a.Alternatives) {
		var err error
		if found, err = a.heed(out, asked, m, search, recalled, found, clock); err != nil {
			return nil, err
		}
	}
	if a.Trace {
		out.Trace = trace(out, asked, search, recalled, found)
	}
	if a.Style.Model != nil && out.State != NotFound {
		clock.lap()
		a.write(ctx, out, asked, found, search.Candidates)
		out.Timing.Model = clock.lap()
	}
	out.Timing.Total = clock.total()
	return out, nil
}

// heed weighs what was found once more, with what lessons say. An answer from the
// documents' own words gives way only to one that a lesson decides and that is surer.
func (a *Asker) heed(out *Answer, asked *question, m *matcher, search *Search, recalled *recollection, found []evidence, clock *clock) ([]evidence, error) {
	before, searched := *out, *search
	out.Taught, out.Untaught = true, out.Confidence
	if err := a.bring(search, slices.Collect(maps.Keys(recalled.taught))...); err != nil {
		return nil, err
	}
	m.recalled = recalled
	out.Timing.Search += clock.lap()
	again := a.settle(out, asked, m, search, clock)
	if before.State == NotFound || a.Alternatives || out.Signals.Taught >= odds(decisive) && out.Confidence > before.Confidence {
		return again, nil
	}
	before.Timing = out.Timing
	*out, *search, m.recalled = before, searched, nil
	return found, nil
}

// settle weighs what was found and composes the answer from it, in place of an answer
// before.
func (a *Asker) settle(out *Answer, asked *question, m *matcher, search *Search, clock *clock) []evidence {
	out.clear()
	out.from = orElse(a.Style.Certain, m.calibration().From)
	found := gather(asked, m, search.Candidates)
	out.Passages = byEvidence(search.Candidates, found)
	out.Timing.Evidence += clock.lap()
	out.stands = nil
	if len(found) > 0 {
		at := placeOf(&found[0], search.Candidates)
		out.stands = &at
	}
	found = slices.DeleteFunc(found, func(e evidence) bool {
		return a.Style.omits(e.text, search.Candidates[e.candidate].Passage.Section)
	})
	compose(out, asked, m, found, search.Candidates, int(orElse(float64(a.Style.Statements), maxStatements)))
	if a.Alternatives {
		out.Alternatives = alternatives(asked, m, found, search.Candidates)
	}
	out.Timing.Composing += clock.lap()
	return found
}

// clear takes back what an answer says.
func (out *Answer) clear() {
	none := blank(out.Question)
	out.State, out.Short, out.Text, out.Confidence, out.Signals = none.State, "", "", 0, Signals{}
	out.Statements, out.Citations, out.Missing, out.Nearest = none.Statements, none.Citations, none.Missing, none.Nearest
}
