package answer

import (
	"cmp"
	"context"
	"maps"
	"math"
	"slices"
	"strings"

	"jardinet/encoder"
	"jardinet/layout"
	"jardinet/passage"
	"jardinet/reader"
	"jardinet/text"
)

// A finding is a run of sentences of a passage that may answer.
type finding struct {
	candidate   int // in the order of retrieval
	first, best int // sentences: where the run begins, and which proves
	last        int
	reading     reader.Reading
	from, to    int     // bytes of the passage's text that answer; equal for none
	sure        float64 // probability of these among all spans
	missing     float64 // share of the question's numbers that stand nowhere near
	older       bool    // stands in an edition that a newer one replaces
	taught      bool    // somebody has shown this place
	likeness    float64 // cosine of the question and the run; of the best finding alone
	score       float64
}

// depth is how many passages are read for a question unless the style says otherwise.
const depth = 12

// What is added to a reader's relevance, a logit: for the first of the passages found, as
// much less for the others as their scores are lower; for numbers that are missing; for an
// older edition; for what was shown.
const (
	forRetrieval = 2
	forNumbers   = -3
	forOlder     = -3
	forTaught    = 100
)

// read reads the passages found for a question and returns the best run of sentences of
// each, the best first. What was added to an earlier question is asked of its sentences
// first of all; it is empty for a question by itself.
func (a *Answerer) read(ctx context.Context, question, added string, s *Search, taught []Place) ([]finding, error) {
	readings, err := readingsOf(ctx, a.Rank.Glossary.Explain(question, s.Language), s, a.Again)
	if err != nil {
		return nil, err
	}
	older := superseded(question, s.Candidates)
	numbers := numbersIn(question)
	out := make([]finding, len(readings))
	for i, r := range readings {
		c := &s.Candidates[i]
		r.Evidence = telling(question, added, c.Passage, r.Evidence)
		f := finding{candidate: i, reading: r, older: older[c.DocumentID], missing: lacking(numbers, c)}
		f.best = mostLikely(r.Evidence)
		for _, t := range taught {
			if t.Key == c.DocumentID && t.Ordinal == c.Ordinal {
				f.best, f.taught = t.Sentence, true
			}
		}
		if f.first, f.last = f.best, f.best; !f.taught {
			f.first, f.last = run(c.Passage, r.Evidence, f.best)
		}
		f.from, f.to, f.sure = r.Span(c.Passage, f.best, f.best)
		f.score = r.Relevance + forRetrieval*standing(s.Candidates, i) + forNumbers*f.missing
		if f.older {
			f.score += forOlder
		}
		if f.taught {
			f.score += forTaught
		}
		out[i] = f
	}
	slices.SortStableFunc(out, func(x, y finding) int { return cmp.Compare(y.score, x.score) })
	return out, a.liken(ctx, question, s, out)
}

// liken fills in how near the best finding's run is to the question.
func (a *Answerer) liken(ctx context.Context, question string, s *Search, found []finding) error {
	if len(found) == 0 {
		return nil
	}
	p := s.Candidates[found[0].candidate].Passage
	asked, err := meanings(ctx, encoder.Query, s.Language, []string{question})
	if err != nil {
		return err
	}
	run, err := meanings(ctx, encoder.Passage, p.Language, []string{said(p, &found[0])})
	if err != nil {
		return err
	}
	found[0].likeness = encoder.Cosine(asked[0], run[0])
	return nil
}

