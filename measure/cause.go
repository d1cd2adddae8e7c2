package measure

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"unicode"

	"jardinet/answer"
	"jardinet/index"
	"jardinet/passage"
	"jardinet/text"
)

// A Cause is where on the way from the page to the answer a question was lost.
type Cause string

// Causes, in the order of the way.
const (
	StaleEvidence  Cause = "evidence gone"          // the expected page is not in the collection
	NotRead        Cause = "not read from the page" // its words are not in what was read
	CutApart       Cause = "cut apart"              // they stand in no passage as a whole
	NotRetrieved   Cause = "not retrieved"          // the passage is not among the first hundred
	RankedLow      Cause = "ranked too low"         // it is, but was not read for the answer
	PassedOver     Cause = "evidence passed over"   // it was read, and something else preferred
	WrongSpan      Cause = "wrong span"             // what was shown holds the answer, the short answer does not
	WronglyRefused Cause = "wrongly refused"        // it was the best, and not sure enough
	WrongCitation  Cause = "citation wrong"         // the answer is right, and what is cited does not say it
	OtherEvidence  Cause = "proved elsewhere"       // it is, and a page says it that the set does not name
	ShouldRefuse   Cause = "should have refused"    // the documents do not say
)

// Causes are all of them, in the order of the way.
var Causes = []Cause{StaleEvidence, NotRead, CutApart, NotRetrieved, RankedLow, PassedOver, WrongSpan, WronglyRefused, WrongCitation, OtherEvidence, ShouldRefuse}

// ErrNoPage says that a collection does not have a page.
var ErrNoPage = errors.New("there is no such page")

// A Reader returns what was read from a page of a document, or ErrNoPage.
type Reader func(ctx context.Context, document string, page int) (string, error)

// farDown is how far down in what retrieval finds the evidence is looked for.
const farDown = 100

// A diagnosis goes down the way of one question with the evidence that was expected.
type diagnosis struct {
	answerer *answer.Answerer
	read     Reader
	keys     map[string]string // of documents in the index, by name
	q        *Question
	given    *answer.Answer
	found    []answer.Candidate // the first hundred; nil before they are needed
}

// cause returns why a question came out wrong; empty for one that did not, or where the set
// does not tell enough.
func (d *diagnosis) cause(ctx context.Context, r *Record) (Cause, error) {
	switch {
	case r.Outcome == Invented:
		return ShouldRefuse, nil
	case r.Succeeded() || r.Outcome == Unjudged || len(d.q.Evidence) == 0 && r.Outcome != Refused:
		return "", nil
	case r.Outcome == Right && slices.ContainsFunc(r.Citations, func(c answer.Citation) bool { return d.q.Accepts(c.Quote) }):
		return OtherEvidence, nil
	case r.Outcome == Right:
		return WrongCitation, nil
	case len(d.q.Evidence) == 0:
		return WronglyRefused, nil
	}
	// Of several places that prove it, the one that came furthest tells; of several that are
	// needed together, the one that came least far.
	furthest := -1
	for _, e := range d.q.Evidence {
		least := len(Causes)
		for _, p := range e.pages() {
			c, err := d.of(ctx, p)
			if err != nil {
				return "", err
			}
			least = min(least, slices.Index(Causes, c))
		}
		furthest = max(furthest, least)
	}
	return Causes[furthest], nil
}

// of returns how far one place of the evidence came.
func (d *diagnosis) of(ctx context.Context, place Evidence) (Cause, error) {
	page, err := d.read(ctx, place.Document, place.Page)
	if errors.Is(err, ErrNoPage) || err == nil && d.keys[place.Document] == "" {
		return StaleEvidence, nil
	}
	if err != nil {
		return "", err
	}
	if letters(page) == "" || place.Quote != "" && !d.bears(page, place) {
		return NotRead, nil
	}
	bearing, err := d.passages(place)
	if err != nil {
		return "", err
	}
	if len(bearing) == 0 {
		return CutApart, nil
	}
	is := func(c answer.Candidate) bool { return c.DocumentID == d.keys[place.Document] && bearing[c.Ordinal] }
	if !slices.ContainsFunc(d.given.Passages, is) {
		return d.below(ctx, is)
	}
	switch {
	case d.given.State == answer.NotFound && is(d.given.Passages[0]):
		return WronglyRefused, nil
	case d.given.State != answer.NotFound && d.shows():
		return WrongSpan, nil
	}
	return PassedOver, nil
}

// below tells whether what was not read is among the first hundred passages.
func (d *diagnosis) below(ctx context.Context, is func(answer.Candidate) bool) (Cause, error) {
	if d.found == nil {
		search, err := d.answerer.Retrieve(ctx, d.given.Standalone, farDown)
		if err != nil {
			return "", fmt.Errorf("measure: look for the evidence of %s: %w", d.q.ID, err)
		}
		d.found = search.Candidates
	}
	if slices.ContainsFunc(d.found, is) {
		return RankedLow, nil
	}
	return NotRetrieved, nil
}

// passages returns the ordinals of the passages that hold a place's words; of all that stand on its
// page where the set does not quote it.
func (d *diagnosis) passages(place Evidence) (map[int]bool, error) {
	out := map[int]bool{}
	err := d.answerer.Index.Document(d.keys[place.Document], func(ordinal int, stored []byte) error {
		p, err := passage.Decode(stored)
		if err != nil {
			return err
		}
		if slices.Contains(p.Pages(), place.Page) && (place.Quote == "" || d.bears(p.Text, place)) {
			out[ordinal] = true
		}
		return nil
	})
	return out, err
}

// bears tells whether a text holds what is quoted of a place, or an accepted answer. White
// space and punctuation do not count, since a table's cells are joined in more ways than one.
func (d *diagnosis) bears(s string, place Evidence) bool {
	return Bears(s, place.Quote) || d.q.Accepts(s)
}

// shows tells whether the statements of the answer hold an accepted wording, though the short
// answer does not.
func (d *diagnosis) shows() bool {
	var shown strings.Builder
	for _, s := range d.given.Statements {
		if s.Contrary == "" {
			shown.WriteString(s.Text + "\n")
		}
	}
	return d.q.Accepts(shown.String())
}

// letters are the letters and digits of a text, in one form.
func letters(s string) string {
	return strings.Map(func(r rune) rune {
		if unicode.IsLetter(r) || unicode.IsDigit(r) {
			return r
		}
		return -1
	}, text.Normal(s))
}

// keysOf returns the keys of an index's documents, by their names.
func keysOf(x index.Searcher, called func(key string) (answer.Document, bool)) map[string]string {
	out := map[string]string{}
	for _, key := range x.Keys() {
		if d, ok := called(key); ok {
			out[d.Name] = key
		}
	}
	return out
}

// Bears tells whether a page's text holds a quotation, whatever its white space and punctuation.
func Bears(page, quote string) bool { return strings.Contains(letters(page), letters(quote)) }