// readingsOf reads English passages with the trained reader, and others by the vectors of
// their sentences.
func readingsOf(ctx context.Context, question string, s *Search, again bool) ([]reader.Reading, error) {
	out := make([]reader.Reading, len(s.Candidates))
	var texts []reader.Text
	var places []int
	for i, c := range s.Candidates {
		if s.Language == text.English && c.Passage.Language == text.English {
			texts, places = append(texts, reader.Text{Heading: heading(&c), Passage: c.Passage}), append(places, i)
		}
	}
	english := reader.English()
	if again {
		english = english.Anew()
	}
	if len(texts) > 0 {
		read, err := english.Read(ctx, question, texts)
		if err != nil {
			return nil, err
		}
		for k, i := range places {
			out[i] = read[k]
		}
	}
	if len(texts) == len(out) {
		return out, nil
	}
	asked, err := meanings(ctx, encoder.Query, s.Language, []string{question})
	if err != nil {
		return nil, err
	}
	for i, c := range s.Candidates {
		if out[i].Evidence != nil {
			continue
		}
		if out[i], err = byMeaning(ctx, asked[0], c.Passage); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// heading is what a passage is read under: its document's title and its headings.
func heading(c *Candidate) string {
	if c.Document.Title == "" {
		return c.Passage.SectionPath()
	}
	return c.Document.Title + " › " + c.Passage.SectionPath()
}

// Where a cosine stands for an even chance, and how much a tenth more of it is in logits;
// and how much evidence a sentence has to another by its cosine.
const (
	evenCosine = 0.55
	bySimilar  = 12
	bySentence = 15
)

// byMeaning reads a passage by how near its sentences are to a question's vector.
func byMeaning(ctx context.Context, question []float32, p *passage.Passage) (reader.Reading, error) {
	sentences := make([]string, len(p.Sentences))
	for i, s := range p.Sentences {
		sentences[i] = p.Text[s.Start:s.End]
	}
	vectors, err := meanings(ctx, encoder.Passage, p.Language, sentences)
	if err != nil {
		return reader.Reading{}, err
	}
	out := reader.Reading{Evidence: make([]float64, len(vectors)), Polarity: [3]float64{1}, Shape: [3]float64{0, 1}}
	most, total := -1.0, 0.0
	for i, v := range vectors {
		c := encoder.Cosine(question, v)
		most = max(most, c)
		out.Evidence[i] = math.Exp(bySentence * c)
		total += out.Evidence[i]
	}
	for i := range out.Evidence {
		out.Evidence[i] /= total
	}
	out.Relevance = bySimilar * (most - evenCosine)
	return out, nil
}

// What is left of the evidence of a sentence that tells nothing, and of one that has no word
// of what was added to an earlier question.
const (
	hardly  = 0.02
	besides = 0.02
)

// telling returns the evidence of a passage's sentences with little left for those that tell
// nothing: a question does not answer one, nor does what only says its words again. After
// "How cold is the Dew House?", "And the Palm House?" is asked of what has its new word.
func telling(question, added string, p *passage.Passage, evidence []float64) []float64 {
	stemmer := text.NewStemmer(p.Language)
	stemsOf := func(s string) map[string]bool { return setOf(stemmer.Content(s)) }
	asked, fresh := stemsOf(question), stemsOf(added)
	if earlier := stemsOf(strings.TrimSuffix(question, added)); !within(fresh, earlier) {
		maps.DeleteFunc(fresh, func(w string, _ bool) bool { return earlier[w] })
	}
	out, total := slices.Clone(evidence), 0.0
	for i := range out {
		s := sentence(p, i)
		stems := stemsOf(s)
		if strings.HasSuffix(s, "?") || within(stems, asked) {
			out[i] *= hardly
		}
		if len(fresh) > 0 {
			out[i] *= besides + (1-besides)*shared(fresh, stems)
		}
		total += out[i]
	}
	for i := range out {
		out[i] /= max(total, math.SmallestNonzeroFloat64)
	}
	return out
}

func setOf(words []string) map[string]bool {
	out := map[string]bool{}
	for _, w := range words {
		out[w] = true
	}
	return out
}

// forms returns a text's words and their stems.
func forms(s string, stemmer *text.Stemmer) map[string]bool {
	out := map[string]bool{}
	for _, t := range text.Tokens(s) {
		out[t.Word], out[stemmer.Stem(t.Word)] = true, true
	}
	return out
}

func within(words, others map[string]bool) bool {
	for w := range words {
		if !others[w] {
			return false
		}
	}
	return true
}

func mostLikely(p []float64) int {
	best := 0
	for i, v := range p {
		if v > p[best] {
			best = i
		}
	}
	return best
}

// standing is where a candidate's score lies between the last one's, 0, and the first
// one's, 1.
func standing(all []Candidate, i int) float64 {
	first, last := all[0].Score, all[len(all)-1].Score
	if first == last {
		return 1
	}
	return (all[i].Score - last) / (first - last)
}

// A sentence goes with the one that proves if it is likely evidence too, or if what is said
// has too few words to be understood alone, and if both fit into a short answer. A row of a
// table or an item of a list stands alone unless the next is as likely evidence.
const (
	alongside  = 0.01
	leastAlone = 7
	besideRow  = 0.15
)

// run returns the first and the last sentence of what is said around the one that proves.
func run(p *passage.Passage, evidence []float64, best int) (first, last int) {
	first, last = best, best
	words := func(first, last int) int {
		return countWords(p.Text[p.Sentences[first].Start:p.Sentences[last].End])
	}
	goes := func(i int) bool {
		return evidence[i] >= besideRow || !standsAlone(p, i) && !standsAlone(p, best)
	}
	for {
		before, after := 0.0, 0.0
		if first > 0 && words(first-1, last) <= MostHeadline && goes(first-1) {
			before = evidence[first-1]
		}
		if last+1 < len(evidence) && words(first, last+1) <= MostHeadline && goes(last+1) {
			after = evidence[last+1]
		}
		switch {
		case max(before, after) == 0 || max(before, after) < alongside && words(first, last) >= leastAlone:
			return first, last
		case before > after:
			first--
		default:
			last++
		}
	}
}

func standsAlone(p *passage.Passage, i int) bool {
	kind := p.Sentences[i].Kind
	return kind == layout.Table || kind == layout.ListItem
}

func countWords(s string) int { return len(strings.Fields(s)) }

// numbersIn returns the numbers of a question, and what holds digits else: "2024", "E2".
func numbersIn(question string) []string {
	var out []string
	for _, t := range text.Tokens(question) {
		if strings.ContainsAny(t.Word, "0123456789") && !slices.Contains(out, t.Word) {
			out = append(out, t.Word)
		}
	}
	return out
}

// lacking is the share of some numbers that stand neither in a passage nor in what it is
// found under: what is said of train 11 does not answer what was asked of train 13.
func lacking(numbers []string, c *Candidate) float64 {
	if len(numbers) == 0 {
		return 0
	}
	there := wordSet(c.Document.Title + "\n" + c.Document.Name + "\n" + c.Passage.SectionPath() + "\n" + c.Passage.Text)
	missing := 0.0
	for _, n := range numbers {
		if !there[n] {
			missing++
		}
	}
	return missing / float64(len(numbers))
}

func wordSet(s string) map[string]bool {
	out := map[string]bool{}
	for _, t := range text.Tokens(s) {
		out[t.Word] = true
	}
	return out
}
